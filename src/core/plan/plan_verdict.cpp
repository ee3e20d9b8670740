#include "plan_verdict.h"

#include "comparison.h"
#include "count_text.h"
#include "number_text.h"

#include <algorithm>
#include <cmath>

namespace fulvex {

namespace {

constexpr double sure = 2; ///< standard uncertainties

/// A number as a test takes it.
struct Taken {
    std::optional<double> value, uncertainty, scatter; ///< scatter: the part that more values make smaller
    std::int64_t count = 0;
};

/// The part of a mean's uncertainty that a longer record makes smaller: not what levels, converters and interpolation
/// leave. Where no parts are told it is all of it.
std::optional<double> shrinkingOf(const Statistics &s)
{
    if (s.parts.empty()) return s.uncertainty;
    double squares = 0;
    for (const UncertaintyPart &part : s.parts) {
        const std::string_view from = part.from;
        const bool stays = from == "levels" || from == "quantisation" || from == "interpolation" || from == "noise";
        if (!stays) squares += part.value * part.value;
    }
    return std::sqrt(squares);
}

Taken takenOf(const Row &row, const std::string &statistic)
{
    const Statistics &s = row.statistics;
    Taken taken;
    taken.count = s.count;
    const std::optional<double> scatter = shrinkingOf(s);
    if (statistic == "min") {
        taken.value = s.min;
    } else if (statistic == "max") {
        taken.value = s.max;
    } else if (statistic == "std") {
        taken.value = s.std;
        if (s.std && s.count > 1) {
            ComparedNumber mean;
            mean.value = s.mean;
            taken.uncertainty = taken.scatter = spreadOf(mean, s.count, *s.std, scatter).uncertainty;
        }
    } else {
        taken.value = s.mean;
        taken.uncertainty = s.uncertainty;
        taken.scatter = scatter;
    }
    return taken;
}

/// Rounded up to two digits: no more is known of what would be enough.
double roundedUp(double value)
{
    const double step = std::pow(10, std::floor(std::log10(value)) - 1);
    return std::ceil(value / step) * step;
}

std::string adviceFor(const Taken &taken, double off, const std::string &unit, double duration)
{
    const double u = *taken.uncertainty, scatter = std::min(u, taken.scatter.value_or(0));
    const double rest = std::sqrt(std::max(0.0, u * u - scatter * scatter)), allowed = off / sure;
    const std::string lies = "It lies " + quantityText(off, unit, off / 10) +
                             " off its limit, and twice its uncertainty is " + quantityText(sure * u, unit, u / 5) +
                             ": ";
    if (!(allowed > rest) || !(scatter > 0) || taken.count < 1)
        return lies + "more of the same does not decide it. " +
               (rest > 0 ? "What stays uncertain is not what scatters: " : "") +
               "levels, interpolation and resolution have to be known better, or the device is on its limit.";
    const double times = scatter * scatter / (allowed * allowed - rest * rest);
    if (taken.count == 1) { // one number of the whole record
        const std::string more = "about " + quantityText(roundedUp(times), "", {}, 2) + " times as much";
        return lies + more +
               (duration > 0 ? " (captures of " + quantityText(roundedUp(times * duration), "s", {}, 2) + " in all)"
                             : "") +
               " would decide it.";
    }
    const double values = roundedUp(times * double(taken.count));
    constexpr double mostWorth = 1e12; // values: nobody captures that many
    if (!(values < mostWorth)) return lies + "no record of any length decides it.";
    std::string words = lies + "about " + countText(values) + " values would decide it";
    if (duration > 0) words += " (captures of " + quantityText(roundedUp(times * duration), "s", {}, 2) + " in all)";
    return words + ".";
}

void decide(TestOutcome &outcome, const Taken &taken, double duration)
{
    outcome.value = taken.value;
    outcome.uncertainty = taken.uncertainty;
    outcome.count = taken.count;
    if (!taken.value || !std::isfinite(*taken.value)) {
        outcome.verdict = TestVerdict::unmeasurable;
        if (outcome.reason.empty()) outcome.reason = "has no such number";
        return;
    }
    const Margin margin = marginOf(*taken.value, {outcome.least, outcome.most});
    const double inside = margin.inside;
    outcome.margin = margin.share;
    outcome.verdict = inside >= 0 ? TestVerdict::pass : TestVerdict::fail;
    if (!taken.uncertainty || !(*taken.uncertainty > 0) || std::abs(inside) > sure * *taken.uncertainty) return;
    outcome.verdict = TestVerdict::undecidable;
    outcome.advice = adviceFor(taken, std::abs(inside), outcome.unit, duration);
}

TestVerdict verdictAs(Verdict verdict)
{
    return verdict == Verdict::pass   ? TestVerdict::pass
           : verdict == Verdict::fail ? TestVerdict::fail
                                      : TestVerdict::open;
}

void judgeMask(TestOutcome &outcome, const MaskRun &mask)
{
    outcome.ofMask = true;
    outcome.reason = mask.reason;
    outcome.most = 0;
    if (!mask.result) {
        outcome.verdict = TestVerdict::unmeasurable;
        return;
    }
    outcome.value = double(mask.result->failedUnitIntervals);
    outcome.count = mask.result->unitIntervals;
    outcome.margin = mask.result->margin;
    outcome.verdict = verdictAs(mask.verdict);
}

} // namespace

const char *verdictName(TestVerdict verdict)
{
    switch (verdict) {
    case TestVerdict::pass:
        return "pass";
    case TestVerdict::fail:
        return "fail";
    case TestVerdict::undecidable:
        return "undecidable";
    case TestVerdict::unmeasurable:
        return "unmeasurable";
    case TestVerdict::open:
        break;
    }
    return "open";
}

Margin marginOf(double value, const LimitEntry &limit)
{
    Margin margin{INFINITY, {}};
    double nearer = 0;
    if (limit.max) margin.inside = *limit.max - value, nearer = *limit.max;
    if (limit.min && value - *limit.min < margin.inside) margin.inside = value - *limit.min, nearer = *limit.min;
    const double scale = limit.min && limit.max ? (*limit.max - *limit.min) / 2 : std::abs(nearer);
    if (scale > 0) margin.share = margin.inside / scale;
    return margin;
}

TestOutcome judged(const PlanTest &test, const Results &results, double duration)
{
    TestOutcome outcome;
    outcome.id = test.id;
    outcome.title = test.title;
    const auto name = [&](const std::string &title) {
        if (outcome.title.empty()) outcome.title = title;
    };
    if (const Row *row = findEntry(results.rows, test.of)) {
        name(row->title);
        outcome.unit = row->unit;
        outcome.least = test.limit.min;
        outcome.most = test.limit.max;
        outcome.reason = row->reason;
        decide(outcome, row->measurable() ? takenOf(*row, test.statistic) : Taken{}, duration);
    } else if (const MaskRun *mask = findEntry(results.masks, test.of)) {
        name(mask->definition.title.empty() ? "mask" : mask->definition.title);
        judgeMask(outcome, *mask);
    } else if (const BudgetResult *budget = findEntry(results.budgets, test.of)) {
        name("total jitter");
        outcome.unit = "s";
        outcome.reason = budget->reason;
        const BudgetEntry *entry = findEntry(results.document->budgets, test.of);
        outcome.most = entry->limit.value_or(1) * budget->budget.unitInterval;
        Taken taken;
        if (budget->found && budget->reason.empty()) {
            taken = {budget->budget.total, budget->budget.uncertainty, budget->budget.uncertainty,
                     budget->found->count};
        }
        decide(outcome, taken, duration);
    } else if (const PhaseNoiseResult *noise = findEntry(results.phaseNoise, test.of)) {
        name("phase noise below its line");
        outcome.unit = "dB";
        outcome.reason = noise->reason;
        outcome.least = 0;
        Taken taken;
        if (noise->worst && noise->found && noise->reason.empty()) {
            const auto level = noise->found->at(noise->worst->offset);
            taken = {noise->worst->value, level ? std::optional(level->uncertainty) : std::nullopt, {}, 1};
        }
        decide(outcome, taken, duration);
        outcome.margin.reset(); // of decibels a share says nothing
    } else {
        outcome.verdict = TestVerdict::unmeasurable;
        outcome.reason = "is not among what was measured";
        name(test.of);
    }
    return outcome;
}

} // namespace fulvex
