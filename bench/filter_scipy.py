"""A low pass of order 4 over a record in SciPy, as a practised user writes it: the twin of fulvex-bench-filter.

Prints the seconds it took, from memory to memory, the best of three, and the result's rms.
usage: filter_scipy.py CHANNEL.npy
"""
import sys
import time

import numpy as np
from scipy import signal

values = np.load(sys.argv[1])
best = 1e9
for run in range(3):
    start = time.perf_counter()
    sections = signal.butter(4, 2 * 0.02, output="sos")
    settled = signal.sosfilt_zi(sections) * values[0]
    passed, _ = signal.sosfilt(sections, values, zi=settled)
    best = min(best, time.perf_counter() - start)
print(f"{best:.4f} {np.sqrt(np.mean(passed * passed)):.9g}")
