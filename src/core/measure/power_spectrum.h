#pragma once

#include "progress.h"
#include "sample_source.h"
#include "window.h"

#include <vector>

namespace fulvex {

/// How a signal's power is spread over frequency: the mean over windowed segments that overlap by half, one-sided.
/// Segments with a gap are left out. The sum of all lines times `step` is the mean square. Source: P. D. Welch, "The
/// use of fast Fourier transform for the estimation of power spectra", IEEE Trans. AU-15 (1967).
struct PowerSpectrum {

    double step = 0;             ///< Hz from line to line
    double noiseBandwidth = 1;   ///< of the window, lines: a sine's power is a line's density times this times step
    std::int64_t segments = 0;   ///< that were added up
    std::vector<double> density; ///< unit² / Hz, from 0 Hz to half the sample rate
    /// The same of parts of the record one after the other, as sums of their segments: what uncertainties are told by.
    struct Part {
        std::int64_t segments = 0;
        std::vector<double> sums;
    };
    std::vector<Part> parts;
    /// Without one of its parts.
    std::vector<double> densityWithout(std::size_t part) const;
    /// Of the lines first to last, both included: unit².
    double power(std::size_t first, std::size_t last) const;
};

/// Of a range in segments of `length` samples, a power of two; nothing where the range is shorter.
PowerSpectrum powerSpectrum(const SampleSource &source, SampleRange range, Window window, std::size_t length,
                            Progress &progress);

/// The longest power of two of which a range holds several, up to 2^18.
std::size_t usualSegment(SampleRange range);

} // namespace fulvex
