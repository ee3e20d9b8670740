"""The make-up of jitter in NumPy, as a practised user writes it: the twin of fulvex-bench-jitter.

Whole arrays at a time: the pattern's length from the autocorrelation of where edges are, means at its places, lines from
one spectrum of the whole record, each fitted by least squares of a sine; twice, as each hides the other; total by
convolution. Prints seconds, random, periodic, the pattern's extent and total in ps.
usage: jitter_numpy.py FILE
"""
import os
import sys
import time

import numpy as np

UNIT = 1e-9


def pattern_length(places, most=1 << 17):
    here = np.zeros(2 * most)
    first = places[places < most]
    here[first] = 1
    here[:most] -= here[:most].mean()
    power = np.abs(np.fft.rfft(here)) ** 2
    alike = np.fft.irfft(power)[: most // 2] / np.arange(most, most // 2, -1)
    return int(np.flatnonzero(alike[2:] > 0.99 * alike[0])[0]) + 2


def fit(places, rest, cycles):
    """Amplitude and frequency by Gauss and Newton about a start."""
    middle = places[-1] / 2
    for _ in range(3):
        angle = 2 * np.pi * cycles * (places - middle)
        c, s = np.cos(angle), np.sin(angle)
        amplitudes = np.linalg.lstsq(np.stack([[c @ c, c @ s], [c @ s, s @ s]]), np.array([c @ rest, s @ rest]), rcond=None)[0]
        slope = 2 * np.pi * (places - middle) * (amplitudes[1] * c - amplitudes[0] * s)
        off = rest - amplitudes[0] * c - amplitudes[1] * s
        cycles += (slope @ off) / (slope @ slope)
    return amplitudes[0] * c + amplitudes[1] * s, np.hypot(*amplitudes), cycles


def lines_of(places, rest):
    grid = np.zeros(places[-1] + 1)
    grid[places] = rest
    power = np.abs(np.fft.rfft(grid * np.hanning(len(grid)))) ** 2
    floor = np.median(power) / np.log(2)
    found, amplitudes = np.zeros(len(rest)), []
    for _ in range(8):
        peak = int(np.argmax(power[3:])) + 3
        if power[peak] < floor * np.log(1000 * len(power)) * 2:
            break
        line, amplitude, cycles = fit(places, rest - found, peak / len(grid))
        if amplitude < 1e-2 * np.std(rest):  # what the pattern of edges makes of a stronger one
            break
        found += line
        amplitudes.append(amplitude)
        power[max(0, peak - 4) : peak + 5] = 0
    return found, amplitudes


def total(values, weights, amplitudes, sigma, ratio):
    step = sigma / 50
    reach = np.abs(values).max() + sum(amplitudes) + 10 * sigma
    edges = np.arange(-reach, reach + step, step)
    density = np.histogram(values, bins=edges, weights=weights)[0]
    for amplitude in amplitudes:
        at = np.clip(edges / amplitude, -1, 1)
        density = np.convolve(density, np.diff(np.arcsin(at)) / np.pi, "same")
    x = (edges[:-1] + edges[1:]) / 2
    density = np.convolve(density, np.exp(-((x / sigma) ** 2) / 2) / sigma / np.sqrt(2 * np.pi) * step, "same")
    later = np.cumsum(density[::-1])[::-1]
    earlier = np.cumsum(density)
    return x[np.flatnonzero(later > ratio)[-1]] - x[np.flatnonzero(earlier > ratio)[0]]


count = os.path.getsize(sys.argv[1]) // 12
places = np.fromfile(sys.argv[1], np.int32, count)
errors = np.fromfile(sys.argv[1], np.float64, count, offset=4 * count)
start = time.perf_counter()
errors -= errors.mean()
length = pattern_length(places)
at = places % length
counts = np.bincount(at, minlength=length)
lines = np.zeros(count)
for _ in range(2):
    means = np.bincount(at, errors - lines, length) / np.maximum(counts, 1)
    rest = errors - means[at]
    lines, amplitudes = lines_of(places, rest)
sigma = np.std(rest - lines)
some = counts > 0
whole = total(means[some], counts[some] / count, amplitudes, sigma, 1e-12)
print(
    "%.3f %.4f %.3f %.3f %.3f"
    % (time.perf_counter() - start, sigma * 1e12, 2e12 * sum(amplitudes), np.ptp(means[some]) * 1e12, whole * 1e12)
)
