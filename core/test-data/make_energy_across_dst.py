"""Makes energy_across_dst.json: expected daily energies of a power series across a change of clocks.

Run once with Debian's python3-pandas 1.5.3 and python3-scipy; the result is committed. The series are seeded and invented;
what the test takes from here is pandas' grouping by local calendar day and scipy's integration.
"""
import json
import numpy as np
import pandas as pd
from scipy import integrate

random = np.random.default_rng(20261124)
cases = []
for zone, start, days in (
    ("Pacific/Auckland", "2024-04-05", 4),
    ("Pacific/Auckland", "2024-09-27", 4),
    ("Europe/Lisbon", "2024-03-30", 3),
    ("Australia/Lord_Howe", "2024-04-06", 3),
    ("America/New_York", "2024-11-02", 3),
):
    begin = pd.Timestamp(start, tz=zone)
    end = begin + pd.DateOffset(days=days)
    times = pd.date_range(begin.tz_convert("UTC"), end.tz_convert("UTC"), freq="30min", inclusive="left")
    watts = pd.Series(np.round(random.uniform(0, 5000, len(times)), 1), index=times)
    local = watts.tz_convert(zone)
    energy = (local * 0.5 / 1000).groupby(local.index.date).sum()
    hours = local.groupby(local.index.date).size() * 0.5
    # Mean powers held over their interval: scipy integrates the staircase they make.
    edges = np.arange(len(watts) + 1) * 0.5
    stairs_x = np.repeat(edges, 2)[1:-1]
    stairs_y = np.repeat(watts.to_numpy(), 2)
    cases.append({
        "zone": zone,
        "start": times[0].isoformat(),
        "stepSeconds": 1800,
        "watts": watts.tolist(),
        "days": [{"date": str(d), "hours": float(hours[d]), "kWh": float(energy[d])} for d in energy.index],
        "totalKWh": float(integrate.trapezoid(stairs_y, stairs_x) / 1000),
    })
json.dump({"made_by": f"pandas {pd.__version__}, make_energy_across_dst.py", "cases": cases}, open("energy_across_dst.json", "w"))
