#include "part_contents.h"

#include "jitter_parts.h"

#include <algorithm>
#include <cmath>
#include <optional>

namespace fulvex {

static constexpr std::int64_t mostCounted = std::int64_t(1) << 50; ///< by one capture

template <typename Archive>
static void describe(Archive &to, Moments &m)
{
    to(m.count, m.mean, m.squares, m.min, m.max);
}

template <typename Archive>
static void describe(Archive &to, NestedBins &bins)
{
    to(bins.exponent, bins.first, bins.count);
    if constexpr (Archive::reads) {
        constexpr int most = 2000;
        constexpr std::int64_t farthest = std::int64_t(1) << 60;
        to.need(bins.exponent >= -most && bins.exponent <= most && bins.count >= 0 && bins.first >= -farthest &&
                    bins.first <= farthest,
                "has bins that nobody makes");
    }
}

template <typename Archive>
static void describe(Archive &to, EyeCounts &counts)
{
    to(counts.columns, counts.across, counts.rows, counts.least, counts.most, counts.counts);
    if constexpr (Archive::reads) {
        const std::size_t cells = std::size_t(std::max(0, counts.columns)) * std::size_t(counts.rows.count);
        constexpr int most = 1 << 16;
        to.need(counts.columns > 0 && counts.columns <= most && counts.across > 0 && counts.across <= most &&
                    (counts.counts.empty() || counts.counts.size() == cells),
                "has an eye whose cells are not as many as they should be");
        constexpr double highest = 1e100;
        const auto areLaid = [&] {
            const NestedBins laid = EyeCounts::laidOut(counts.least, counts.most, counts.columns, counts.across).rows;
            const std::int64_t from = counts.rows.first - laid.first;
            return counts.rows.exponent == laid.exponent && from >= 0 && from + counts.rows.count <= laid.count;
        };
        to.need(counts.counts.empty() ||
                    (counts.least <= counts.most && counts.least >= -highest && counts.most <= highest && areLaid()),
                "has an eye whose rows are not as they are laid");
    }
}

template <typename Archive>
static void describe(Archive &to, EyeFold::Trace::Bin &bin)
{
    to(bin.count, bin.phase, bin.value);
}

template <typename Archive>
static void describe(Archive &to, EyeFold::Trace &trace)
{
    to(trace.bins);
}

template <typename Archive>
static void describe(Archive &to, EyeFold::Part &part)
{
    to(part.levels, part.traces);
    if constexpr (Archive::reads) {
        const std::size_t symbols = part.levels.size();
        to.need(part.traces.size() == (symbols > 1 ? symbols * (symbols - 1) : 0), "has an eye without its traces");
    }
}

template <typename Archive>
static void describe(Archive &to, EyeFold &fold)
{
    to(fold.picture, fold.curves.counts, fold.curves.unitIntervals, fold.unitIntervals, fold.samples,
       fold.interpolation, fold.samplesPerUnitInterval, fold.parts, fold.stretches);
    if constexpr (Archive::reads) { // sorted, and their sum: as merging leaves them
        const auto unlike = [&](const EyeFold::Part &part) {
            return part.levels.size() != fold.parts.front().levels.size();
        };
        to.need(!fold.parts.empty() && std::none_of(fold.parts.begin(), fold.parts.end(), unlike) &&
                    std::none_of(fold.stretches.begin(), fold.stretches.end(), unlike),
                "has an eye of unlike parts");
        to.need(fold.curves.counts.counts.empty() || (fold.curves.counts.columns == fold.picture.columns &&
                                                      fold.curves.counts.across == fold.picture.across),
                "has an eye of unlike pictures");
        fold = EyeFold::merged({&fold}, Room::none);
    }
}

template <typename Archive>
static void describe(Archive &to, EyeCrossings &crossings)
{
    to(crossings.parts, crossings.stretches);
    if constexpr (Archive::reads) crossings = EyeCrossings::merged({&crossings});
}

template <typename Archive>
static void describe(Archive &to, EyeRule &rule)
{
    to(rule.thresholds, rule.least, rule.most, rule.first, rule.last, rule.interpolation, rule.curves, rule.columns,
       rule.rows, rule.laps.each, rule.laps.from, rule.laps.lasts, rule.across.origin, rule.across.scale,
       rule.across.seconds);
    if constexpr (Archive::reads) to.need(rule.laps.each > 0, "has an overlay of no length");
}

template <typename Archive>
static void describe(Archive &to, EyeResult &eye)
{
    to(eye.id, eye.source, eye.clock, eye.reason, eye.fold, eye.crossings, eye.rises, eye.falls, eye.unitInterval,
       eye.resolution, eye.rule, eye.triggers);
    if constexpr (Archive::reads) to.need(eye.fold || !eye.reason.empty(), "has an eye that is not there");
}

template <typename Archive>
static void describe(Archive &to, MaskFailure &failure)
{
    to(failure.time, failure.unitInterval, failure.deepest, failure.worstTime, failure.area, failure.phase,
       failure.value, failure.capture);
}

template <typename Archive>
static void describe(Archive &to, MaskResult &mask)
{
    to(mask.unitIntervals, mask.hits, mask.failedUnitIntervals, mask.areaHits, mask.margin, mask.failures, mask.worst,
       mask.spread.shift, mask.spread.counts, mask.stopped);
    if constexpr (Archive::reads) {
        constexpr int most = 50; // so that its last unit interval is a number
        to.need(mask.spread.shift >= 0 && mask.spread.shift <= most && mask.spread.counts.size() <= FailureSpread::most,
                "has failures that are spread as nobody spreads them");
    }
}

template <typename Archive>
static void describe(Archive &to, MaskRun::OfCapture &one)
{
    to(one.files, one.unitIntervals, one.hits, one.failedUnitIntervals, one.areaHits, one.margin, one.reason);
}

template <typename Archive>
static void describe(Archive &to, MaskDefinition &mask)
{
    std::string text;
    if constexpr (!Archive::reads) text = maskText(mask);
    to(text);
    if constexpr (Archive::reads) mask = parseMask(text, "the mask in the part");
}

template <typename Archive>
static void describe(Archive &to, MaskRun &mask)
{
    bool defined = !mask.definition.areas.empty(); // a mask that could not be read has none
    to(mask.id, mask.eye, mask.source, mask.atEdges, mask.lasts, mask.reason, defined);
    if (defined) to(mask.definition);
    to(mask.zero, mask.one, mask.appliedMargin, mask.result, mask.captures);
    if constexpr (Archive::reads) {
        const std::size_t areas = mask.definition.areas.size();
        to.need(!mask.result || (mask.result->areaHits.size() <= areas && defined), "has hits of areas that are not");
    }
}

template <typename Archive>
static void describe(Archive &to, PopulationTotal::Record &record)
{
    to(record.capture, record.reason, record.count, record.mean, record.squares, record.min, record.max, record.last,
       record.uncertainty);
    if constexpr (Archive::reads)
        to.need(record.count >= 0 && record.count <= mostCounted &&
                    (record.count == 0 ||
                     (record.min <= record.max && std::isfinite(record.min) && std::isfinite(record.max))),
                "has a row whose values are none");
}

template <typename Archive>
static void describe(Archive &to, PopulationTotal::Example &example)
{
    to(example.value, example.time, example.lasts, example.capture);
}

template <typename Archive>
static void describe(Archive &to, PopulationTotal &total)
{
    to(total.records, total.bins, total.counts, total.lowest, total.highest, total.parts, total.single);
    if constexpr (Archive::reads) {
        to.need(total.counts.empty() || total.counts.size() == std::size_t(total.bins.count),
                "has a row whose bins are not as many as they should be");
        double low = INFINITY, high = -INFINITY;
        for (const PopulationTotal::Record &record : total.records) {
            if (record.count == 0) continue;
            low = std::min(low, record.min);
            high = std::max(high, record.max);
        }
        constexpr double farthest = 1e200;
        const bool any = low <= high;
        to.need(any != total.counts.empty(), "has a row whose values are not in its bins");
        to.need(!any || (low >= -farthest && high <= farthest &&
                         total.bins.exponent >= NestedBins::over(low, high, PopulationTotal::keptBins).exponent &&
                         total.bins.covering(low, high) == total.bins),
                "has a row whose bins are not as they are laid");
    }
}

template <typename Archive>
static void describe(Archive &to, Row::KeptOut &out)
{
    to(out.time, out.lasts, out.value, out.by, out.reason);
}

template <typename Archive>
static void describe(Archive &to, Row &row)
{
    Measured kind;
    if constexpr (!Archive::reads) {
        kind.reason = row.measured->reason;
        kind.single = row.measured->single;
        kind.value = row.measured->value;
    }
    to(row.id, row.quantity, row.title, row.source, row.unit, row.keptOut, row.keptOutCount, row.provenance, row.total,
       kind.reason, kind.single, kind.value);
    if constexpr (Archive::reads) {
        to.need(row.total != nullptr, "has a row without its values");
        row.measured = std::make_shared<const Measured>(std::move(kind));
    }
}

template <typename Archive>
static void describe(Archive &to, PowerSpectrum::Part &part)
{
    to(part.segments, part.leftOut, part.sums);
}

template <typename Archive>
static void describe(Archive &to, PowerSpectrum &power)
{
    to(power.window, power.highest, power.step, power.noiseBandwidth, power.segments, power.leftOut, power.share,
       power.density, power.parts);
    if constexpr (Archive::reads) {
        to.need(power.window <= Window::sevenTerms && power.step > 0 && power.segments > 0 && power.density.size() > 1,
                "has a spectrum of nothing");
        const auto areDensities = [](const std::vector<double> &list) {
            return std::all_of(list.begin(), list.end(), [](double one) { return one >= 0 && std::isfinite(one); });
        };
        to.need(areDensities(power.density) && std::isfinite(power.step) && power.segments <= mostCounted,
                "has a spectrum of no numbers");
        for (const PowerSpectrum::Part &part : power.parts)
            to.need(part.segments == 0 || (part.sums.size() == power.density.size() && areDensities(part.sums) &&
                                           part.segments > 0 && part.segments <= mostCounted),
                    "has a spectrum of unlike parts");
    }
}

template <typename Archive>
static void describe(Archive &to, SpectrumResult &spectrum)
{
    std::optional<PowerSpectrum> power;
    if constexpr (!Archive::reads)
        if (spectrum.spectrum) power = spectrum.spectrum->power;
    to(spectrum.id, spectrum.kind, spectrum.source, spectrum.row, spectrum.to, spectrum.unit, spectrum.toUnit,
       spectrum.reason, spectrum.share, spectrum.provenance, power);
    if constexpr (Archive::reads)
        if (power) spectrum.spectrum = std::make_shared<const Spectrum>(Spectrum::of(std::move(*power)));
}

template <typename Archive>
static void describe(Archive &to, PhaseNoise::Piece &piece)
{
    to(piece.from, piece.to, piece.power, piece.byLength, piece.noise, piece.independent);
}

template <typename Archive>
static void describe(Archive &to, PhaseNoise::Line &line)
{
    to(line.offset, line.level, line.meanSquare);
}

template <typename Archive>
static void describe(Archive &to, PhaseNoise &noise)
{
    to(noise.carrier, noise.ofData, noise.lowest, noise.highest, noise.edges, noise.records, noise.pieces, noise.lines,
       noise.reason);
    if constexpr (Archive::reads)
        to.need(noise.carrier > 0 && noise.records > 0 && !noise.pieces.empty(), "has phase noise of no carrier");
}

template <typename Archive>
static void describe(Archive &to, PhaseNoiseResult &noise)
{
    to(noise.id, noise.source, noise.reason, noise.found, noise.span.from, noise.span.to, noise.span.lines,
       noise.span.except, noise.floor);
}

template <typename Archive>
static void describe(Archive &to, SymbolPattern &pattern)
{
    to(pattern.kind, pattern.order, pattern.inverted, pattern.length);
}

template <typename Archive>
static void describe(Archive &to, ClockResult &clock)
{
    to(clock.id, clock.reason, clock.rate, clock.rateUncertainty, clock.unitIntervals, clock.levels, clock.transitions,
       clock.pattern);
    if constexpr (Archive::reads)
        to.need(clock.transitions.empty() || clock.transitions.size() == clock.levels.size() * clock.levels.size(),
                "has a clock whose transitions are not as many as they should be");
}

template <typename Archive>
static void describe(Archive &to, BudgetResult &budget)
{
    to(budget.id, budget.source, budget.reason, budget.ofData);
}

template <typename Archive>
static void describe(Archive &to, ChannelResult &channel)
{
    to(channel.id, channel.unit, channel.error, channel.unitStated, channel.remark);
}

template <typename Archive>
static void describe(Archive &to, StatedFact &fact)
{
    to(fact.what, fact.value);
}

/// As it is told; what would mend it is a matter of the capture where it lies.
template <typename Archive>
static void describe(Archive &to, Finding &finding)
{
    to(finding.check, finding.level, finding.text, finding.channel, finding.from, finding.to);
}

template <typename Archive>
static void describe(Archive &to, CaptureResult &capture)
{
    to(capture.id, capture.file, capture.format, capture.sha256, capture.error, capture.channels, capture.samples,
       capture.sampleInterval, capture.findings, capture.stated);
}

template <typename Archive>
static void describe(Archive &to, JitterResult &jitter)
{
    to(jitter.key, jitter.sums);
    if constexpr (Archive::reads) to.need(jitter.sums != nullptr, "has jitter that is not there");
}

template <typename Archive>
static void contents(Archive &to, CountedCapture &one)
{
    to(one.name, one.fingerprint, one.failed);
}

template <typename Archive>
static void contents(Archive &to, Results &results)
{
    to(results.varied, results.captures, results.channels, results.clocks, results.rows, results.eyes, results.masks,
       results.spectra, results.budgets, results.phaseNoise, results.jitter);
}

void describe(PartWriter &to, CountedCapture &one)
{
    contents(to, one);
}

void describe(PartReader &from, CountedCapture &one)
{
    contents(from, one);
}

void describe(PartWriter &to, Results &results)
{
    contents(to, results);
}

void describe(PartReader &from, Results &results)
{
    contents(from, results);
}

} // namespace fulvex
