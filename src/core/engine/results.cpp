#include "results.h"

#include <algorithm>

namespace fulvex {

const char *verdictName(Verdict verdict)
{
    switch (verdict) {
    case Verdict::pass:
        return "pass";
    case Verdict::fail:
        return "fail";
    case Verdict::none:
        break;
    }
    return "none";
}

Results::Results() = default;
Results::~Results() = default;
Results::Results(const Results &) = default;
Results::Results(Results &&) noexcept = default;
Results &Results::operator=(const Results &) = default;
Results &Results::operator=(Results &&) noexcept = default;

std::string CaptureResult::disturbance() const
{
    for (const auto &source : sources) {
        if (std::string why = source->disturbance(); !why.empty()) return source->path().string() + ": " + why;
    }
    return {};
}

std::string Results::firstError() const
{
    for (const CaptureResult &capture : captures) {
        if (!capture.error.empty()) return capture.error;
    }
    for (const ChannelResult &channel : channels) {
        if (!channel.error.empty()) return channel.error;
    }
    return {};
}

bool Results::anyFailed(const std::set<std::string> &except) const
{
    const auto fails = [&](const auto &entry) { return entry.verdict == Verdict::fail && !except.contains(entry.id); };
    return std::any_of(rows.begin(), rows.end(), fails) || std::any_of(masks.begin(), masks.end(), fails) ||
           std::any_of(budgets.begin(), budgets.end(), fails) ||
           std::any_of(phaseNoise.begin(), phaseNoise.end(), fails);
}

const MaskRun *maskOn(const Results &results, const std::string &eye)
{
    const MaskEntry *mask = maskOn(*results.document, eye);
    return mask ? findEntry(results.masks, mask->id) : nullptr;
}

std::optional<std::pair<double, double>> wholeSpan(const Results &results, const std::vector<std::string> &channels)
{
    std::optional<std::pair<double, double>> span;
    for (const ChannelResult &channel : results.channels) {
        const bool asked =
            channels.empty() || std::find(channels.begin(), channels.end(), channel.id) != channels.end();
        if (!asked || !channel.source || channel.source->axis().count == 0) continue;
        const TimeAxis &axis = channel.source->axis();
        if (!span) span = {axis.start, axis.stop()};
        span->first = std::min(span->first, axis.start);
        span->second = std::max(span->second, axis.stop());
    }
    return span;
}

MaskRun::OfCapture MaskRun::counts(std::string files) const
{
    OfCapture counts;
    counts.files = std::move(files);
    counts.reason = reason;
    if (!result) return counts;
    counts.unitIntervals = result->unitIntervals;
    counts.hits = result->hits;
    counts.failedUnitIntervals = result->failedUnitIntervals;
    counts.areaHits = result->areaHits;
    counts.margin = result->margin;
    return counts;
}

} // namespace fulvex
