"""Makes quantiles.json: percentiles as numpy gives them (method "linear", Hyndman and Fan type 7). Run once; committed."""
import json
import numpy as np

random = np.random.default_rng(7)
cases = []
for n in (1, 2, 3, 10, 101):
    values = np.sort(random.normal(size=n))
    cases.append({"values": values.tolist(), "quantiles": [[p, float(np.quantile(values, p))] for p in (0, 0.025, 0.25, 0.5, 0.9, 0.975, 1)]})
json.dump({"made_by": f"numpy {np.__version__}, make_quantiles.py", "cases": cases}, open("quantiles.json", "w"))
