#pragma once

#include "parallel.h"
#include "sample_source.h"
#include "unit_interval_map.h"

#include <algorithm>
#include <cmath>
#include <vector>

namespace fulvex {

/// A sample in an eye: unit intervals counted through the record, and the channel's unit.
struct EyePoint {
    double x = 0, y = 0;
};

/// The walk over a record's unit intervals that a fold, a mask and a box share: samples, each with the unit interval
/// that it lies at. Where band-limited interpolation is wanted, `source` is the interpolated record.
class UnitIntervalWalk {
public:
    /// `interpolation`: points of `source` to a sample of the record that the map is of.
    UnitIntervalWalk(const SampleSource &source, const UnitIntervalMap &map, int interpolation, Progress &progress)
        : m_source(source), m_map(map), m_interpolation(interpolation), m_progress(progress)
    {
    }
    /// Points of the source from one place of the clock up to another, as far as there are any.
    SampleRange between(double fromUi, double toUi) const
    {
        const auto at = [&](double ui) {
            return std::int64_t(
                std::clamp(std::ceil(m_map.positionOf(ui) * m_interpolation), 0.0, double(m_source.axis().count)));
        };
        return {at(fromUi), at(toUi)};
    }
    /// `use(first, values, ui)` for block after block, `first` being the first point's index.
    template <typename Use>
    void samples(SampleRange range, Use &&use)
    {
        forBlocks(m_source, range, m_progress, [&](std::int64_t first, std::span<const double> values) {
            m_ui.resize(values.size());
            m_map.unitIntervalsAt(first, 1 / m_interpolation, m_ui);
            use(first, values, std::span<const double>(m_ui));
        });
    }
    /// `use(from, to, lone, index)` for the line from each point to the next, `index` being the latter's; `lone`: there
    /// is none before it, and both ends are the same. Nothing reaches across a gap.
    template <typename Use>
    void lines(SampleRange range, Use &&use)
    {
        EyePoint before;
        bool lone = true;
        samples(range, [&](std::int64_t first, std::span<const double> values, std::span<const double> ui) {
            for (std::size_t i = 0; i < values.size(); ++i) {
                const EyePoint now{ui[i], values[i]};
                const bool gap = !(now.y == now.y);
                if (!gap) {
                    use(lone ? now : before, now, lone, first + std::int64_t(i));
                    before = now;
                }
                lone = gap;
            }
        });
    }

private:
    const SampleSource &m_source;
    const UnitIntervalMap &m_map;
    double m_interpolation;
    Progress &m_progress;
    std::vector<double> m_ui;
};

/// Unit intervals that are walked at a time: few enough to share out and to cancel, for many samples or few in each.
inline std::int64_t unitIntervalsAChunk(const UnitIntervalMap &map, int interpolation)
{
    return std::max<std::int64_t>(64, std::int64_t(double(defaultChunk) / (map.period() * interpolation)));
}

} // namespace fulvex
