"""The twenty usual quantities of one channel in NumPy, as a practised user writes them: the twin of fulvex-bench-rows.

Whole arrays at a time; passages by the windowed sinc, as few samples an edge need it. Prints the seconds it took, edges, mean period and mean rise time.
usage: rows_numpy.py CHANNEL.npy SCALE INTERVAL
"""
import sys
import time

import numpy as np

from sinc_numpy import refine


def crossings(v, level, hysteresis):
    """Indices before the last passage of the level within each hysteretic crossing; whether it rises."""
    state = np.zeros(len(v), np.int8)
    state[v >= level + hysteresis / 2] = 1
    state[v <= level - hysteresis / 2] = -1
    at = np.flatnonzero(state)
    kinds = state[at]
    turn = np.flatnonzero(kinds[1:] != kinds[:-1])
    start, stop, rising = at[turn], at[turn + 1], kinds[turn + 1] > 0
    left = stop - 1
    for _ in range(64):  # back to the passage itself
        above = v[left] >= level
        wrong = (above == rising) & (left > start)
        if not wrong.any():
            break
        left[wrong] -= 1
    return left, rising


def instants(v, left, level):
    fine = refine(v, left, level)
    a, b = v[left], v[left + 1]
    return left + np.where(np.isnan(fine), (level - a) / (b - a), fine)


def passages(v, mid_left, rising, first, other):
    """Of the level before, backwards, and of the one behind, forwards."""
    i = mid_left.copy()
    sign = np.where(rising, 1.0, -1.0)
    level = np.where(rising, first, other)
    for _ in range(64):
        more = (sign * (v[i] - level) > 0) & (i > 0)
        if not more.any():
            break
        i[more] -= 1
    start = instants(v, np.minimum(i, len(v) - 2), level)
    i = np.minimum(mid_left + 1, len(v) - 1)
    level = np.where(rising, other, first)
    for _ in range(64):
        more = (sign * (v[i] - level) < 0) & (i < len(v) - 1)
        if not more.any():
            break
        i[more] += 1
    stop = instants(v, np.maximum(i - 1, 0), level)
    return start, stop


def states(v):
    counts, bounds = np.histogram(v, 1024)
    centres = (bounds[1:] + bounds[:-1]) / 2
    half = len(counts) // 2
    low, high = np.argmax(counts[:half]), half + np.argmax(counts[half:])

    def around(k):
        near = slice(max(0, k - 8), k + 9)
        return np.average(centres[near], weights=counts[near])

    return around(low), around(high)


def told(values):
    return [values.size, values.mean(), values.std(ddof=1), values.min(), values.max()]


def main():
    path, scale, interval = sys.argv[1], float(sys.argv[2]), float(sys.argv[3])
    begun = time.perf_counter()
    v = np.load(path, mmap_mode="r").reshape(-1) * scale
    rows = {"maximum": v.max(), "minimum": v.min(), "mean": v.mean(), "rms": np.sqrt(np.mean(v * v)), "ac_rms": v.std()}
    rows["peak_to_peak"] = rows["maximum"] - rows["minimum"]
    low, high = states(v)
    swing = high - low
    rows.update(low=low, high=high, amplitude=swing)
    mid = low + swing / 2
    left, rising = crossings(v, mid, 0.1 * swing)
    t = instants(v, left, mid)
    rows["edge_count"] = t.size
    first = int(np.argmax(rising))
    up, down = t[first::2], t[first + 1::2]
    n = min(up.size - 1, down.size)
    period = (up[1:] - up[:-1]) * interval
    rows["period"] = told(period)
    rows["frequency"] = told(1 / period)
    positive = (down[:n] - up[:n]) * interval
    rows["positive_width"] = told(positive)
    rows["negative_width"] = told((up[1:n + 1] - down[:n]) * interval)
    rows["duty_cycle"] = told(100 * positive / period[:n])
    start, stop = passages(v, left, rising, low + 0.1 * swing, low + 0.9 * swing)
    lasts = (stop - start) * interval
    rows["rise_time"] = told(lasts[rising])
    rows["fall_time"] = told(lasts[~rising])
    rows["slew_rate_rising"] = told(0.8 * swing / lasts[rising])
    rows["slew_rate_falling"] = told(-0.8 * swing / lasts[~rising])
    middle = ((t[1:] + t[:-1]) / 2).astype(np.int64)  # overshoot: from the end of a rise to half-way to the next edge
    ups = np.flatnonzero(rising[:-1])
    bounds = np.stack([np.ceil(stop[ups]).astype(np.int64), np.maximum(middle[ups], np.ceil(stop[ups]).astype(np.int64)) + 1], 1)
    tops = np.maximum.reduceat(v, np.minimum(bounds.reshape(-1), v.size - 1))[::2]
    rows["overshoot_rising"] = told(100 * (tops - high) / swing)
    seconds = time.perf_counter() - begun
    print(f"{seconds:.4f} {t.size} {period.mean():.9g} {lasts[rising].mean():.6g}")


main()
