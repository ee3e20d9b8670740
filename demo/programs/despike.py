#!/usr/bin/python3
"""Takes out single samples that stand out: what is farther from the middle of its five neighbours than `limit`
becomes that middle. A program for formulas, despike(a, limit): see docs/programs.md."""

import json
import sys

import numpy
from numpy.lib import format as npy


def read_signal(stream):
    """One signal; numpy.load() wants a file that can be wound back, which a pipe cannot."""
    npy.read_magic(stream)
    (count,), _, kind = npy.read_array_header_1_0(stream)
    return numpy.frombuffer(stream.read(count * kind.itemsize), kind)


def write_signal(stream, signal):
    npy.write_array_header_1_0(stream, npy.header_data_from_array_1_0(signal))
    stream.write(signal.tobytes())


def main():
    task = json.loads(sys.stdin.buffer.readline())
    signal = read_signal(sys.stdin.buffer)
    limit = task["parameters"]["limit"]
    middle = signal.copy()
    if len(signal) >= 5:
        middle[2:-2] = numpy.median([signal[k:len(signal) - 4 + k] for k in range(5)], axis=0)
    made = numpy.where(abs(signal - middle) > limit, middle, signal)
    write_signal(sys.stdout.buffer, made)


main()
