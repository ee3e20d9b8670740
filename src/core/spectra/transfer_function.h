#pragma once

#include "progress.h"
#include "segments.h"

#include <complex>
#include <vector>

namespace fulvex {

/// What lies between two channels, by averaged spectra of both: H = S_xy / S_xx, which noise on the output does not
/// bias, and the coherence |S_xy|² / (S_xx S_yy), the share of the output's power that follows from the input.
/// Source: J. S. Bendat, A. G. Piersol, "Random Data", chapters 6 and 9. A delay of a share d of a segment lowers the
/// magnitude by about d.
struct TransferFunction {
    Window window = Window::hann;
    double step = 0;           ///< Hz from line to line
    double noiseBandwidth = 1; ///< lines
    std::int64_t segments = 0, leftOut = 0;
    double share = 1;                            ///< of the range that was looked at
    std::vector<double> inputPower, outputPower; ///< densities, as a PowerSpectrum's
    std::vector<std::complex<double>> crossPower;
    std::size_t size() const { return crossPower.size(); }
    std::complex<double> response(std::size_t line) const; ///< output over input; e^(jwt) is taken as positive
    double coherence(std::size_t line) const;              ///< 0 … 1
    /// What coherence no line of two that have nothing to do with each other reaches, in 95 % of such pairs.
    double coherenceByChance() const;
    /// Standard uncertainty of the magnitude, relative: sqrt((1 - coherence) / (2 coherence segments)).
    double relativeUncertainty(std::size_t line) const;
    /// By how much the output comes later, s, where it coheres: the slope of its phase over frequency, each line as
    /// certain as its coherence says. A tone alone tells none: what its lobe shows is one frequency. Less than half a
    /// segment.
    struct Delay {
        double seconds = 0, uncertainty = 0; ///< standard, with how far the phase is from a straight line;
                                             ///< infinite where nothing coheres
    };
    Delay delay() const;
};

/// Of two sources on one grid.
TransferFunction transferFunction(const SampleSource &input, const SampleSource &output, SampleRange range,
                                  const SegmentRule &rule, Progress &progress);

} // namespace fulvex
