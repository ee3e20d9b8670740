#include "channel_check.h"

#include "edge_finder.h"
#include "number_text.h"
#include "transition_finder.h"

#include <algorithm>
#include <cmath>

namespace fulvex {

namespace {

constexpr std::int64_t looked = 1 << 22; ///< samples in which edges are looked for

/// The extreme counts that a type of samples can hold.
std::pair<double, double> limitsOf(SampleType type)
{
    const double size = 8.0 * double(sampleSize(type));
    const bool isUnsigned =
        type == SampleType::u8 || type == SampleType::u16 || type == SampleType::u32 || type == SampleType::u64;
    return isUnsigned ? std::pair(0.0, std::exp2(size) - 1) : std::pair(-std::exp2(size - 1), std::exp2(size - 1) - 1);
}

/// Counts as stored, of a value in the channel's unit.
double storedAt(const CheckedChannel &channel, std::int64_t sample)
{
    double value = 0;
    channel.stored.read(sample, std::span(&value, 1));
    return (value - channel.stored.offset) / channel.stored.scale;
}

void checkGaps(const CheckedChannel &channel, std::vector<Finding> &findings, Progress &progress)
{
    const AmplitudeStats &stats = channel.survey->stats;
    if (stats.gaps == 0) return;
    const TimeAxis &axis = channel.source->axis();
    std::int64_t first = -1, last = -1, longest = 0, longestAt = 0, since = 0; // first gap; longest stretch without
    constexpr std::int64_t block = 1 << 16;
    std::vector<double> values(block);
    progress.expect(double(axis.count));
    for (std::int64_t at = 0; at < axis.count; at += block) {
        progress.advance(double(std::min(block, axis.count - at)));
        const auto length = std::size_t(std::min(block, axis.count - at));
        channel.source->read(at, std::span(values.data(), length));
        for (std::size_t i = 0; i < length; ++i) {
            const auto sample = at + std::int64_t(i);
            if (values[i] == values[i]) {
                if (sample + 1 - since > longest) longest = sample + 1 - since, longestAt = since;
                continue;
            }
            if (first < 0) first = sample;
            if (last < 0 || last == sample - 1) last = sample;
            since = sample + 1;
        }
        channel.source->release({at, at + std::int64_t(length)});
    }
    Finding finding{"gaps",
                    "warning",
                    std::to_string(stats.gaps) + " of " + std::to_string(axis.count) + " samples are missing (" +
                        percentText(double(stats.gaps) / double(axis.count)) +
                        "): no edge is found across them, and unit intervals with one are left out",
                    channel.id,
                    axis.timeOf(double(first)),
                    axis.timeOf(double(last + 1)),
                    {}};
    if (longest > 1 && longest < axis.count)
        finding.remedy = Remedy{Remedy::Kind::region,
                                channel.id,
                                0,
                                axis.timeOf(double(longestAt)),
                                axis.timeOf(double(longestAt + longest - 1)),
                                "name the longest stretch without gaps"};
    findings.push_back(std::move(finding));
}

void checkClipping(const CheckedChannel &channel, std::vector<Finding> &findings)
{
    const AmplitudeStats &stats = channel.survey->stats;
    const double span = stats.maximum - stats.minimum;
    if (!(span > 0)) return;
    const double quantum = std::max(channel.source->resolution(), 1e-9 * span);
    const TimeAxis &axis = channel.source->axis();
    const auto judge = [&](bool upper) {
        const RunsAtExtreme &end = upper ? channel.survey->runs.maximum : channel.survey->runs.minimum;
        if (end.runs == 0) return;
        const double stored = storedAt(channel, upper ? stats.maximumAt : stats.minimumAt);
        const auto [low, high] = limitsOf(channel.stored.type);
        const bool atLimit = isInteger(channel.stored.type) && (stored <= low || stored >= high);
        // Otherwise: the signal strikes the extreme with a step and stays there, while it hardly ever comes near it.
        const double margin = 0.01 * span, from = upper ? end.value - margin : end.value,
                     to = upper ? end.value : end.value + margin, bin = channel.survey->histogram.grid.width();
        const double near =
            channel.survey->histogram.countWithin(from - bin, to + bin) - double(end.samples); // it in whole bins
        const bool flat = end.samples >= 8 && double(end.samples) > 3 * near && near > 0 && end.step() > 1.5 * quantum;
        if (!atLimit && !flat) return;
        findings.push_back({"clipping",
                            "warning",
                            std::to_string(end.samples) + " samples (" +
                                percentText(double(end.samples) / double(axis.count)) + ") lie at the " +
                                (upper ? "upper" : "lower") + " end " + quantityText(end.value, channel.unit) +
                                ", in " + std::to_string(end.runs) +
                                " flat runs: amplitude, levels and whatever is derived from them come out too small; "
                                "use a larger range",
                            channel.id,
                            axis.timeOf(double(end.first)),
                            axis.timeOf(double(end.first + 3)),
                            {}});
    };
    judge(true);
    judge(false);
}

void checkRange(const CheckedChannel &channel, std::vector<Finding> &findings)
{
    if (!isInteger(channel.stored.type)) return;
    const double low = storedAt(channel, channel.survey->stats.minimumAt),
                 high = storedAt(channel, channel.survey->stats.maximumAt);
    const auto [least, most] = limitsOf(channel.stored.type);
    const double used = std::abs(high - low) / (most - least);
    if (used >= 0.5 || !(used > 0)) return;
    findings.push_back(
        {"range",
         "warning",
         percentText(used) + " of the range of " + std::string(sampleTypeName(channel.stored.type)) +
             " samples is used: noise of the converter weighs more than it has to, unless the converter has fewer bits "
             "than its samples",
         channel.id,
         {},
         {},
         {}});
}

void checkEdgeSamples(const CheckedChannel &channel, std::vector<Finding> &findings, Progress &progress)
{
    const SampleRange range{0, std::min(looked, channel.source->axis().count)};
    if (!(channel.survey->stats.maximum > channel.survey->stats.minimum)) return;
    const ReferenceLevels levels = referenceLevels(*channel.survey, LevelRule{});
    if (!(levels.high > levels.low)) return;
    const EdgeList edges = findEdges(*channel.source, range, levels, EdgeInterpolation::linear, progress);
    const auto transitions = findTransitions(*channel.source, range, edges, levels, EdgeChoice::both, progress);
    if (transitions.size() < 4) return;
    std::vector<double> lengths(transitions.durations.begin(), transitions.durations.end());
    const auto fast = lengths.begin() + std::ptrdiff_t(lengths.size() / 20);
    std::nth_element(lengths.begin(), fast, lengths.end());
    if (*fast >= 4) return;
    const TimeAxis &axis = channel.source->axis();
    const auto which = std::size_t(std::find_if(transitions.durations.begin(), transitions.durations.end(),
                                                [&](double duration) { return duration <= *fast; }) -
                                   transitions.durations.begin());
    findings.push_back({"edge_samples",
                        "warning",
                        "the fastest edges take " + fixedText(*fast, 1) +
                            " samples from low to high level: below 4, rise and fall times measure the sampling more "
                            "than the signal" +
                            (*fast < fewestSamplesOfAnInstant
                                 ? ", and so few let instants stray by up to 0.3 samples rms, which jitter "
                                   "takes for its own"
                                 : "") +
                            "; a higher rate helps",
                        channel.id,
                        axis.timeOf(transitions.starts[which]),
                        axis.timeOf(transitions.starts[which] + transitions.durations[which]),
                        {}});
}

void checkHum(const CheckedChannel &channel, std::vector<Finding> &findings, Progress &progress)
{
    const auto hum = mainsHum(*channel.source, channel.survey->stats.mean, progress);
    const double span = channel.survey->stats.maximum - channel.survey->stats.minimum;
    if (!hum || hum->amplitude < 0.005 * span) return;
    findings.push_back({"hum",
                        "warning",
                        "mains hum at " + fixedText(hum->frequency, 0) + " Hz of " +
                            quantityText(hum->amplitude, channel.unit) +
                            " lies under the signal: levels wander with it, and edges by it over their slope",
                        channel.id,
                        {},
                        {},
                        {}});
}

} // namespace

std::string percentText(double share)
{
    return fixedText(100 * share, share < 0.01 ? 2 : 0) + " %";
}

std::vector<Finding> checkChannel(const CheckedChannel &channel, Progress &progress)
{
    std::vector<Finding> findings;
    if (!channel.unitStated)
        findings.push_back({"unit",
                            "info",
                            "the file states no unit: its counts times the channel's scale are taken for V",
                            channel.id,
                            {},
                            {},
                            {}});
    if (channel.survey->stats.count == 0) return findings;
    checkGaps(channel, findings, progress);
    checkClipping(channel, findings);
    checkRange(channel, findings);
    checkEdgeSamples(channel, findings, progress);
    checkHum(channel, findings, progress);
    return findings;
}

} // namespace fulvex
