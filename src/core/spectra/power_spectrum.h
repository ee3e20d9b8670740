#pragma once

#include "progress.h"
#include "segments.h"

#include <span>
#include <vector>

namespace fulvex {

struct SpectrumRule : SegmentRule {
    bool highest = false; ///< of each line the highest of all segments, not the mean
};

/// How a signal's power is spread over frequency: the mean over windowed segments that overlap by half, one-sided.
/// Segments with a gap are left out. The sum of all lines times `step` is the mean square. Source: P. D. Welch, "The
/// use of fast Fourier transform for the estimation of power spectra", IEEE Trans. AU-15 (1967).
struct PowerSpectrum {
    Window window = Window::hann;
    bool highest = false;        ///< as in SpectrumRule
    double step = 0;             ///< Hz from line to line
    double noiseBandwidth = 1;   ///< of the window, lines: a sine's power is a line's density times this times step
    std::int64_t segments = 0;   ///< that were added up
    std::int64_t leftOut = 0;    ///< for a gap
    double share = 1;            ///< of the range that was looked at
    std::vector<double> density; ///< unit² / Hz, from 0 Hz to half the sample rate
    /// The same of parts of the record one after the other, as sums of their segments (or the highest of them): what
    /// uncertainties are told by.
    struct Part {
        std::int64_t segments = 0, leftOut = 0;
        std::vector<double> sums;
    };
    std::vector<Part> parts;
    /// Without one of its parts.
    std::vector<double> densityWithout(std::size_t part) const;
    /// The first lines of it alone, without parts.
    PowerSpectrum upTo(std::size_t lines) const;
    /// Of the lines first to last, both included: unit².
    double power(std::size_t first, std::size_t last) const;
    /// Resolution bandwidth, Hz.
    double resolution() const { return noiseBandwidth * step; }
    /// Of several records; nothing where their lines do not lie at the same frequencies, or were made otherwise.
    static PowerSpectrum merged(std::span<const PowerSpectrum *const> records);
};

/// Of a range; no segments where it is shorter than one.
PowerSpectrum powerSpectrum(const SampleSource &source, SampleRange range, const SpectrumRule &rule,
                            Progress &progress);

} // namespace fulvex
