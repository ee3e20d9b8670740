#pragma once

#include <cmath>
#include <cstddef>
#include <numbers>
#include <utility>
#include <vector>

namespace fulvex::demo {

/// A line that takes a level in each unit interval: the sum of steps of a Gaussian response at the boundaries near by.
/// To be asked in the order of time.
class SteppedLine {
public:
    /// `boundaries`, s, where the level with the same index begins; `edgeSigma`, s, of the response.
    SteppedLine(std::vector<double> levels, std::vector<double> boundaries, double edgeSigma)
        : m_levels(std::move(levels)), m_boundaries(std::move(boundaries)), m_edgeSigma(edgeSigma)
    {
    }
    double at(double time)
    {
        const double reach = 8 * m_edgeSigma;
        while (m_first + 1 < m_levels.size() && m_boundaries[m_first + 1] < time - reach) ++m_first;
        double value = m_levels[m_first];
        for (std::size_t n = m_first + 1; n < m_levels.size() && m_boundaries[n] < time + reach; ++n)
            value += (m_levels[n] - m_levels[n - 1]) * 0.5 *
                     std::erfc(-(time - m_boundaries[n]) / m_edgeSigma / std::numbers::sqrt2);
        return value;
    }

private:
    std::vector<double> m_levels, m_boundaries;
    double m_edgeSigma;
    std::size_t m_first = 0;
};

} // namespace fulvex::demo
