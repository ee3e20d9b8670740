#pragma once

#include <array>
#include <complex>
#include <cstdint>
#include <span>
#include <vector>

namespace fulvex {

/// A recursive filter as sections of second order, one behind the other, each
/// y[i] = b0 x[i] + b1 x[i-1] + b2 x[i-2] - a1 y[i-1] - a2 y[i-2], in transposed direct form II: two numbers of state
/// each. Runs forward in time.
class FilterCascade {
public:
    struct Section {
        double b0, b1, b2, a1, a2;
    };
    enum class Kind { butterworth, bessel };
    enum class Pass { low, high };
    static constexpr int mostSections = 5, mostOrder = 2 * mostSections;
    /// Order 1 to mostOrder; `corner` is where the gain is 1 / sqrt 2, as a share of the sample rate, between 0 and
    /// 1/2. The analogue filter laid on the samples by the bilinear transform, the corner where it was: gain 1 at 0 (at
    /// half the rate for a high pass). Source: Oppenheim, Schafer, "Discrete-Time Signal Processing", 7.1.2; Bessel: W.
    /// E. Thomson, "Delay Networks Having Maximally Flat Frequency Characteristics", Proc. IEE 96 (1949).
    static FilterCascade made(Kind kind, Pass pass, int order, double corner);

    using State = std::array<double, 2 * mostSections>;
    /// What it is in after an endless time of one value.
    State settledAt(double value) const;
    /// In place, from a state on, which it leaves behind as it then is.
    void run(std::span<double> values, State &state) const;
    /// The same of several equally long pieces at once, which is several times as fast; same bits. `keep`: the results
    /// as well, not the states alone.
    static constexpr int together = 16;
    void runTogether(double *const *pieces, std::int64_t length, State *const *states, bool keep) const;
    /// At a frequency, as a share of the sample rate.
    std::complex<double> response(double frequency) const;
    std::size_t sections() const { return m_sections.size(); }

private:
    std::vector<Section> m_sections;
};

} // namespace fulvex
