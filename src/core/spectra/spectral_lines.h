#pragma once

#include "power_spectrum.h"

#include <optional>
#include <vector>

namespace fulvex {

/// What a spectrum would be without its lines: the median of each stretch of lines, which a few that stand out do not
/// move, brought to the mean of what noise is (chi-squared, of twice as many degrees as segments), and between the
/// middles of the stretches straight lines in decibels. Source: the median of chi-squared by Wilson and Hilferty
/// (1931).
class NoiseFloor {
public:
    explicit NoiseFloor(const PowerSpectrum &spectrum);
    double at(std::size_t line) const; ///< unit² / Hz
    /// Of all lines between two frequencies: the median, unit² / Hz. NaN where there is none.
    static double between(const PowerSpectrum &spectrum, double from, double to);

private:
    std::size_t m_stretch = 1;
    std::vector<double> m_logs; ///< of each stretch
};

/// A line of a spectrum: a component of one frequency.
struct SpectralLine {
    double frequency = 0; ///< Hz, between the transform's lines by what the window makes of them
    double power = 0;     ///< mean square, unit²: half the square of a sine's amplitude
    double floor = 0;     ///< the noise's density around it, unit² / Hz
    bool stands = true;   ///< out of the noise, so that one in a thousand such spectra of noise alone has one as high
    double rms() const;
};

/// Those that stand at least 3 dB and more than chance out of the floor, the strongest `most` of them, strongest first.
/// What a window's side lobes make of a stronger one is none.
std::vector<SpectralLine> spectralLines(const PowerSpectrum &spectrum, const NoiseFloor &floor, std::size_t most);

/// The line nearest to a frequency, within what its lobe reaches: the highest there.
std::optional<SpectralLine> spectralLineAt(const PowerSpectrum &spectrum, const NoiseFloor &floor, double frequency);

/// A spectrum and what stands out of it.
struct Spectrum {
    PowerSpectrum power;
    NoiseFloor floor;
    std::vector<SpectralLine> lines; ///< strongest first
    static Spectrum of(PowerSpectrum power);
};

/// A multiple of a line's frequency, folded back at half the sample rate.
struct Harmonic : SpectralLine {
    int number = 2;
    bool folded = false;
};
/// From the second on.
std::vector<Harmonic> harmonicsOf(const PowerSpectrum &spectrum, const NoiseFloor &floor, const SpectralLine &line,
                                  int highest);

} // namespace fulvex
