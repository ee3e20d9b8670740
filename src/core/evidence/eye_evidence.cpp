#include "eye_evidence.h"

#include "clock_symbols.h"
#include "evidence_support.h"
#include "eye_box.h"
#include "run_evidence.h"
#include "symbol_context.h"
#include "symbol_levels.h"
#include "symbol_middles.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <tuple>

namespace fulvex {

namespace {

RecordSpan aroundInterval(double time, double unitInterval, const std::string &channel, bool failure)
{
    return {time - unitInterval / 2, time + unitInterval / 2, channel, failure};
}

/// Says of each unit interval which symbols are about it, and of all what they share.
void addSymbols(Evidence &found, const EyeResult &eye)
{
    if (eye.rule.across.seconds) return; // no symbols lie about an edge
    std::vector<std::int64_t> places;
    for (const Evidence::Item &item : found.items) places.push_back(item.unitInterval);
    SymbolContext context = symbolsAbout(eye, places);
    for (std::size_t i = 0; i < context.each.size(); ++i) found.items[i].symbols = std::move(context.each[i]);
    found.pattern = context.common;
    if (std::int64_t(found.items.size()) == found.count)
        found.rhythm = rhythmOf(std::move(places), found.all, eye.unitInterval);
}

/// How an eye was folded, but of what the question is about alone.
EyeRule ruleWithin(const EyeResult &eye, const Question &question)
{
    EyeRule rule = eye.rule;
    if (!question.times) return rule;
    const auto at = [&](double time) {
        const double ui = eye.by->map.unitIntervalAt(eye.by->map.axis().positionOf(time));
        return std::int64_t(std::clamp(std::ceil(ui), double(rule.first), double(rule.last)));
    };
    const std::int64_t last = at(question.times->second);
    rule.first = at(question.times->first);
    rule.last = std::max(rule.first, last);
    return rule;
}

} // namespace

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
    found.atEdges = mask.atEdges;
    found.none = mask.atEdges ? "Nothing failed: what lies about every edge stays clear of the mask."
                              : "Nothing failed: every unit interval stays clear of the mask.";
    found.step = mask.captures.empty() ? stepOf(results, mask.source) : finestInterval(results) / 10;
    std::vector<MaskFailure> failures = mask.result->worst;
    if (question.times) {
        // The deepest and the first are kept: of a span of time those that are among either.
        failures.insert(failures.end(), mask.result->failures.begin(), mask.result->failures.end());
        std::erase_if(failures, [&](const MaskFailure &f) { return !lies(question.times, f.worstTime); });
        std::sort(failures.begin(), failures.end(), [](const MaskFailure &a, const MaskFailure &b) {
            return std::tie(b.deepest, a.capture, a.unitInterval) < std::tie(a.deepest, b.capture, b.unitInterval);
        });
        const auto same = [](const MaskFailure &a, const MaskFailure &b) {
            return a.capture == b.capture && a.unitInterval == b.unitInterval;
        };
        failures.erase(std::unique(failures.begin(), failures.end(), same), failures.end());
        found.count = std::int64_t(failures.size());
        found.none = "No failure that is kept lies there: the deepest thousand are, and the first thousand.";
    }
    for (const MaskFailure &f : failures) {
        if (found.items.size() >= wanted) break;
        Evidence::Item item;
        item.time = f.worstTime;
        item.place = aroundInterval(f.worstTime, mask.lasts, mask.source, true);
        item.place.capture = f.capture;
        item.value = f.deepest;
        item.unitInterval = f.unitInterval;
        item.words = mask.definition.areas[std::size_t(f.area)].name;
        found.items.push_back(std::move(item));
    }
    const EyeResult *eye = findEntry(results.eyes, mask.eye);
    if (eye && mask.captures.empty()) addSymbols(found, *eye);
    return found;
}

Evidence ofSymbols(const Results &results, const EyeResult &eye, const Question &question, std::size_t wanted,
                   Progress &progress)
{
    Evidence found;
    found.of = Evidence::Of::passes;
    found.title = "where " + question.symbols + " is sent";
    found.step = stepOf(results, eye.source);
    if (const ChannelResult *channel = findEntry(results.channels, eye.source)) found.unit = channel->unit;
    found.none = "Nowhere are these symbols sent.";
    if (!eye.by || !eye.samples) {
        found.none =
            eye.reason.empty() ? "Several captures are added up here: ask each of them by itself." : eye.reason;
        return found;
    }
    const EyeRule rule = ruleWithin(eye, question);
    const UnitIntervalMap &map = eye.by->map;
    const auto symbols = symbolsOf(*eye.samples, map, {rule.first, rule.last}, rule.thresholds, progress);
    const auto places = placesOf(question.symbols, symbols);
    found.count = std::int64_t(places.size());
    found.all = rule.last - rule.first;
    const auto length =
        double(std::count_if(question.symbols.begin(), question.symbols.end(), [](char word) { return word != ' '; }));
    for (const std::int64_t place : places) {
        if (found.items.size() == wanted) break;
        const std::int64_t n = rule.first + place;
        const auto timeOf = [&](double ui) { return map.axis().timeOf(map.positionOf(ui)); };
        Evidence::Item item;
        item.time = timeOf(double(n));
        item.place = {item.time, timeOf(double(n) + length), eye.source};
        std::array<double, 1> middle{};
        SymbolMiddles(*eye.samples, map).values(n, middle);
        item.value = middle[0];
        item.unitInterval = n;
        found.items.push_back(std::move(item));
    }
    addSymbols(found, eye);
    return found;
}

Evidence ofPasses(const Results &results, const EyeResult &eye, const Question &question, std::size_t wanted,
                  Progress &progress)
{
    Evidence found;
    found.of = Evidence::Of::passes;
    const bool atEdges = found.atEdges = eye.rule.across.seconds;
    const bool ofPattern = eye.rule.overlay() && !atEdges;
    found.title = atEdges     ? "edges about which the trace passes there"
                  : ofPattern ? "repeats of the pattern that pass there"
                              : "unit intervals that pass there";
    found.step = stepOf(results, eye.source);
    if (const ChannelResult *channel = findEntry(results.channels, eye.source)) found.unit = channel->unit;
    if (!eye.by || !eye.samples) {
        found.none =
            eye.reason.empty() ? "Several captures are added up here: ask each of them by itself." : eye.reason;
        return found;
    }
    EyeBox box{0, double(eye.rule.laps.lasts), eye.fold->picture.rows.low(), eye.fold->picture.rows.high()};
    if (question.phases) {
        box.fromPhase = eye.rule.across.unitIntervals(question.phases->first);
        box.toPhase = eye.rule.across.unitIntervals(question.phases->second);
    }
    if (question.values) std::tie(box.low, box.high) = *question.values;
    const EyeRule rule = ruleWithin(eye, question);
    const EyePasses passes = passesThrough(eye.samples, eye.by->map, rule, box, wanted, progress);
    found.count = passes.count;
    found.all = passes.unitIntervals;
    found.none = atEdges     ? "About no edge the trace passes there."
                 : ofPattern ? "No repeat of the pattern passes there."
                             : "No unit interval passes there.";
    for (const EyePass &pass : passes.first) {
        Evidence::Item item;
        item.time = pass.time;
        item.place = aroundInterval(pass.time, eye.unitInterval, eye.source, false);
        item.value = pass.value;
        item.unitInterval = pass.unitInterval;
        found.items.push_back(std::move(item));
    }
    addSymbols(found, eye);
    return found;
}

} // namespace fulvex
