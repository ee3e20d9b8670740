#pragma once

#include "raw_vector.h"
#include "sample_source.h"
#include "stretch_samples.h"
#include "unit_interval_map.h"

#include <cstdint>
#include <span>
#include <vector>

namespace fulvex {

/// A symbol that could not be decided: at a gap, beside the record.
constexpr std::uint8_t unknownSymbol = 255;

/// The signal at the middles of unit intervals: by band-limited interpolation where they have fewer than 8 samples,
/// else on the straight line between two. Kept by a core for its buffers.
class SymbolMiddles {
public:
    SymbolMiddles(const SampleSource &source, const UnitIntervalMap &map) : m_source(source), m_map(map) {}
    /// At the middle of each unit interval from one on. NaN beside a gap or the record.
    void values(std::int64_t first, std::span<double> middles);
    /// Which symbol each is taken for: how many of the thresholds, rising, lie at or below its middle. Where the
    /// samples on either side of it lie between the same ones, farther from these than a quarter of what the signal
    /// changes by from sample to sample there and an eighth of what it does one sample on, no interpolation is needed
    /// to tell: by the kernel each of these changes moves it off the straight line by 3, 14 and 7 % of itself, and
    /// those farther away by 4 % at most, falling off.
    void symbols(std::int64_t first, std::span<const double> thresholds, std::span<std::uint8_t> symbols);

    /// The same at given positions, ascending, by interpolation throughout; these become the values there. `near`:
    /// samples of the source, which need not be read again where places lie well within.
    void symbolsAt(std::span<double> places, std::span<const double> thresholds, const StretchSamples &near,
                   std::span<std::uint8_t> symbols);
    bool isBandLimited() const { return m_map.period() < 8; }

private:
    struct Window;
    /// Sets the places of as many as fit, and calls `use(i)`: they are those from the i-th on.
    template <typename Use>
    void inPieces(std::int64_t first, std::size_t count, const Use &use);
    Window readAround(std::span<const double> places, const StretchSamples *near = nullptr);
    double onLine(const Window &window, double place) const;
    void interpolate(const Window &window, std::span<double> places);
    const SampleSource &m_source;
    const UnitIntervalMap &m_map;
    RawVector<double> m_samples;
    std::vector<double> m_places, m_some, m_open;
    std::vector<std::uint8_t> m_clear;
};

} // namespace fulvex
