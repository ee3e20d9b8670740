"""The headline pipeline in NumPy, vectorised as one would write it: the twin of link_pipeline_bench.cpp.

link_pipeline_numpy.py FILE [linear|instants]: prints "seconds samples edges rms counted".
"""
import sys
import time

import numpy as np

from sinc_numpy import refine


def edges_with_hysteresis(v, level, band):
    """Sample positions of crossings, the last passage of the level before each confirmed change of state."""
    state = np.zeros(len(v), np.int8)
    state[v >= level + band / 2] = 1
    state[v <= level - band / 2] = -1
    known = np.flatnonzero(state)
    turns = known[1:][np.diff(state[known]) != 0]          # samples that confirm a change
    above = v >= level
    passages = np.flatnonzero(above[1:] != above[:-1])      # between i and i + 1
    last = passages[np.searchsorted(passages, turns, side="left") - 1]
    return last, (level - v[last]) / (v[last + 1] - v[last])


def loop_of_order_two(late, bandwidth, rate, damping=0.7071):
    """What the loop follows of the phase on the unit interval grid: the bilinear H by way of the FFT."""
    w = np.tan(np.pi * bandwidth / rate) * 2
    a = 1 + 2 * damping**2
    wn = w / np.sqrt(a + np.sqrt(a * a + 1))
    z = np.exp(2j * np.pi * np.fft.rfftfreq(len(late)))
    s = 2 * (z - 1) / (z + 1 + 1e-30)
    h = (2 * damping * wn * s + wn**2) / (s**2 + 2 * damping * wn * s + wn**2)
    return np.fft.irfft(np.fft.rfft(late) * h, len(late))


def pipeline(p, n, sinc):
    v = (p.astype(np.float64) - n) * 2e-5
    left, share = edges_with_hysteresis(v, 0.0, 0.048)
    if sinc:
        fine = refine(v, left, 0.0)
        share = np.where(np.isnan(fine), share, fine)
    t = left + share
    numbers = np.concatenate(([0], np.cumsum(np.maximum(0, np.rint(np.diff(t) / 4.0)).astype(np.int64))))
    period, offset = np.polyfit(numbers, t, 1)
    late = (t - offset) / period - numbers
    grid = np.interp(np.arange(numbers[-1] + 1), numbers, late)
    followed = loop_of_order_two(grid, 1.5e6, 1 / (period * 1e-10))
    error = late - followed[numbers]
    clock = offset + (np.arange(len(followed)) + followed) * period
    settled = int(3 / 1.5e6 / 1e-10 / period)
    ui = np.interp(np.arange(len(v)), clock, np.arange(len(clock)))
    used = (ui >= settled) & (ui < len(clock) - 1)
    column = ((ui[used] % 1) * 256).astype(np.int64)
    row = np.clip((v[used] + 0.36) * (256 / 0.72), 0, 255).astype(np.int64)
    counts = np.bincount(row * 256 + column, minlength=65536)
    kept = numbers >= settled
    return len(t), np.sqrt(np.mean(error[kept] ** 2)), counts.sum()


file, sinc = sys.argv[1], len(sys.argv) > 2 and sys.argv[2] == "instants"
p, n = np.load(file + "-p.npy", mmap_mode="r"), np.load(file + "-n.npy", mmap_mode="r")
start = time.perf_counter()
edges, rms, counted = pipeline(p, n, sinc)
print(f"{time.perf_counter() - start:.4f} {len(p)} {edges} {rms:.6f} {counted}")
