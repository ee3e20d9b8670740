#pragma once

#include "progress.h"
#include "segments.h"

#include <vector>

namespace fulvex {

struct SpectrogramRule : SegmentRule {
    bool highest = false;              ///< of each cell the highest of its segments, not the mean
    std::size_t mostColumns = 2048;    ///< moments side by side
    std::int64_t mostInAColumn = 1000; ///< segments, spread evenly over it: 1 for first answers
};

/// A signal's spectrum from moment to moment: columns side by side in time, each the mean of the segments that begin in
/// it. A column whose segments all have a gap is NaN.
struct Spectrogram {
    Window window = Window::hann;
    bool highest = false;
    double step = 0;           ///< Hz from line to line
    double noiseBandwidth = 1; ///< lines
    std::size_t lines = 0, columns = 0;
    double first = 0, each = 1;   ///< sample that the first column begins at, and how many one is wide
    double share = 1;             ///< of the range that was looked at
    std::vector<float> densities; ///< unit² / Hz, a column's lines side by side
    float at(std::size_t column, std::size_t line) const { return densities[column * lines + line]; }
    double resolution() const { return noiseBandwidth * step; }
};

Spectrogram spectrogram(const SampleSource &source, SampleRange range, const SpectrogramRule &rule, Progress &progress);

} // namespace fulvex
