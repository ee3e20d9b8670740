#include "line_strength.h"

#include "core_loop.h"

#include <algorithm>
#include <numbers>

namespace fulvex {

namespace {

/// A mean, a cosine and a sine in the errors of edges first to last, by least squares.
LineStrength fitted(const JitterEdges &edges, const std::vector<double> &errors, double cycles, std::size_t first,
                    std::size_t last)
{
    // Of the normal equations: 1, c, s against themselves and the errors.
    double c1 = 0, s1 = 0, cc = 0, cs = 0, ss = 0, e1 = 0, ce = 0, se = 0, ee = 0;
    const auto count = double(last - first);
    for (std::size_t i = first; i < last; ++i) {
        const double turns = cycles * edges.places[i], angle = 2 * std::numbers::pi * (turns - std::floor(turns));
        const double c = std::cos(angle), s = std::sin(angle), e = errors[i];
        c1 += c, s1 += s, cc += c * c, cs += c * s, ss += s * s;
        e1 += e, ce += c * e, se += s * e, ee += e * e;
    }
    cc -= c1 * c1 / count, cs -= c1 * s1 / count, ss -= s1 * s1 / count;
    ce -= c1 * e1 / count, se -= s1 * e1 / count, ee -= e1 * e1 / count;
    LineStrength found;
    found.from = edges.places[first];
    found.to = edges.places[last - 1];
    const double both = cc * ss - cs * cs;
    if (!(both > 1e-9 * cc * ss)) return found;
    const double re = (ss * ce - cs * se) / both, im = (cc * se - cs * ce) / both;
    found.amplitude = std::hypot(re, im);
    const double left = std::max(0.0, ee - re * ce - im * se) / std::max(1.0, count - 3);
    found.uncertainty = std::sqrt(left * (cc + ss) / 2 / both);
    return found;
}

} // namespace

std::vector<LineStrength> lineStrength(const JitterEdges &edges, const std::vector<double> &errors, double frequency,
                                       std::size_t most, Progress &progress)
{
    constexpr double fewestCycles = 8, fewestEdges = 64;
    const double cycles = frequency * edges.unitInterval;
    const double parts = std::floor(std::min(
        {double(most), double(edges.unitIntervals()) * cycles / fewestCycles, double(edges.size()) / fewestEdges}));
    if (!(parts >= 1)) return {};
    std::vector<LineStrength> strengths{std::size_t(parts)};
    std::vector<std::size_t> borders{0};
    for (std::size_t part = 1; part < strengths.size(); ++part) {
        const auto place = std::int32_t(double(edges.unitIntervals()) * double(part) / parts);
        borders.push_back(
            std::size_t(std::lower_bound(edges.places.begin(), edges.places.end(), place) - edges.places.begin()));
    }
    borders.push_back(edges.size());
    onAllCores(std::int64_t(strengths.size()), [&](std::int64_t part) {
        progress.advance(0);
        const std::size_t first = borders[std::size_t(part)], last = borders[std::size_t(part) + 1];
        if (last > first + 4) strengths[std::size_t(part)] = fitted(edges, errors, cycles, first, last);
    });
    std::erase_if(strengths, [](const LineStrength &one) { return !(one.to > one.from); });
    return strengths;
}

} // namespace fulvex
