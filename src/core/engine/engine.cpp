#include "engine.h"

#include "capture_findings.h"
#include "capture_reader.h"
#include "error.h"
#include "evaluation.h"
#include "failure_text.h"
#include "number_text.h"

#include <cmath>

namespace fulvex {

Engine::Engine(std::filesystem::path masks, std::size_t budget) : m_masks(std::move(masks)), m_cache(budget) {}

Verdict verdictOf(const Row &row, const LimitEntry &limit)
{
    if (!limit.isSet()) return Verdict::none;
    if (!row.measurable() || !row.statistics.mean) return Verdict::fail;
    const double mean = *row.statistics.mean;
    return (limit.min && mean < *limit.min) || (limit.max && mean > *limit.max) ? Verdict::fail : Verdict::pass;
}

namespace {

/// Does `work`; gives what kept it from being done. A cancel goes on up.
template <typename Work>
std::string reasonAgainst(Work &&work)
{
    try {
        work();
        return {};
    } catch (const Cancelled &) {
        throw;
    } catch (const Unmeasurable &none) {
        return none.reason;
    } catch (...) {
        return failureText();
    }
}

void addFinding(CaptureResult &result, const char *check, const char *level, const std::string &text)
{
    result.findings.push_back({check, level, text, {}, {}, {}, {}});
}

Finding farStart(const TimeAxis &axis)
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

CaptureResult captureResult(Evaluation &evaluation, const CaptureEntry &entry, const Engine::Options &options)
{
    CaptureResult result;
    result.id = entry.id;
    result.file = entry.file;
    result.error = reasonAgainst([&] {
        const auto capture = evaluation.capture(entry).value;
        result.sources = capture->sources;
        result.format = capture->format;
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
        if (options.fingerprints || !entry.sha256.empty()) result.sha256 = evaluation.fingerprint(entry);
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

ChannelResult channelResult(Evaluation &evaluation, const ChannelEntry &entry, const Engine::Options &options)
{
    ChannelResult result;
    result.id = entry.id;
    result.unit = entry.unit.empty() ? "V" : entry.unit;
    result.error = reasonAgainst([&] {
        const auto node = evaluation.channel(entry.id);
        result.unit = node.unit;
        if (options.pyramids) result.pyramid = evaluation.pyramid(entry.id, options.sketches).value;
        result.source = node.source;
    });
    return result;
}

ClockResult clockResult(Evaluation &evaluation, const ClockEntry &entry)
{
    ClockResult result;
    result.id = entry.id;
    result.reason = reasonAgainst([&] {
        const auto node = evaluation.clock(entry.id);
        result.clock = node.clock;
        result.rate = node.clock->rate();
        result.rateUncertainty = node.rateUncertainty;
    });
    return result;
}

EyeResult eyeResult(Evaluation &evaluation, const EyeEntry &entry)
{
    EyeResult result;
    result.id = entry.id;
    result.source = entry.source;
    result.clock = entry.clock;
    result.reason = reasonAgainst([&] {
        const auto node = evaluation.eye(entry.id, true);
        result.fold = node.fold;
        result.crossings = node.crossings;
        result.unitInterval = node.clock->period() * node.clock->axis().interval;
    });
    return result;
}

void evaluateAll(Evaluation &evaluation, const Engine::Options &options, Results &results)
{
    const Document &document = evaluation.document();
    for (const CaptureEntry &entry : document.captures)
        results.captures.push_back(captureResult(evaluation, entry, options));
    for (const ChannelEntry &entry : document.channels)
        results.channels.push_back(channelResult(evaluation, entry, options));
    for (const ClockEntry &entry : document.clocks) results.clocks.push_back(clockResult(evaluation, entry));
    for (const EyeEntry &entry : document.eyes) results.eyes.push_back(eyeResult(evaluation, entry));
    for (const MaskEntry &entry : document.masks) results.masks.push_back(evaluation.mask(entry));
    for (const MeasurementEntry &entry : document.measurements) results.rows.push_back(evaluation.row(entry));
}

/// Marks captures that were written to since they were opened; whether there are any.
bool spoilDisturbed(Evaluation &evaluation)
{
    bool any = false;
    for (const CaptureEntry &entry : evaluation.document().captures) {
        const std::string why = evaluation.disturbance(entry);
        if (why.empty()) continue;
        evaluation.spoil(entry, why);
        any = true;
    }
    return any;
}

} // namespace

Results Engine::evaluate(const Document &document, const std::filesystem::path &base, Options options,
                         Progress &progress)
{
    m_cache.beginRun();
    auto own = std::make_shared<const Document>(document);
    Evaluation evaluation(*own, base, m_masks, m_cache, progress);
    // What was computed while a capture changed under it is thrown away, and once more without that capture: so each
    // time there is one less that could.
    while (true) {
        Results results;
        results.document = own;
        evaluateAll(evaluation, options, results);
        if (spoilDisturbed(evaluation)) continue;
        m_cache.endRun();
        return results;
    }
}

} // namespace fulvex
