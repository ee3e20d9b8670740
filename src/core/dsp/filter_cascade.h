#pragma once

#include <array>
#include <complex>
#include <cstdint>
#include <span>
#include <vector>

namespace fulvex {

/// What of a spectrum a filter lets through.
enum class FilterPass { low, high, band, stop };

/// A recursive filter as sections of second order, one behind the other, each
/// y[i] = b0 x[i] + b1 x[i-1] + b2 x[i-2] - a1 y[i-1] - a2 y[i-2], in transposed direct form II: two numbers of state
/// each. Runs forward in time.
class FilterCascade {
public:
    struct Section {
        double b0, b1, b2, a1, a2;
    };
    enum class Kind { butterworth, bessel };
    static constexpr int mostSections = 10, mostOrder = 10;
    struct Asked {
        Kind kind;
        FilterPass pass;
        int order;          ///< 1 to mostOrder; of a band, of each of its sides
        double low;         ///< the corner, or a band's lower one: a share of the sample rate, between 0 and 1/2
        double high = 0;    ///< a band's upper one
        bool twice = false; ///< it will run over the same samples twice
    };
    /// At its corners, after all its runs, the gain is 1 / sqrt 2; it is 1 at 0 (for a high pass at half the rate, for
    /// a band at its middle). The analogue filter laid on the samples by the bilinear transform, the corners where they
    /// were; a band is the low pass at (s + w0² / s) / width. Source: Oppenheim, Schafer, "Discrete-Time Signal
    /// Processing", 7.1.2; Bessel: W. E. Thomson, "Delay Networks Having Maximally Flat Frequency Characteristics",
    /// Proc. IEE 96 (1949).
    static FilterCascade made(const Asked &asked);
    /// (1 + s / z) / ((1 + s / p) (1 + s / q)), gain 1 at 0, laid on the samples as above with each corner where it
    /// was: z, p and q as shares of the sample rate, between 0 and 1/2.
    static FilterCascade leadLag(double zero, double pole, double secondPole);

    using State = std::array<double, 2 * mostSections>;
    /// What it is in after an endless time of one value.
    State settledAt(double value) const;
    /// In place, from a state on, which it leaves behind as it then is.
    void run(std::span<double> values, State &state) const;
    /// The same of several equally long pieces at once, which is several times as fast; same bits. Writes what
    /// comes of each where `results` say.
    static constexpr int together = 16;
    void runTogether(const double *const *pieces, std::int64_t length, State *const *states,
                     double *const *results) const;
    /// At a frequency, as a share of the sample rate.
    std::complex<double> response(double frequency) const;

    /// What state a stretch of `length` samples leaves that begins in silence: each number a sum over weighted samples,
    /// faster than to filter. Same bits whatever the machine's vectors.
    class Ending {
    public:
        Ending(const FilterCascade &filter, std::size_t length); ///< a multiple of 16
        State of(const double *samples) const;

    private:
        std::size_t m_length;
        std::vector<std::vector<double>> m_weights; ///< of each number
    };
    std::size_t sections() const { return m_sections.size(); }

private:
    std::vector<Section> m_sections;
};

} // namespace fulvex
