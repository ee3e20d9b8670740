#include "spectral_lines.h"

#include "middle.h"
#include "normal_distribution.h"

#include <algorithm>
#include <cmath>

namespace fulvex {

namespace {

constexpr std::size_t stretch = 64; ///< lines

/// The median of noise's lines, relative to their mean.
double medianOfNoise(const PowerSpectrum &spectrum)
{
    if (spectrum.highest) return 1; // of which nothing is said
    const double degrees = 2 * double(spectrum.segments);
    return std::pow(1 - 2 / (9 * degrees), 3);
}

/// How much higher than the floor a line has to be so that chance makes one such in a thousand spectra.
double highestByChance(const PowerSpectrum &spectrum)
{
    const double deviations = normalQuantile(1e-3 / double(spectrum.density.size()));
    const double spread = 2 / (9 * 2 * double(std::max<std::int64_t>(1, spectrum.segments)));
    return std::max(2.0, std::pow(1 - spread + deviations * std::sqrt(spread), 3));
}

/// Reads the place and the power of the line that a top of the spectrum shows.
class LineReader {
public:
    LineReader(const PowerSpectrum &spectrum, const NoiseFloor &floor)
        : m_spectrum(spectrum), m_floor(floor), m_lobe(std::size_t(windowLobe(spectrum.window))),
          m_beside(std::max<std::size_t>(1, m_lobe / 2)), m_chance(highestByChance(spectrum)),
          m_rounding(1e-28 * *std::max_element(spectrum.density.begin(), spectrum.density.end()))
    {
    }
    std::size_t lobe() const { return m_lobe; }
    SpectralLine at(std::size_t line) const
    {
        const double off = offset(line), floor = m_floor.at(line);
        const double response = windowResponse(m_spectrum.window, off);
        SpectralLine found;
        found.frequency = (double(line) + off) * m_spectrum.step;
        found.floor = floor;
        found.power = std::max(0.0, m_spectrum.density[line] - floor) * m_spectrum.resolution() / (response * response);
        found.stands = m_spectrum.density[line] > m_chance * floor;
        return found;
    }
    /// Whether it is the highest as far as its lobe reaches, and out of the noise.
    bool isTop(std::size_t line) const
    {
        const auto &density = m_spectrum.density;
        if (!(density[line] > m_chance * m_floor.at(line)) || !(density[line] > m_rounding)) return false;
        for (std::size_t d = 1; d <= m_lobe; ++d) {
            if (line >= d && density[line - d] >= density[line]) return false;
            if (line + d < density.size() && density[line + d] > density[line]) return false;
        }
        return true;
    }

private:
    /// Where the lines to both sides say that it lies, from -0.5 to 0.5: what the window makes of a sine there.
    double offset(std::size_t line) const
    {
        const auto &density = m_spectrum.density;
        if (line < m_beside || line + m_beside >= density.size()) return 0;
        const auto clear = [&](std::size_t k) { return std::max(0.0, density[k] - m_floor.at(k)); };
        const double below = clear(line - m_beside), above = clear(line + m_beside);
        if (!(below + above > 0)) return 0;
        const auto shareAbove = [&](double off) {
            const double up = std::pow(windowResponse(m_spectrum.window, double(m_beside) - off), 2),
                         down = std::pow(windowResponse(m_spectrum.window, double(m_beside) + off), 2);
            return up / (up + down);
        };
        const double share = above / (below + above);
        double low = -0.5, high = 0.5;
        for (int halvings = 0; halvings < 40; ++halvings) {
            const double middle = (low + high) / 2;
            (shareAbove(middle) < share ? low : high) = middle;
        }
        return (low + high) / 2;
    }
    const PowerSpectrum &m_spectrum;
    const NoiseFloor &m_floor;
    std::size_t m_lobe, m_beside;
    double m_chance;
    double m_rounding; ///< density that rounding alone makes of the strongest line
};

/// The highest around a place, as far as half a lobe to either side.
std::size_t highestAround(const PowerSpectrum &spectrum, double frequency, std::size_t reach)
{
    const auto last = std::ptrdiff_t(spectrum.density.size()) - 1;
    const std::ptrdiff_t middle = std::ptrdiff_t(std::lround(std::clamp(frequency / spectrum.step, 0.0, double(last))));
    const std::ptrdiff_t from = std::max<std::ptrdiff_t>(0, middle - std::ptrdiff_t(reach)),
                         to = std::min(last, middle + std::ptrdiff_t(reach));
    const auto begin = spectrum.density.begin();
    return std::size_t(std::max_element(begin + from, begin + to + 1) - begin);
}

} // namespace

double SpectralLine::rms() const
{
    return std::sqrt(power);
}

NoiseFloor::NoiseFloor(const PowerSpectrum &spectrum)
    : m_stretch(std::clamp<std::size_t>(spectrum.density.size(), 1, stretch))
{
    const double median = medianOfNoise(spectrum);
    for (std::size_t first = 0; first < spectrum.density.size(); first += m_stretch) {
        const std::size_t last = std::min(spectrum.density.size(), first + m_stretch),
                          from = last - std::min(last, m_stretch); // the last one is as long as the others
        std::vector<double> some(spectrum.density.begin() + std::ptrdiff_t(from),
                                 spectrum.density.begin() + std::ptrdiff_t(last));
        const double level = middleOf(some) / median;
        m_logs.push_back(std::log(std::max(level, 1e-300)));
    }
}

double NoiseFloor::at(std::size_t line) const
{
    if (m_logs.empty()) return 0;
    const double place = (double(line) + 0.5) / double(m_stretch) - 0.5;
    const double low = std::clamp(std::floor(place), 0.0, double(m_logs.size() - 1));
    const auto first = std::size_t(low), second = std::min(first + 1, m_logs.size() - 1);
    const double share = std::clamp(place - low, 0.0, 1.0);
    return std::exp((1 - share) * m_logs[first] + share * m_logs[second]);
}

double NoiseFloor::between(const PowerSpectrum &spectrum, double from, double to)
{
    std::vector<double> inside;
    for (std::size_t line = 1; line < spectrum.density.size(); ++line) {
        const double frequency = double(line) * spectrum.step;
        if (frequency >= from && frequency <= to) inside.push_back(spectrum.density[line]);
    }
    return inside.empty() ? NAN : middleOf(inside) / medianOfNoise(spectrum);
}

std::vector<SpectralLine> spectralLines(const PowerSpectrum &spectrum, const NoiseFloor &floor, std::size_t most)
{
    if (spectrum.density.size() < 3) return {};
    const LineReader reader(spectrum, floor);
    std::vector<std::size_t> tops;
    for (std::size_t line = reader.lobe() + 1; line + 1 < spectrum.density.size(); ++line) {
        if (reader.isTop(line)) tops.push_back(line);
    }
    std::sort(tops.begin(), tops.end(),
              [&](std::size_t a, std::size_t b) { return spectrum.density[a] > spectrum.density[b]; });
    std::vector<SpectralLine> lines;
    for (const std::size_t top : tops) {
        if (lines.size() >= most) break;
        const SpectralLine line = reader.at(top);
        const auto leaks = [&](const SpectralLine &stronger) {
            const double away = std::abs(line.frequency - stronger.frequency) / spectrum.step;
            double response = 0;
            for (const double beside : {-0.5, -0.25, 0.0, 0.25, 0.5})
                response = std::max(response, std::abs(windowResponse(spectrum.window, away + beside)));
            return line.power < 4 * stronger.power * response * response;
        };
        if (std::none_of(lines.begin(), lines.end(), leaks)) lines.push_back(line);
    }
    std::sort(lines.begin(), lines.end(), [](const auto &a, const auto &b) { return a.power > b.power; });
    return lines;
}

Spectrum Spectrum::of(PowerSpectrum power)
{
    constexpr std::size_t most = 64;
    NoiseFloor floor(power);
    std::vector<SpectralLine> lines = spectralLines(power, floor, most);
    return {std::move(power), std::move(floor), std::move(lines)};
}

std::optional<SpectralLine> spectralLineAt(const PowerSpectrum &spectrum, const NoiseFloor &floor, double frequency)
{
    if (spectrum.density.size() < 3) return {};
    const LineReader reader(spectrum, floor);
    return reader.at(highestAround(spectrum, frequency, std::max<std::size_t>(1, reader.lobe() / 2)));
}

std::vector<Harmonic> harmonicsOf(const PowerSpectrum &spectrum, const NoiseFloor &floor, const SpectralLine &line,
                                  int highest)
{
    std::vector<Harmonic> harmonics;
    if (spectrum.density.size() < 3) return harmonics;
    const LineReader reader(spectrum, floor);
    const double half = spectrum.step * double(spectrum.density.size() - 1);
    for (int number = 2; number <= highest; ++number) {
        const double turned = std::fmod(line.frequency * number, 2 * half);
        Harmonic harmonic;
        harmonic.number = number;
        harmonic.folded = line.frequency * number > half;
        const double at = turned > half ? 2 * half - turned : turned;
        static_cast<SpectralLine &>(harmonic) = reader.at(highestAround(spectrum, at, 1));
        harmonics.push_back(harmonic);
    }
    return harmonics;
}

} // namespace fulvex
