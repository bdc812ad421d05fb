"""Theil-Sen slopes, Kendall's S and p by scipy, for theilSen and mannKendall; the points are invented."""
import json
import numpy as np
from scipy.stats import kendalltau, theilslopes

random = np.random.default_rng(5)
cases = []
for n, digits, trend in [(9, 3, 0.2), (30, 3, 0.0), (36, 3, -0.02), (60, 0, 0.3), (120, 1, -0.05), (200, 3, 0.0)]:
    x = np.arange(n, dtype=float)
    y = np.round(100 + trend * x + random.normal(0, 3, n), digits)
    fit = theilslopes(y, x)
    tied = len(set(y)) < n
    # The exact p where our own is counted out; "asymptotic" has no correction for continuity, so it is left out.
    exact = float(kendalltau(x, y, method="exact").pvalue) if not tied and n <= 40 else None
    s = int(sum(np.sign(y[j] - y[i]) for i in range(n) for j in range(i + 1, n)))
    cases.append({"x": x.tolist(), "y": y.tolist(), "slope": float(fit.slope), "low": float(fit.low_slope),
                  "high": float(fit.high_slope), "s": s, "exact": exact})
json.dump(cases, open("theil_sen.json", "w"))
