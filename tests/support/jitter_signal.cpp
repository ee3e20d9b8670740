#include "jitter_signal.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace fulvex::test {

namespace {

/// What symbols alone make an edge late by, s.
double dataPart(const JitterSpec &spec, const std::vector<int> &symbols, std::size_t at)
{
    const double direction = symbols[at] > symbols[at - 1] ? 1 : -1;
    double late = direction * spec.dutyDistortion / 2;
    for (std::size_t k = 0; k < spec.response.size(); ++k)
        late +=
            direction * spec.response[k] * (2.0 * symbols[at - 2 - k] / double(spec.levels - 1) - 1); // from -1 to 1
    return late;
}

std::vector<int> symbolsOf(const JitterSpec &spec)
{
    Gaussian chance(spec.seed * 77 + 5);
    std::vector<int> symbols(static_cast<std::size_t>(spec.unitIntervals));
    for (std::size_t n = 0; n < symbols.size(); ++n)
        symbols[n] = spec.symbol ? spec.symbol(std::int64_t(n)) : int(chance.uniform() * double(spec.levels));
    return symbols;
}

} // namespace

JitterEdges makeJitter(const JitterSpec &spec)
{
    Gaussian noise(spec.seed), other(spec.seed + 1000);
    const std::vector<int> symbols = symbolsOf(spec);
    JitterEdges edges;
    edges.unitInterval = spec.unitInterval;
    edges.levels = spec.levels;
    const std::size_t begin = spec.response.size() + 2;
    std::size_t before = symbols.size();
    for (std::size_t n = begin; n < symbols.size(); ++n) {
        if (symbols[n] == symbols[n - 1]) continue;
        if (before == symbols.size()) edges.first = std::int64_t(n);
        double late = dataPart(spec, symbols, n) + spec.random * noise();
        for (const JitterSpec::Line &line : spec.lines)
            late += line.amplitude *
                    std::sin(2 * std::numbers::pi * line.frequency * double(n) * spec.unitInterval + line.phase);
        if (spec.other) late += spec.other(other);
        edges.places.push_back(std::int32_t(std::int64_t(n) - edges.first));
        edges.errors.push_back(late);
        edges.steps.push_back(std::uint8_t(16 * symbols[n - 1] + symbols[n]));
        edges.edges.push_back(std::uint32_t(edges.edges.size()));
        before = n;
    }
    for (std::size_t n = std::size_t(edges.first); n < before; ++n) edges.symbols.push_back(std::uint8_t(symbols[n]));
    return edges;
}

std::function<int(std::int64_t)> prbs(int order)
{
    const int tap = order == 7 ? 6 : order == 9 ? 5 : order == 11 ? 9 : order == 15 ? 14 : 0;
    std::vector<int> bits(std::size_t(1) << order, 1);
    const std::size_t length = bits.size() - 1;
    for (std::size_t n = std::size_t(order); n < length; ++n)
        bits[n] = bits[n - std::size_t(order)] ^ bits[n - std::size_t(tap)];
    return [bits, length](std::int64_t n) { return bits[std::size_t(n) % length]; };
}

double dataExtent(const JitterSpec &spec)
{
    const std::vector<int> symbols = symbolsOf(spec);
    double least = 1, most = -1;
    for (std::size_t n = spec.response.size() + 2; n < symbols.size(); ++n) {
        if (symbols[n] == symbols[n - 1]) continue;
        const double late = dataPart(spec, symbols, n);
        least = std::min(least, late);
        most = std::max(most, late);
    }
    return most - least;
}

} // namespace fulvex::test
