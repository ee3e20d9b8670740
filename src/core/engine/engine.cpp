#include "engine.h"

#include "capture_findings.h"
#include "capture_reader.h"
#include "error.h"
#include "evaluation.h"

namespace fulvex {

Engine::Engine(std::filesystem::path masks) : m_masks(std::move(masks)) {}

Verdict verdictOf(const Row &row, const std::optional<LimitEntry> &limit)
{
    if (!limit || (!limit->min && !limit->max)) return Verdict::none;
    if (!row.measurable() || !row.statistics.mean) return Verdict::fail;
    const double mean = *row.statistics.mean;
    return (limit->min && mean < *limit->min) || (limit->max && mean > *limit->max) ? Verdict::fail : Verdict::pass;
}

namespace {

CaptureResult captureResult(Evaluation &evaluation, const CaptureEntry &entry, const Engine::Options &options)
{
    CaptureResult result;
    result.id = entry.id;
    result.file = entry.file;
    try {
        const auto capture = evaluation.capture(entry).value;
        result.format = capture->format;
        result.channels = std::int64_t(capture->columns.size());
        result.samples = capture->axis.count;
        result.sampleInterval = capture->intervalKnown ? capture->axis.interval : 0;
        for (const std::string &remark : capture->remarks)
            result.findings.push_back({"reading", "info", remark, {}, {}, {}, {}});
        for (const std::string &doubt : capture->doubts)
            result.findings.push_back({"time_column", "warning", doubt, {}, {}, {}, {}});
        if (!capture->intervalKnown)
            result.findings.push_back({"interval",
                                       "warning",
                                       "the file states no sample interval: give \"sample_interval\" in its import",
                                       {},
                                       {},
                                       {},
                                       {}});
        if (options.fingerprints || !entry.sha256.empty()) result.sha256 = evaluation.fingerprint(entry);
        if (!entry.sha256.empty() && entry.sha256 != result.sha256)
            result.findings.push_back({"fingerprint",
                                       "warning",
                                       "the file is not the one the project was saved with: its SHA-256 differs",
                                       {},
                                       {},
                                       {},
                                       {}});
        if (options.check) {
            const auto found = captureFindings(evaluation, entry);
            result.findings.insert(result.findings.end(), found.begin(), found.end());
        }
    } catch (const Error &error) {
        result.error = error.what();
    }
    return result;
}

ChannelResult channelResult(Evaluation &evaluation, const ChannelEntry &entry, const Engine::Options &options)
{
    ChannelResult result;
    result.id = entry.id;
    result.unit = entry.unit;
    try {
        result.source = evaluation.channel(entry.id).source;
        if (options.pyramids) result.pyramid = evaluation.pyramid(entry.id, options.sketches).value;
    } catch (const Error &error) {
        result.error = error.what();
    }
    return result;
}

ClockResult clockResult(Evaluation &evaluation, const ClockEntry &entry)
{
    ClockResult result;
    result.id = entry.id;
    try {
        const auto node = evaluation.clock(entry.id);
        result.clock = node.clock;
        result.rate = node.clock->rate();
        result.rateUncertainty = node.rateUncertainty;
    } catch (const Unmeasurable &none) {
        result.reason = none.reason;
    } catch (const Error &error) {
        result.reason = error.what();
    }
    return result;
}

EyeResult eyeResult(Evaluation &evaluation, const EyeEntry &entry)
{
    EyeResult result;
    result.id = entry.id;
    result.source = entry.source;
    result.clock = entry.clock;
    try {
        const auto node = evaluation.eye(entry.id, true);
        result.fold = node.fold;
        result.crossings = node.crossings;
        result.unitInterval = node.clock->period() * node.clock->axis().interval;
    } catch (const Unmeasurable &none) {
        result.reason = none.reason;
    } catch (const Error &error) {
        result.reason = error.what();
    }
    return result;
}

MaskRun maskRun(Evaluation &evaluation, const MaskEntry &entry, const Results &results)
{
    const EyeResult *eye = findEntry(results.eyes, entry.eye);
    if (eye->reason.empty()) return evaluation.mask(entry);
    MaskRun run;
    run.id = entry.id;
    run.eye = entry.eye;
    run.reason = eye->reason;
    run.verdict = Verdict::fail;
    return run;
}

} // namespace

Results Engine::evaluate(const Document &document, const std::filesystem::path &base, Options options,
                         Progress &progress)
{
    m_cache.nextGeneration();
    auto own = std::make_shared<const Document>(document);
    Evaluation evaluation(*own, base, m_masks, m_cache, progress);
    Results results;
    results.document = own;
    for (const CaptureEntry &entry : own->captures)
        results.captures.push_back(captureResult(evaluation, entry, options));
    for (const ChannelEntry &entry : own->channels)
        results.channels.push_back(channelResult(evaluation, entry, options));
    for (const ClockEntry &entry : own->clocks) results.clocks.push_back(clockResult(evaluation, entry));
    for (const EyeEntry &entry : own->eyes) results.eyes.push_back(eyeResult(evaluation, entry));
    for (const MaskEntry &entry : own->masks) results.masks.push_back(maskRun(evaluation, entry, results));
    for (const MeasurementEntry &entry : own->measurements) results.rows.push_back(evaluation.row(entry));
    return results;
}

} // namespace fulvex
