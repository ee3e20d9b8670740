# text_numpy.py FILE: reads the table of fulvex-bench-text by numpy.loadtxt; prints seconds, bytes, and the same sum over bits.
import os
import sys
import time

import numpy

start = time.perf_counter()
table = numpy.loadtxt(sys.argv[1], delimiter=",", skiprows=1)
seconds = time.perf_counter() - start
bits = table[:, 1:].copy().view(numpy.uint64)
print(f"{seconds:.4f} {os.path.getsize(sys.argv[1])} {int(bits.sum(dtype=numpy.uint64))}")
