"""Band-limited passages of a level in NumPy, for the twins."""
import numpy as np


def refine(v, left, level):
    """Windowed sinc of 24 taps at the quarters, quartic through five points, a few Newton steps."""
    taps, beta, half = 24, 0.1102 * (90 - 8.7), 12
    good = (left >= half - 1) & (left + half < len(v))
    rows = []
    for fraction in (0.25, 0.5, 0.75):
        d = np.arange(taps) - (half - 1) - fraction
        w = np.i0(beta * np.sqrt(np.maximum(0, 1 - (d / half) ** 2))) * np.sinc(d)
        rows.append(w / w.sum())
    base = np.clip(left, half - 1, len(v) - half - 1) - (half - 1)
    f = np.zeros((5, len(left)))
    for tap in range(taps):
        s = v[base + tap]
        for q in range(3):
            f[q + 1] += rows[q][tap] * s
        if tap == half - 1:
            f[0] = s
        if tap == half:
            f[4] = s
    f -= level
    for order in range(1, 5):
        f[order:] = (f[order:] - f[order - 1:-1]) / order
    x = np.full(len(left), 2.0)
    for _ in range(6):
        p = f[0] + x * (f[1] + (x - 1) * (f[2] + (x - 2) * (f[3] + (x - 3) * f[4])))
        e = 1e-6
        y = x + e
        slope = (f[0] + y * (f[1] + (y - 1) * (f[2] + (y - 2) * (f[3] + (y - 3) * f[4]))) - p) / e
        x = np.clip(x - p / slope, 0, 4)
    return np.where(good, x / 4, np.nan)
