#include "entry_results.h"

#include "capture_findings.h"
#include "clock_findings.h"
#include "level_keys.h"
#include "number_text.h"
#include "references.h"

#include <algorithm>
#include <cmath>

namespace fulvex {

static void addFinding(CaptureResult &result, const char *check, const char *level, const std::string &text)
{
    result.findings.push_back({check, level, text, {}, {}, {}, {}});
}

static Finding farStart(const TimeAxis &axis)
{
    const double origin = std::trunc(axis.start);
    const std::string from = fixedText(origin, 0) + " s";
    Finding finding{"far_start",
                    "warning",
                    "its times begin at " + from +
                        ", beside which seconds cannot tell its samples apart: measured values "
                        "stay exact, but moments, regions and markers are rounded",
                    {},
                    {},
                    {},
                    {}};
    finding.remedy = Remedy{Remedy::Kind::origin, {}, origin, 0, 0, "count times from " + from};
    return finding;
}

CaptureResult captureResult(Evaluation &evaluation, const CaptureEntry &entry, const Engine::Options &options,
                            bool whole)
{
    CaptureResult result;
    result.id = entry.id;
    result.pending = !whole;
    result.file = entry.file;
    result.error = reasonAgainst([&] {
        const auto capture = evaluation.capture(entry).value;
        result.sources = capture->sources;
        result.format = capture->format;
        result.stated = capture->stated;
        result.channels = std::int64_t(capture->columns.size());
        result.samples = capture->axis.count;
        result.sampleInterval = capture->intervalKnown ? capture->axis.interval : 0;
        for (const std::string &remark : capture->remarks) addFinding(result, "reading", "info", remark);
        for (const std::string &doubt : capture->doubts) addFinding(result, "time_column", "warning", doubt);
        if (!capture->intervalKnown)
            addFinding(result, "interval", "warning",
                       "the file states no sample interval: give \"sample_interval\" in its import");
        if (capture->intervalKnown && !capture->axis.isFine(evaluation.document().timeOrigin))
            result.findings.push_back(farStart(capture->axis));
        if (!whole) return;
        if (options.fingerprints || !entry.sha256.empty())
            result.sha256 = evaluation.fingerprint(evaluation.capture(entry));
        if (!entry.sha256.empty() && entry.sha256 != result.sha256)
            addFinding(result, "fingerprint", "warning",
                       "the file is not the one the project was saved with: its SHA-256 differs");
        if (options.check) {
            const auto found = captureFindings(evaluation, entry);
            result.findings.insert(result.findings.end(), found.begin(), found.end());
        }
    });
    return result;
}

ChannelResult channelResult(Evaluation &evaluation, const ChannelEntry &entry, bool pyramid, bool sketchWillDo)
{
    ChannelResult result;
    result.id = entry.id;
    result.unit = entry.unit.empty() ? "V" : entry.unit;
    result.error = reasonAgainst([&] {
        const auto node = evaluation.channel(entry.id);
        result.unit = node.unit;
        result.unitStated = node.unitStated;
        result.remark = node.source->remark();
        if (pyramid) result.pyramid = evaluation.pyramid(entry.id, sketchWillDo).value;
        result.source = node.source;
    });
    return result;
}

/// How often each symbol follows each, of so many; nothing of two.
static std::vector<std::int64_t> transitionsOf(const EdgeList &edges, std::size_t symbols)
{
    std::vector<std::int64_t> counts(symbols * symbols);
    for (std::size_t i = 0; symbols && i < edges.size(); ++i)
        ++counts[edges.symbolBefore(i) * symbols + edges.symbolBehind(i)];
    return counts;
}

ClockResult clockResult(Evaluation &evaluation, const ClockEntry &entry, const Engine::Options &options)
{
    return keptResult<ClockResult>(evaluation, entry.id, [&](ClockResult &result) {
        const auto node = evaluation.clock(entry.id);
        result.clock = node.clock;
        result.rate = node.clock->map.rate();
        result.unitIntervals = node.clock->map.runningUnitIntervals();
        result.rateUncertainty = node.rateUncertainty;
        if (node.levels) result.levels = node.levels->levels;
        result.transitions = transitionsOf(node.clock->edges.edges(), result.levels.size());
        if (options.clockFacts) result.findings = clockFindings(evaluation, entry, node);
        if (options.clockFacts && evaluation.ofAll()) {
            result.pattern = *evaluation.pattern(entry);
            result.samples = evaluation.channel(entry.source).source;
            result.thresholds = evaluation.symbols(entry, 2 * longestPattern).value->thresholds;
        }
        if (options.pyramids && entry.method == "pll") result.jitter = evaluation.jitterSpectrum(entry);
    });
}

static void addCrossings(EyeResult &to, Evaluation &evaluation, const Evaluation::EyeNode &node, std::size_t opening,
                         bool known)
{
    const LevelRule usual = eyeLevelsRule(LevelsEntry());
    to.crossings.push_back(evaluation.eyeCrossings(node, opening, known));
    const auto &rows = evaluation.document().measurements;
    const auto add = [&](const char *quantity, bool rising, auto &list) {
        const bool asked = std::any_of(rows.begin(), rows.end(), [&](const MeasurementEntry &row) {
            return row.eye == to.id && row.quantity == quantity;
        });
        list.push_back(asked ? evaluation.eyeTransitions(node, opening, usual, rising, known) : nullptr);
    };
    add("eye_rise_time", true, to.rises);
    add("eye_fall_time", false, to.falls);
}

EyeResult eyeResult(Evaluation &evaluation, const EyeEntry &entry, Crossings crossings)
{
    EyeResult found = keptResult<EyeResult>(evaluation, entry.id, [&](EyeResult &result) {
        const auto node = evaluation.eye(entry.id);
        result.fold = node.fold;
        result.samples = node.source;
        result.by = node.clock;
        result.rule = node.rule;
        result.triggers = node.triggers;
        result.unitInterval = node.clock->map.period() * node.clock->map.axis().interval;
        result.resolution = node.source->resolution();
        if (entry.shown == "error_ratio" && entry.atUnitIntervals() && evaluation.ofAll())
            result.errors = evaluation.errorRatios(node);
    });
    if (crossings != Crossings::none && found.fold && entry.atUnitIntervals()) {
        const auto node = evaluation.eye(entry.id);
        for (std::size_t opening = 0; opening < node.rule.thresholds.size(); ++opening)
            addCrossings(found, evaluation, node, opening, crossings == Crossings::known);
    }
    found.source = entry.source;
    found.clock = entry.clock;
    return found;
}

SpectrumResult spectrumResult(Evaluation &evaluation, const SpectrumEntry &entry, bool first)
{
    const auto make = [&](bool &lasts) {
        SpectrumResult result;
        result.reason = reasonAgainst([&] { result = evaluation.spectrum(entry); }, &lasts);
        return result;
    };
    bool lasts = true;
    SpectrumResult found = first ? make(lasts) : evaluation.kept<SpectrumResult>(entry.id, make);
    found.id = entry.id;
    found.kind = entry.kind;
    found.source = channelOf(evaluation.document(), entry.id);
    found.row = entry.row;
    found.to = entry.to;
    return found;
}

} // namespace fulvex
