#pragma once

#include "power_spectrum.h"

#include <optional>
#include <string>

namespace fulvex {

/// How good a sine a signal is, by its spectrum: the highest line's lobe is the sine, lobes at its multiples 2 to 10
/// (folded back at half the sample rate) its harmonics, all else but 0 Hz is noise, also what lies beneath the lobes.
/// Source: IEEE Std 1241, signal to noise, total harmonic distortion, by discrete Fourier transform.
struct SineQuality {
    double frequency = 0;                        ///< Hz
    double signal = 0, harmonics = 0, noise = 0; ///< powers, unit²
    int counted = 0;                             ///< harmonics that stand apart from the sine and from 0 Hz
    double signalToNoise() const;                ///< dB
    double signalToNoiseAndDistortion() const;   ///< dB
    double totalHarmonicDistortion() const;      ///< % of the sine's amplitude
};

/// Of densities of a spectrum by the window of seven terms. Nothing where there is no sine of at least 18 periods a
/// segment that stands out.
std::optional<SineQuality> sineQuality(const PowerSpectrum &spectrum, const std::vector<double> &density);

} // namespace fulvex
