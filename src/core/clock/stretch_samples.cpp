#include "stretch_samples.h"

#include "phase_kernels.h"

#include <algorithm>
#include <limits>

namespace fulvex {

/// For those that the record has; about them are others that are of none.
template <typename Sample>
std::span<Sample> StretchSamples::room(RawVector<Sample> &all, Sample nowhere)
{
    all.resize(words * 64 + lanePadding);
    std::fill_n(all.begin(), thereFirst, nowhere);
    std::fill(all.begin() + std::ptrdiff_t(thereFirst + there), all.end(), nowhere);
    return std::span(all).subspan(thereFirst, there);
}

void StretchSamples::read(const SampleSource &source, SampleRange range)
{
    first = range.first;
    samples = std::size_t(range.size());
    words = samples / 64 + 1;
    const std::int64_t count = source.axis().count, from = std::clamp<std::int64_t>(range.first, 0, count),
                       to = std::clamp<std::int64_t>(range.last, 0, count);
    thereFirst = std::size_t(from - first);
    there = std::size_t(to - from);
    scale = source.codeScale();
    if (!scale || !(scale->step > 0)) {
        scale.reset();
        source.read(from, room(values, std::numeric_limits<double>::quiet_NaN()));
        return;
    }
    inWide = !source.readCodes(from, room(codes, std::int16_t(0)));
    if (inWide) source.readWideCodes(from, room(wideCodes, 0));
}

void StretchSamples::compare(CrossingLevel level, std::vector<CrossingMasks> &masks) const
{
    masks.resize(words);
    visit([&](const auto *own) {
        if constexpr (areValues<decltype(own)>)
            crossingMasks(own, words, level, masks.data());
        else
            crossingMasks(own, words, CodeLevels(level, *scale), masks.data());
    });
}

void StretchSamples::compare(double level, std::uint64_t *reached, std::uint64_t *finite) const
{
    visit([&](const auto *own) {
        if constexpr (areValues<decltype(own)>)
            reachedWords(own, words, level, reached, finite);
        else
            reachedWords(own, words, scale->firstAt(level), reached);
    });
}

void StretchSamples::copyValues(std::int64_t from, std::span<double> out) const
{
    const CodeScale own = scale.value_or(CodeScale{1, 0}); // values are their own
    visit([&, count = out.size(), to = out.data()](const auto *all) {
        const auto *const some = all + (from - first);
        for (std::size_t i = 0; i < count; ++i) to[i] = double(some[i]) * own.step + own.offset;
    });
}

} // namespace fulvex
