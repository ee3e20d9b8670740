#include "bounded_jitter.h"

#include "normal_distribution.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace fulvex {

namespace {

constexpr std::size_t cells = 4096;

/// A distribution on a grid about its own middle: cell i at (i - (size - 1) / 2) * step.
using Shares = std::vector<double>;

Shares joined(const Shares &a, const Shares &b)
{
    Shares all(a.size() + b.size() - 1);
    for (std::size_t i = 0; i < a.size(); ++i) {
        if (a[i] == 0) continue;
        for (std::size_t k = 0; k < b.size(); ++k) all[i + k] += a[i] * b[k];
    }
    return all;
}

/// Puts a share between the two cells that it lies between, so that the mean stays what it is.
void put(Shares &shares, double place, double share)
{
    const double within = std::clamp(place, 0.0, double(shares.size() - 1));
    const auto left = std::min(std::size_t(within), shares.size() - 1);
    const double right = within - double(left);
    shares[left] += share * (1 - right);
    if (left + 1 < shares.size()) shares[left + 1] += share * right;
}

/// What a line and its harmonics are, moment by moment of a turn of the line about the middle of the edges.
std::vector<double> overATurn(const std::vector<PeriodicLine> &lines, std::size_t of)
{
    constexpr std::size_t moments = 8192;
    std::vector<double> values(moments);
    for (std::size_t i = 0; i < lines.size(); ++i) {
        const PeriodicLine &line = lines[i];
        if (line.harmonicOf != of) continue;
        for (std::size_t k = 0; k < moments; ++k) {
            const double turned = (double(k) + 0.5) / double(moments) * 2 * std::numbers::pi;
            values[k] += line.amplitude * std::sin(line.harmonic * turned + line.phase);
        }
    }
    return values;
}

/// Where a falling part of edges passes a ratio, between two places: by halving what is left, or where the straight
/// line of its logarithm says so, whichever is nearer to the end (Illinois).
template <typename Part>
double latestBy(const Part &part, double low, double high, double ratio)
{
    const auto over = [&](double at) { return std::log(std::max(part(at), 1e-300) / ratio); };
    double above = over(low), below = over(high);
    if (!(above > 0)) return low;
    if (!(below < 0)) return high;
    const double enough = 1e-7 * (high - low);
    for (int i = 0; i < 60 && high - low > enough; ++i) {
        const bool halve = i % 3 == 2;
        const double at = halve ? (low + high) / 2 : low + (high - low) * above / (above - below);
        const double there = over(at);
        if (there > 0) {
            low = at;
            above = there;
            if (!halve) below /= 2;
        } else {
            high = at;
            below = there;
            if (!halve) above /= 2;
        }
        if (there == 0) break;
    }
    return (low + high) / 2;
}

} // namespace

BoundedJitter::BoundedJitter(std::vector<Value> values, const std::vector<PeriodicLine> &lines, double apart)
{
    struct Part {
        std::vector<Value> values;
        double least, most;
    };
    std::vector<Part> parts;
    const auto addPart = [&](std::vector<Value> some) {
        if (some.empty()) return;
        const auto [least, most] =
            std::minmax_element(some.begin(), some.end(), [](const Value &a, const Value &b) { return a.at < b.at; });
        parts.push_back({some, least->at, most->at});
        m_extent += most->at - least->at;
    };
    addPart(std::move(values));
    for (std::size_t of = 0; of < lines.size(); ++of) {
        if (lines[of].harmonicOf != of) continue;
        std::vector<Value> some;
        const std::vector<double> moments = overATurn(lines, of);
        for (const double at : moments) some.push_back({at, 1 / double(moments.size())});
        addPart(std::move(some));
    }
    if (apart > 0) addPart({{-apart / 2, 0.5}, {apart / 2, 0.5}});

    m_step = m_extent / double(cells);
    m_shares = {1};
    for (const Part &part : parts) {
        const double wide = part.most - part.least;
        Shares shares(m_step > 0 ? std::size_t(std::ceil(wide / m_step)) + 1 : 1);
        for (const Value &value : part.values)
            put(shares, m_step > 0 ? (value.at - part.least) / m_step : 0, value.share);
        m_shares = joined(m_shares, shares);
        m_first += part.least;
    }
}

double BoundedJitter::laterThan(double at, double random) const
{
    double part = 0;
    for (std::size_t i = 0; i < m_shares.size(); ++i) {
        const double off = at - (m_first + double(i) * m_step);
        if (m_shares[i] > 0) part += m_shares[i] * (random > 0 ? normalTail(off / random) : off < 0 ? 1.0 : 0.0);
    }
    return part;
}

double BoundedJitter::earlierThan(double at, double random) const
{
    double part = 0;
    for (std::size_t i = 0; i < m_shares.size(); ++i) {
        const double off = m_first + double(i) * m_step - at;
        if (m_shares[i] > 0) part += m_shares[i] * (random > 0 ? normalTail(off / random) : off < 0 ? 1.0 : 0.0);
    }
    return part;
}

std::pair<double, double> BoundedJitter::limits(double ratio, double random) const
{
    const double least = m_first, most = m_first + double(m_shares.size() - 1) * m_step;
    const double beyond = normalQuantile(ratio) * random; // that far behind all of it lies less, before it more
    return {latestBy([&](double at) { return laterThan(at, random); }, least + beyond, most + beyond, ratio),
            -latestBy([&](double at) { return earlierThan(-at, random); }, -most + beyond, -least + beyond, ratio)};
}

double BoundedJitter::totalAt(double ratio, double random) const
{
    const auto [latest, earliest] = limits(ratio, random);
    return latest - earliest;
}

double BoundedJitter::density(double at, double random) const
{
    double sum = 0;
    for (std::size_t i = 0; i < m_shares.size(); ++i) {
        const double q = (at - (m_first + double(i) * m_step)) / random;
        sum += m_shares[i] * std::exp(-q * q / 2);
    }
    return sum / (random * std::sqrt(2 * std::numbers::pi));
}

} // namespace fulvex
