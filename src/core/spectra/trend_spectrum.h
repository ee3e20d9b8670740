#pragma once

#include "population.h"
#include "progress.h"
#include "sample_source.h"
#include "window.h"

namespace fulvex {

/// What a quantity's trend is made of: amplitudes of sines, in its unit, by frequency. The mean is taken out. Values
/// that do not follow on each other evenly are laid on an even grid of as many points by straight lines between them,
/// at most 2^20 points; so lines near the highest frequency read low, by the square of sin(x)/x.
struct TrendSpectrum {
    double step = 0;                ///< Hz between lines
    std::vector<double> amplitudes; ///< of sines (half of peak to peak), from 0 Hz on
    struct Peak {
        double frequency = 0, amplitude = 0;
    };
    std::vector<Peak> peaks; ///< highest first, refined between lines; none below 6 times the median line
};

/// A quantity's values less their mean, on an even grid of as many points over their time, at most 2^24, by straight
/// lines: what spectra of rows are of. Null for fewer than 8 values, or where all are at one time.
SourcePtr evenTrend(const Population &population);

/// Empty for fewer than 8 values, or where all are at one time.
TrendSpectrum trendSpectrum(const Population &population, Window window, std::size_t mostPeaks, Progress &progress);

} // namespace fulvex
