#pragma once

#include <cmath>
#include <cstdint>
#include <numbers>
#include <random>
#include <utility>

namespace fulvex::demo {

/// Gaussian numbers by Box and Muller: the same on every machine, which std::normal_distribution does not promise.
class Gaussian {
public:
    explicit Gaussian(std::uint64_t seed) : m_engine(seed) {}
    double operator()()
    {
        if (m_spare == m_spare) return std::exchange(m_spare, NAN);
        const double u = uniform(), v = uniform(), radius = std::sqrt(-2 * std::log(u));
        m_spare = radius * std::sin(2 * std::numbers::pi * v);
        return radius * std::cos(2 * std::numbers::pi * v);
    }
    double uniform() { return (double(m_engine() >> 11) + 0.5) * 0x1p-53; } ///< between 0 and 1, neither of them

private:
    std::mt19937_64 m_engine;
    double m_spare = NAN;
};

} // namespace fulvex::demo
