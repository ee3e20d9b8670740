#include "evidence.h"

#include "eye_box.h"

#include <algorithm>
#include <cmath>
#include <numeric>

namespace fulvex {

namespace {

bool lies(const Question::Span &span, double value)
{
    return !span || (value >= span->first && value < span->second);
}

double intervalOf(const Results &results, const std::string &channel)
{
    const ChannelResult *result = findEntry(results.channels, channel);
    return result && result->source ? result->source->axis().interval : 0;
}

/// A tenth of the sample interval: moments a picosecond apart can be told apart.
double stepOf(const Results &results, const std::string &channel)
{
    return intervalOf(results, channel) / 10;
}

const MaskRun *maskOn(const Results &results, const std::string &eye)
{
    const auto found =
        std::find_if(results.masks.begin(), results.masks.end(), [&](const MaskRun &m) { return m.eye == eye; });
    return found == results.masks.end() ? nullptr : &*found;
}

Evidence ofFindings(const Results &results, const CaptureResult &capture, std::size_t wanted)
{
    Evidence found;
    found.of = Evidence::Of::findings;
    found.title = "the check of " + capture.id;
    found.none = capture.error.empty() ? "Nothing to remark: no clipping, gaps, skew or hum, edges have samples enough."
                                       : capture.error;
    found.count = found.all = std::int64_t(capture.findings.size());
    for (const bool warning : {true, false}) {
        for (const Finding &finding : capture.findings) {
            if ((finding.level == "warning") != warning || found.items.size() >= wanted) continue;
            // What is of the whole channel leads to all of it.
            const auto whole =
                wholeSpan(results, finding.channel.empty() ? std::vector<std::string>() : std::vector{finding.channel});
            const auto [from, to] = whole.value_or(std::pair(0.0, 0.0));
            Evidence::Item item;
            item.place = {finding.from.value_or(from), finding.to.value_or(to), finding.channel, false};
            item.time = item.place.from;
            item.words = (finding.channel.empty() ? "" : finding.channel + ": ") + finding.text;
            item.warning = warning;
            found.items.push_back(std::move(item));
        }
    }
    return found;
}

Evidence ofOccurrences(const Results &results, const Row &row, const Question &question, std::size_t wanted,
                       Progress &progress)
{
    Evidence found;
    found.of = Evidence::Of::occurrences;
    found.title = row.title;
    found.unit = row.unit;
    found.step = stepOf(results, row.source);
    if (!row.measurable()) {
        found.none = row.reason;
        return found;
    }
    if (row.measured->single && row.measured->population.size() == 0) {
        found.none = "One number for the whole record: select a quantity with occurrences, or a mask, to step through "
                     "its moments.";
        return found;
    }
    const Population &all = row.measured->population;
    const Statistics told = row.measured->single ? statisticsOf(all) : row.statistics;
    if (row.measured->single) found.unit = row.measured->momentsUnit;
    found.mean = told.mean.value_or(0);
    found.std = told.std.value_or(0);
    found.all = std::int64_t(all.size());
    std::vector<std::size_t> order;
    for (std::size_t i = 0; i < all.size(); ++i) {
        if (i % 65536 == 0) progress.advance(0);
        if (lies(question.values, all.value[i]) && lies(question.times, all.time(i))) order.push_back(i);
    }
    found.count = std::int64_t(order.size());
    found.none = "No occurrence lies there.";
    const auto end = order.begin() + std::ptrdiff_t(std::min(order.size(), wanted));
    const auto off = [&](std::size_t i) { return std::abs(all.value[i] - found.mean); };
    std::partial_sort(order.begin(), end, order.end(),
                      [&](std::size_t a, std::size_t b) { return std::pair(-off(a), a) < std::pair(-off(b), b); });
    order.erase(end, order.end());
    const double margin = 4 * intervalOf(results, row.source); // around an instant
    for (const std::size_t i : order) {
        const double around = all.span[i] > 0 ? 0 : margin;
        Evidence::Item item;
        item.time = all.time(i);
        item.place = {all.time(i) - around, all.end(i) + around, row.source, false};
        item.value = all.value[i];
        found.items.push_back(std::move(item));
    }
    return found;
}

RecordSpan aroundInterval(double time, double unitInterval, const std::string &channel, bool failure)
{
    return {time - unitInterval / 2, time + unitInterval / 2, channel, failure};
}

Evidence ofFailures(const Results &results, const MaskRun &mask, const Question &question, std::size_t wanted)
{
    Evidence found;
    found.of = Evidence::Of::failures;
    found.title = "what failed the mask";
    if (!mask.result) {
        found.none = mask.reason;
        return found;
    }
    found.count = mask.result->failedUnitIntervals;
    found.all = mask.result->unitIntervals;
    found.none = "Nothing failed: every unit interval stays clear of the mask.";
    const EyeResult *eye = findEntry(results.eyes, mask.eye);
    if (!eye) return found;
    found.step = stepOf(results, eye->source);
    std::vector<MaskFailure> failures = mask.result->worst;
    if (question.times) {
        // The deepest and the first are kept: of a span of time those that are among either.
        failures.insert(failures.end(), mask.result->failures.begin(), mask.result->failures.end());
        std::erase_if(failures, [&](const MaskFailure &f) { return !lies(question.times, f.worstTime); });
        std::sort(failures.begin(), failures.end(), [](const MaskFailure &a, const MaskFailure &b) {
            return std::pair(-a.deepest, a.unitInterval) < std::pair(-b.deepest, b.unitInterval);
        });
        const auto same = [](const MaskFailure &a, const MaskFailure &b) { return a.unitInterval == b.unitInterval; };
        failures.erase(std::unique(failures.begin(), failures.end(), same), failures.end());
        found.count = std::int64_t(failures.size());
        found.none = "No failure that is kept lies there: the deepest thousand are, and the first thousand.";
    }
    for (const MaskFailure &f : failures) {
        if (found.items.size() >= wanted) break;
        Evidence::Item item;
        item.time = f.worstTime;
        item.place = aroundInterval(f.worstTime, eye->unitInterval, eye->source, true);
        item.value = f.deepest;
        item.unitInterval = f.unitInterval;
        item.words = mask.definition.areas[std::size_t(f.area)].name;
        found.items.push_back(std::move(item));
    }
    return found;
}

Evidence ofPasses(const Results &results, const EyeResult &eye, const Question &question, std::size_t wanted,
                  Progress &progress)
{
    Evidence found;
    found.of = Evidence::Of::passes;
    found.title = "unit intervals that pass there";
    found.step = stepOf(results, eye.source);
    if (const ChannelResult *channel = findEntry(results.channels, eye.source)) found.unit = channel->unit;
    if (!eye.by || !eye.samples) {
        found.none =
            eye.reason.empty() ? "Several captures are added up here: ask each of them by itself." : eye.reason;
        return found;
    }
    EyeBox box{0, 1, eye.fold->picture.rows.low(), eye.fold->picture.rows.high()};
    if (question.phases) std::tie(box.fromPhase, box.toPhase) = *question.phases;
    if (question.values) std::tie(box.low, box.high) = *question.values;
    EyeRule rule = eye.rule;
    if (question.times) {
        const auto at = [&](double time) {
            const double ui = eye.by->map.unitIntervalAt(eye.by->map.axis().positionOf(time));
            return std::int64_t(std::clamp(std::ceil(ui), double(rule.first), double(rule.last)));
        };
        const std::int64_t last = at(question.times->second);
        rule.first = at(question.times->first);
        rule.last = std::max(rule.first, last);
    }
    const EyePasses passes = passesThrough(eye.samples, eye.by->map, rule, box, wanted, progress);
    found.count = passes.count;
    found.all = passes.unitIntervals;
    found.none = "No unit interval passes there.";
    for (const EyePass &pass : passes.first) {
        Evidence::Item item;
        item.time = pass.time;
        item.place = aroundInterval(pass.time, eye.unitInterval, eye.source, false);
        item.value = pass.value;
        item.unitInterval = pass.unitInterval;
        found.items.push_back(std::move(item));
    }
    return found;
}

} // namespace

Evidence evidenceFor(const Results &results, const Question &question, std::size_t wanted, Progress &progress)
{
    if (const CaptureResult *capture = findEntry(results.captures, question.id))
        return ofFindings(results, *capture, wanted);
    if (const Row *row = findEntry(results.rows, question.id))
        return ofOccurrences(results, *row, question, wanted, progress);
    if (const MaskRun *mask = findEntry(results.masks, question.id))
        return ofFailures(results, *mask, question, wanted);
    const EyeResult *eye = findEntry(results.eyes, question.id);
    if (eye && (question.phases || question.values)) return ofPasses(results, *eye, question, wanted, progress);
    if (const MaskRun *mask = eye ? maskOn(results, eye->id) : nullptr)
        return ofFailures(results, *mask, question, wanted);
    Evidence nothing;
    if (eye) {
        nothing.title = "the eye of " + eye->source;
        nothing.none = eye->reason.empty() ? "Drag a box over the eye: the unit intervals that pass through it appear "
                                             "here. With a mask, what fails it does."
                                           : eye->reason;
    }
    return nothing;
}

bool isPending(const Results &results, const Question &question)
{
    const auto pends = [&](const auto &list) {
        const auto *result = findEntry(list, question.id);
        return result && result->pending;
    };
    if (pends(results.captures) || pends(results.rows) || pends(results.masks)) return true;
    if (!findEntry(results.eyes, question.id)) return false;
    if (question.phases || question.values) return pends(results.eyes);
    const MaskRun *mask = maskOn(results, question.id);
    return mask && mask->pending;
}

} // namespace fulvex
