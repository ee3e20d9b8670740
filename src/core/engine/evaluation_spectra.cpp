// Channels over frequency and lag.

#include "entry_words.h"
#include "evaluation.h"
#include "node_key.h"
#include "number_text.h"
#include "quantity.h"
#include "resampled_source.h"
#include "trend_spectrum.h"

#include <algorithm>

namespace fulvex {

namespace {

/// How a spectrum of a range is cut. Throws Unmeasurable where it is too short for that.
SegmentRule cutOf(const SpectrumEntry &entry, const TimeAxis &axis, SampleRange range, bool first)
{
    constexpr std::size_t usual = std::size_t(1) << 14, usualOfMoments = 1 << 10; // lines as many as a screen shows
    constexpr std::int64_t few = 16, least = 64;
    SegmentRule rule;
    rule.window = windowNamed(entry.window);
    rule.length = usualSegment(range, entry.kind == "spectrogram" ? usualOfMoments : usual);
    if (entry.resolution) {
        rule.length = segmentFor(*entry.resolution, rule.window, axis.interval);
        if (rule.length == 0)
            throw Unmeasurable{
                "so fine a resolution takes more than " + std::to_string(longestSegment) +
                " samples at a time: ask for " +
                quantityText(windowNoiseBandwidth(rule.window) / (double(longestSegment) * axis.interval), "Hz", {},
                             3) +
                " or more"};
    }
    const std::int64_t needed = std::max<std::int64_t>(std::int64_t(rule.length), least);
    if (range.size() < needed)
        throw Unmeasurable{
            entry.resolution ? "a resolution of " + quantityText(*entry.resolution, "Hz", {}, 3) + " takes " +
                                   quantityText(double(rule.length) * axis.interval, "s", {}, 3) + " of signal, and " +
                                   quantityText(double(range.size()) * axis.interval, "s", {}, 3) +
                                   " are there: ask for a coarser one, or widen the region"
                             : "a spectrum takes 64 samples at least, and " + std::to_string(range.size()) +
                                   " are there: widen the region"};
    if (first) rule.most = few;
    return rule;
}

/// Nothing was transformed, since there are gaps everywhere.
void needSegments(std::int64_t segments, const SegmentRule &rule, const TimeAxis &axis)
{
    if (segments == 0)
        throw Unmeasurable{"no stretch of " + quantityText(double(rule.length) * axis.interval, "s", {}, 3) +
                           " is without gaps: ask for a coarser resolution"};
}

const char *wordsOf(const SpectrumEntry &entry)
{
    for (const Choice &choice : windowWords)
        if (entry.window == choice.word) return choice.words;
    return windowWords[0].words; // as windowNamed() takes it
}

} // namespace

Evaluation::ChannelNode Evaluation::spectrumSource(const SpectrumEntry &entry)
{
    if (entry.row.empty()) return channel(entry.source);
    const Row of = row(*findEntry(m_document.measurements, entry.row));
    if (!of.measurable()) throw Unmeasurable{of.reason};
    if (of.measured->single) throw Unmeasurable{"it is one number, and nothing over time: take a row of many values"};
    const std::string key = keyOf("trend", definition(entry.row));
    const SourcePtr values = *m_cache.get<SourcePtr>(key, [&] { return evenTrend(of.measured->population); });
    if (!values) throw Unmeasurable{"a spectrum takes 8 values at different times: widen the region"};
    return {key, values, of.unit, true};
}

SpectrumResult Evaluation::spectrum(const SpectrumEntry &entry)
{
    const ChannelNode from = spectrumSource(entry);
    const TimeAxis &axis = from.source->axis();
    SpectrumResult result;
    result.unit = from.unit;
    result.samples = from.source;
    result.range = range(*from.source, entry.region);
    const auto note = [&](const char *what, const std::string &how) { result.provenance.emplace_back(what, how); };
    note("region", entry.region.empty() ? "whole record" : entry.region);
    const std::string what = digestOf(entry.kind, from.key, result.range.first, result.range.last, m_first);
    if (entry.kind == "autocorrelation") {
        constexpr std::int64_t mostLags = std::int64_t(1) << 22;
        constexpr std::int64_t few = 8;
        const std::int64_t room = result.range.size() / 4;
        const std::int64_t lags = std::clamp<std::int64_t>(
            entry.longest ? std::int64_t(std::min(std::ceil(*entry.longest / axis.interval - 1e-6), 1e15))
                          : std::min<std::int64_t>(room, 1 << 16),
            1, mostLags);
        if (entry.longest && lags >= result.range.size())
            throw Unmeasurable{"the longest lag, " + quantityText(*entry.longest, "s", {}, 3) +
                               ", has to be shorter than what is looked at, " +
                               quantityText(double(result.range.size()) * axis.interval, "s", {}, 3)};
        const std::string key = keyOf("autocorrelation", what, lags);
        result.autocorrelation = m_cache.get<Autocorrelation>(key, [&] {
            return autocorrelation(*from.source, result.range, lags, m_progress,
                                   m_first ? few : std::numeric_limits<std::int64_t>::max());
        });
        result.share = result.autocorrelation->share;
        if (result.autocorrelation->coefficients.empty())
            throw Unmeasurable{"the signal is constant or all gaps: nothing in it comes again"};
        note("longest lag", quantityText(double(lags) * axis.interval, "s", {}, 3));
        note("pairs of samples", std::to_string(result.autocorrelation->pairs));
        return result;
    }
    const SegmentRule cut = cutOf(entry, axis, result.range, m_first);
    const std::string key = keyOf("spectral", what, int(cut.window), cut.length, entry.highest);
    note("window", wordsOf(entry));
    note("resolution",
         quantityText(windowNoiseBandwidth(cut.window) / (double(cut.length) * axis.interval), "Hz", {}, 4));
    const auto noteSegments = [&](std::int64_t segments, std::int64_t leftOut) {
        note("segments", std::to_string(segments) + " of " +
                             quantityText(double(cut.length) * axis.interval, "s", {}, 3) +
                             (leftOut ? ", " + std::to_string(leftOut) + " left out for gaps" : ""));
    };
    if (entry.kind == "spectrogram") {
        result.spectrogram = m_cache.get<Spectrogram>(key, [&] {
            SpectrogramRule rule{cut};
            rule.most = std::numeric_limits<std::int64_t>::max();
            rule.highest = entry.highest;
            if (m_first) rule.mostInAColumn = 1;
            return spectrogram(*from.source, result.range, rule, m_progress);
        });
        result.share = result.spectrogram->share;
        note("columns", std::to_string(result.spectrogram->columns));
        note("each cell", entry.highest ? "the highest" : "the mean");
    } else if (entry.kind == "transfer") {
        const ChannelNode to = channel(entry.to);
        result.toUnit = to.unit;
        result.transfer = m_cache.get<TransferFunction>(keyOf("transfer", key, to.key), [&] {
            return transferFunction(*from.source, *resampled(to.source, axis), result.range, cut, m_progress);
        });
        result.share = result.transfer->share;
        needSegments(result.transfer->segments, cut, axis);
        noteSegments(result.transfer->segments, result.transfer->leftOut);
    } else {
        result.spectrum = m_cache.get<Spectrum>(key, [&] {
            SpectrumRule rule{cut};
            rule.highest = entry.highest;
            return Spectrum::of(powerSpectrum(*from.source, result.range, rule, m_progress));
        });
        result.share = result.spectrum->power.share;
        needSegments(result.spectrum->power.segments, cut, axis);
        noteSegments(result.spectrum->power.segments, result.spectrum->power.leftOut);
        note("each line", entry.highest ? "the highest" : "the mean");
    }
    return result;
}

} // namespace fulvex
