"""Percentile bootstrap of a ratio of sums by scipy, for bootstrapRatio; the pairs are invented."""
import json
import numpy as np
from scipy.stats import bootstrap

random = np.random.default_rng(11)
charge = np.round(random.uniform(2000, 9000, 90), 1)
discharge = np.round(charge * random.normal(0.86, 0.03, 90), 1)
result = bootstrap(
    (discharge, charge),
    lambda a, b, axis: a.sum(axis=axis) / b.sum(axis=axis),
    paired=True,
    vectorized=True,
    n_resamples=200_000,
    batch=2_000,
    method="percentile",
    confidence_level=0.95,
    random_state=np.random.default_rng(12),
)
json.dump(
    {
        "discharge": discharge.tolist(),
        "charge": charge.tolist(),
        "low": float(result.confidence_interval.low),
        "high": float(result.confidence_interval.high),
    },
    open("bootstrap_ratio.json", "w"),
)
