#pragma once

#include "periodic_lines.h"

#include <utility>
#include <vector>

namespace fulvex {

/// How edges lie about their boundaries by what is bounded: a distribution on a fine grid, made of independent parts by
/// convolution. Joined with a normal distribution it tells the total. Of transition density 1: an error ratio is the
/// part of edges that come too late, or too early, on one side.
/// Source: INCITS TR-35, Methodologies for Jitter and Signal Quality Specification, 8 (total jitter by convolution).
class BoundedJitter {
public:
    struct Value {
        double at, share; ///< s, of all edges
    };
    /// `values` that data give edges; of each independent line, or a line with its harmonics, how it is spread over a
    /// turn; two values `apart` (s) of equal shares.
    BoundedJitter(std::vector<Value> values, const std::vector<PeriodicLine> &lines, double apart);
    double extent() const { return m_extent; } ///< s: of the joint distribution
    /// The part of edges later (earlier) than `at`, with a random part of standard deviation `random`, s.
    double laterThan(double at, double random) const;
    double earlierThan(double at, double random) const;
    /// Beyond which instants only a part `ratio` of the edges lies on one side: the latest and the earliest, s.
    std::pair<double, double> limits(double ratio, double random) const;
    double totalAt(double ratio, double random) const; ///< s
    double density(double at, double random) const;    ///< of edges, 1/s

private:
    double m_extent = 0, m_first = 0, m_step = 0;
    std::vector<double> m_shares; ///< at m_first + i * m_step
};

} // namespace fulvex
