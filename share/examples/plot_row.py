#!/usr/bin/env python3
"""Plots a row of a Fulvex run: its values over time with the limits, and their histogram.

    fulvex-batch run PROJECT --out report --populations populations
    plot_row.py report/results.json populations ROW picture.png

Needs python3-numpy and python3-matplotlib. Exit status: 0 the row passes or carries no limit, 1 it fails, 2 it was not
measured.
"""
import json
import sys

import matplotlib

matplotlib.use("Agg")  # no display
import matplotlib.pyplot as plt
import numpy as np

PREFIXES = {-12: "p", -9: "n", -6: "µ", -3: "m", 0: "", 3: "k", 6: "M", 9: "G"}


def scaled(unit, values):
    """A factor and a unit with its SI prefix that put the values between 1 and 1000."""
    largest = np.max(np.abs(values), initial=0)
    if unit in ("", "%", "dB", "UI", "deg") or largest == 0:
        return 1.0, unit
    power = int(np.clip(3 * np.floor(np.log10(largest) / 3), -12, 9))
    return 10.0**-power, PREFIXES[power] + unit


def main(results_file, populations, row_id, picture):
    with open(results_file, encoding="utf-8") as file:
        results = json.load(file)
    rows = {row["id"]: row for row in results["measurements"]}
    if row_id not in rows:
        sys.exit(f"no row is called {row_id}; there are: {', '.join(sorted(rows))}")
    row = rows[row_id]
    if row["status"] != "ok":
        print(f"{row_id}: {row['reason']}")
        return 2
    # One line an occurrence: when, in seconds, and its value in the row's unit.
    time, value = np.load(f"{populations}/{row_id}.npy").T
    time = np.nan_to_num(time)  # a number of the whole record has none
    entry = next(m for m in results["document"]["measurements"] if m["id"] == row_id)
    limit = entry.get("limit", {})
    factor, unit = scaled(row["unit"], value)
    time_factor, time_unit = scaled("s", time)

    figure, (trend, bars) = plt.subplots(
        1, 2, width_ratios=(3, 1), sharey=True, figsize=(10, 4), layout="constrained"
    )
    trend.plot(time * time_factor, value * factor, ".", ms=2, color="#3A5F8A")
    trend.set_xlabel(f"time, {time_unit}")
    trend.set_ylabel(f"{row['quantity'].replace('_', ' ')}, {unit}")
    # The same bars as in the program: from, to, count. A row that is a single number has none.
    try:
        low, high, count = np.load(f"{populations}/{row_id}.histogram.npy").T
        bars.barh(low * factor, count, (high - low) * factor, align="edge", color="#3A5F8A")
    except FileNotFoundError:
        pass
    bars.set_xlabel("count")
    for bound in (limit.get("min"), limit.get("max")):
        if bound is not None:
            trend.axhline(bound * factor, color="#A8452F", ls="--")
    said = {"none": "no limit"}.get(row["verdict"], row["verdict"])
    figure.suptitle(f"{row_id}: {row['mean'] * factor:.5g} {unit}, {said}")
    figure.savefig(picture, dpi=110)
    print(f"{row_id}: mean {row['mean']:.6g} {row['unit']}, {row['count']} values, {said}")
    return 1 if row["verdict"] == "fail" else 0


if __name__ == "__main__":
    if len(sys.argv) != 5:
        sys.exit(__doc__)
    sys.exit(main(*sys.argv[1:]))
