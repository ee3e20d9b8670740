#include "error.h"
#include "functions.h"
#include "number_text.h"
#include "over_time.h"
#include "parallel.h"
#include "passages.h"
#include "sinc_kernel.h"

#include <algorithm>
#include <cmath>
#include <vector>

namespace fulvex {

namespace {

constexpr std::int64_t margin = SincKernel::taps; ///< of the mean curve to either side, for interpolation

/// Sums and counts at whole samples from a repeat's begin on, less `margin`.
struct RepeatSums {
    std::vector<double> sums;
    std::vector<std::int64_t> counts;
    void add(std::size_t at, double value)
    {
        if (value != value) return;
        sums[at] += value;
        ++counts[at];
    }
    void merge(const RepeatSums &other)
    {
        if (sums.size() < other.sums.size()) sums.resize(other.sums.size()), counts.resize(other.sums.size());
        for (std::size_t i = 0; i < other.sums.size(); ++i) sums[i] += other.sums[i], counts[i] += other.counts[i];
    }
};

/// The mean curve of all repeats, laid where each begins.
class Average final : public OverTime {
public:
    /// Where repeats begin, ascending, and how long each may be at most: behind that are gaps.
    Average(const SourcePtr &source, std::vector<double> begins, double lasts, Progress &progress)
        : OverTime(source), m_begins(std::move(begins))
    {
        double longest = 0;
        for (std::size_t i = 1; i < m_begins.size(); ++i) longest = std::max(longest, m_begins[i] - m_begins[i - 1]);
        m_lasts = longest = std::min(longest, lasts);
        constexpr double most = 4e6;
        if (!(longest <= most))
            throw Error("", "a repeat of more than " + fixedText(most, 0) + " samples",
                        "give a shorter period, or take a resampled channel");
        m_length = std::int64_t(std::ceil(longest));
        const auto repeats = std::int64_t(m_begins.size());
        constexpr std::int64_t parts = 16; // each holds a curve: few, and the same on any number of cores
        const std::int64_t chunk = std::max<std::int64_t>(1, (repeats + parts - 1) / parts);
        const RepeatSums all =
            inChunksMerged<RepeatSums>({0, repeats}, chunk, progress, [&](SampleRange mine, RepeatSums &part) {
                part.sums.resize(std::size_t(m_length + 2 * margin));
                part.counts.resize(part.sums.size());
                for (std::int64_t k = mine.first; k < mine.last; ++k) {
                    addRepeat(*source, std::size_t(k), part);
                    progress.advance(0);
                }
                source->release({std::int64_t(m_begins[std::size_t(mine.first)]),
                                 std::int64_t(m_begins[std::size_t(mine.last - 1)])});
            });
        m_curve.resize(all.sums.size());
        for (std::size_t i = 0; i < m_curve.size(); ++i)
            m_curve[i] = all.counts[i] > 0 ? all.sums[i] / double(all.counts[i]) : nan;
    }
    double readEffort() const override { return 2; }
    bool mayHaveGaps() const override { return true; }
    void read(std::int64_t first, std::span<double> out) const override
    {
        auto next = std::upper_bound(m_begins.begin(), m_begins.end(), double(first));
        SincKernel::Row row{};
        auto rowOf = m_begins.end();
        for (std::size_t i = 0; i < out.size(); ++i) {
            const double at = double(first) + double(i);
            while (next != m_begins.end() && *next <= at) ++next;
            if (next == m_begins.begin()) {
                out[i] = nan;
                continue;
            }
            const auto begin = next - 1;
            const double since = at - *begin, whole = std::floor(since);
            if (since > m_lasts) {
                out[i] = nan;
                continue;
            }
            if (rowOf != begin) row = SincKernel::row(since - whole), rowOf = begin; // the same all along a repeat
            const double *curve = m_curve.data() + std::int64_t(whole) + margin - SincKernel::before;
            double value = 0;
            for (int tap = 0; tap < SincKernel::taps; ++tap) value += curve[tap] * row[std::size_t(tap)];
            // Where the curve ends its own samples must do.
            out[i] = finite(value == value ? value : curve[SincKernel::before]);
        }
    }

private:
    /// A repeat, and what lies about it as far as it is there.
    void addRepeat(const SampleSource &source, std::size_t repeat, RepeatSums &into) const
    {
        const double begin = m_begins[repeat], whole = std::floor(begin);
        const double end = repeat + 1 < m_begins.size() ? m_begins[repeat + 1] : begin + double(m_length);
        // Up to where the next begins, and as far beyond as interpolating there needs.
        const auto length = std::min<std::int64_t>(m_length, std::int64_t(std::ceil(end - begin))) + 2 * margin;
        const std::int64_t from = std::int64_t(whole) - margin - SincKernel::before, count = source.axis().count;
        std::vector<double> samples(std::size_t(length) + SincKernel::taps, nan),
            moved(static_cast<std::size_t>(length));
        const std::int64_t inside = std::max<std::int64_t>(0, from),
                           stop = std::min(count, from + std::int64_t(samples.size()));
        if (stop <= inside) return;
        source.read(inside, std::span(samples).subspan(std::size_t(inside - from), std::size_t(stop - inside)));
        if (begin == whole)
            std::copy_n(samples.begin() + SincKernel::before, length, moved.begin());
        else
            SincKernel::filter(samples.data(), SincKernel::row(begin - whole), moved.data(), moved.size());
        for (std::size_t i = 0; i < moved.size(); ++i) into.add(i, moved[i]);
    }

    std::vector<double> m_begins; ///< sample positions
    std::int64_t m_length = 0;    ///< of the longest repeat, whole samples
    double m_lasts = 0;           ///< of the same, samples
    std::vector<double> m_curve;  ///< from `margin` samples before a begin on
};

} // namespace

SourcePtr averageOf(const FormulaOver &of)
{
    const SourcePtr &source = of.sources[0];
    const TimeAxis &axis = source->axis();
    const double every = of.constants.back();
    if (every != std::round(every) || !(every >= 1 && every <= 1e9))
        throw Error("", "an average of every so many begins that are no whole number", "511 takes every 511th");
    std::vector<double> begins;
    double lasts = INFINITY;
    const auto take = [&](const std::vector<double> &positions, const char *what) {
        for (double k = 0; k < double(positions.size()); k += every) begins.push_back(positions[std::size_t(k)]);
        if (begins.size() < 2)
            throw Error("", std::string(what) + " less than two repeats", "take a longer record, or another trigger");
    };
    if (!of.moments.empty()) {
        std::vector<double> positions;
        for (const double position : of.moments[0].positions)
            if (const double here = of.moments[0].axis.positionOn(axis, position);
                here >= 0 && here < double(axis.count) && (positions.empty() || here > positions.back()))
                positions.push_back(here);
        take(positions, "moments that begin");
        lasts = of.moments[0].lasts * of.moments[0].axis.interval / axis.interval;
    } else if (of.sources.size() > 1) {
        take(risingPassages(*of.sources[1], of.progress).positions, "a trigger whose rising edges begin");
    } else {
        const double period = every * of.constants[0] / axis.interval;
        if (!(period >= 2))
            throw Error("", "a period of less than two samples", "give the time from one repeat to the next");
        if (!(period * 2 <= double(axis.count)))
            throw Error("", "a period of which the record does not hold two",
                        "give a shorter one, or take a longer record");
        for (double k = 0; k * period < double(axis.count); ++k) begins.push_back(k * period);
    }
    return std::make_shared<Average>(source, std::move(begins), lasts, of.progress);
}

} // namespace fulvex
