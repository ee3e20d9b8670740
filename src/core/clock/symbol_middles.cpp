#include "symbol_middles.h"

#include "sinc_kernel.h"
#include "symbol_levels.h"
#include "widest_vectors.h"

#include <algorithm>
#include <cmath>

namespace fulvex {

namespace {

constexpr std::uint8_t undecided = 254;
constexpr std::size_t together = 16; ///< places that are decided at a time

/// Symbols at places that have three samples on either side: those that need no interpolation to tell. `strays`: how
/// far off the straight line the signal may lie, by what it changes by nearby. `size` is a multiple of those together.
FULVEX_WIDEST_VECTORS void decideClear(const double *samples, const double *places, std::size_t size, double strays,
                                       std::span<const double> thresholds, std::uint8_t *symbols)
{
    for (std::size_t first = 0; first < size; first += together) {
        double low[together], high[together];
        std::int32_t at[together];
        for (std::size_t i = 0; i < together; ++i) at[i] = std::int32_t(places[first + i]);
        for (std::size_t i = 0; i < together; ++i) {
            const double b = samples[at[i]], c = samples[at[i] + 1];
            const double left = samples[at[i] - 1], right = samples[at[i] + 2];
            const double nearBy = std::abs(b - left) + std::abs(c - b) + std::abs(right - c),
                         beyond = std::abs(left - samples[at[i] - 2]) + std::abs(samples[at[i] + 3] - right);
            const double off = strays * (2 * nearBy + beyond);
            low[i] = (b < c ? b : c) - off; // NaN beside a gap
            high[i] = (b < c ? c : b) + off;
        }
        double least[together] = {}, most[together] = {};
        for (const double threshold : thresholds) {
            for (std::size_t i = 0; i < together; ++i) {
                least[i] += low[i] >= threshold ? 1 : 0;
                most[i] += high[i] >= threshold ? 1 : 0;
            }
        }
        for (std::size_t i = 0; i < together; ++i)
            symbols[first + i] =
                std::uint8_t(least[i] == most[i] && low[i] <= high[i] ? std::int32_t(least[i]) : undecided);
    }
}

std::uint8_t symbolAt(double value, std::span<const double> thresholds)
{
    return value == value ? std::uint8_t(symbolOf(value, thresholds)) : unknownSymbol;
}

} // namespace

/// The samples about some places.
struct SymbolMiddles::Window {
    SampleRange range;

    /// Those of ascending places that all of a kernel's taps lie about; the others lie at the record's ends.
    std::span<double> roomy(std::span<double> places) const
    {
        const auto hasRoom = [&](double place) {
            const auto tap = std::int64_t(std::floor(place)) - SincKernel::before;
            return tap >= range.first && tap + SincKernel::taps <= range.last;
        };
        const auto begin = std::ranges::find_if(places, hasRoom);
        auto end = places.end();
        while (end > begin && !hasRoom(*(end - 1))) --end;
        return {begin, end};
    }
};

SymbolMiddles::Window SymbolMiddles::readAround(std::span<const double> places, const StretchSamples *near)
{
    const double count = double(m_source.axis().count);
    const auto within = [&](double at) { return std::int64_t(std::clamp(at, 0.0, count)); };
    Window window{{within(std::floor(places.front()) - SincKernel::before),
                   within(std::floor(places.back()) + SincKernel::taps - SincKernel::before)}};
    m_samples.resize(std::size_t(std::max<std::int64_t>(0, window.range.size())));
    if (m_samples.empty()) return window;
    if (near && near->ofSource().first <= window.range.first && near->ofSource().last >= window.range.last)
        near->copyValues(window.range.first, m_samples);
    else
        m_source.read(window.range.first, m_samples);
    return window;
}

double SymbolMiddles::onLine(const Window &window, double place) const
{
    const auto at = [&](std::int64_t sample) {
        const bool there = sample >= window.range.first && sample < window.range.last;
        return there ? m_samples[std::size_t(sample - window.range.first)] : NAN;
    };
    const double left = std::floor(place), fraction = place - left, before = at(std::int64_t(left));
    return fraction > 0 ? before + (at(std::int64_t(left) + 1) - before) * fraction : before;
}

/// Places, ascending, become the values there.
void SymbolMiddles::interpolate(const Window &window, std::span<double> places)
{
    const std::span<double> roomy = isBandLimited() ? window.roomy(places) : std::span<double>();
    m_some.assign(roomy.begin(), roomy.end());
    for (double &place : m_some) place -= double(window.range.first);
    SincKernel::valuesAt(m_samples.data(), m_some, m_some.data());
    const std::size_t begin = roomy.empty() ? places.size() : std::size_t(roomy.data() - places.data());
    for (std::size_t i = 0; i < places.size(); ++i) {
        const double value = i >= begin && i - begin < m_some.size() ? m_some[i - begin] : NAN;
        places[i] = value == value ? value : onLine(window, places[i]); // also near a gap
    }
}

template <typename Use>
void SymbolMiddles::inPieces(std::int64_t first, std::size_t count, const Use &use)
{
    const auto lay = [&](std::size_t i, std::size_t some) {
        m_places.resize(some);
        m_map.positionsOf(double(first + std::int64_t(i)) + 0.5, m_places);
    };
    if (count == 0) return;
    lay(0, count);
    constexpr double much = 1 << 22;
    if (m_places.back() - m_places.front() <= much) return use(0);
    for (std::size_t i = 0; i < count; ++i) { // all samples between would not fit: each by itself
        lay(i, 1);
        use(i);
    }
}

void SymbolMiddles::values(std::int64_t first, std::span<double> middles)
{
    inPieces(first, middles.size(), [&](std::size_t from) {
        interpolate(readAround(m_places), m_places);
        std::ranges::copy(m_places, middles.begin() + std::ptrdiff_t(from));
    });
}

void SymbolMiddles::symbols(std::int64_t first, std::span<const double> thresholds, std::span<std::uint8_t> symbols)
{
    inPieces(first, symbols.size(), [&](std::size_t from) {
        const Window window = readAround(m_places);
        const std::span<double> roomy = window.roomy(m_places);
        const std::span own = symbols.subspan(from, m_places.size());
        std::ranges::fill(own, undecided);
        m_some.assign(roomy.begin(), roomy.end());
        if (!roomy.empty()) m_some.resize((roomy.size() + together - 1) / together * together, roomy.back());
        for (double &place : m_some) place -= double(window.range.first);
        m_clear.resize(m_some.size());
        decideClear(m_samples.data(), m_some.data(), m_some.size(), isBandLimited() ? 0.125 : 0, thresholds,
                    m_clear.data());
        std::copy_n(m_clear.begin(), roomy.size(), own.begin() + (roomy.data() - m_places.data()));
        m_open.clear();
        for (std::size_t i = 0; i < own.size(); ++i)
            if (own[i] == undecided) m_open.push_back(m_places[i]);
        interpolate(window, m_open);
        for (std::size_t i = 0, open = 0; i < own.size(); ++i)
            if (own[i] == undecided) own[i] = symbolAt(m_open[open++], thresholds);
    });
}

void SymbolMiddles::symbolsAt(std::span<double> places, std::span<const double> thresholds, const StretchSamples &near,
                              std::span<std::uint8_t> symbols)
{
    if (places.empty()) return;
    interpolate(readAround(places, &near), places);
    for (std::size_t i = 0; i < places.size(); ++i) symbols[i] = symbolAt(places[i], thresholds);
}

} // namespace fulvex
