"""A recursive low pass, a FIR, a formula and a spectrum over a record in SciPy, as a practised user writes them: the twin of
fulvex-bench-filter, whose taps it takes.

Prints a line each: the seconds it took, from memory to memory, the best of three, and the result's rms.
usage: filter_scipy.py CHANNEL.npy
"""
import sys
import time

import numpy as np
from scipy import signal

values = np.load(sys.argv[1])
taps = np.load(sys.argv[1] + ".taps")


def recursive():
    sections = signal.butter(4, 2 * 0.02, output="sos")
    settled = signal.sosfilt_zi(sections) * values[0]
    return signal.sosfilt(sections, values, zi=settled)[0]


def fir():
    return signal.oaconvolve(values, taps)[: len(values)]


def each():
    return np.where(values > 0, np.sqrt(np.abs(values)), 2 * values - values * values)


for made in (recursive, fir, each):
    best = 1e9
    for run in range(3):
        start = time.perf_counter()
        result = made()
        best = min(best, time.perf_counter() - start)
    print(f"{best:.4f} {np.sqrt(np.mean(result * result)):.9g}")

best = 1e9
for run in range(3):
    start = time.perf_counter()
    frequencies, density = signal.welch(values, window="hann", nperseg=16384, noverlap=8192, detrend=False)
    best = min(best, time.perf_counter() - start)
print(f"{best:.4f} {np.sqrt(np.sum(density) * frequencies[1]):.9g}")
