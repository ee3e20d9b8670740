#include "evaluation.h"
#include "loop_presets.h"
#include "node_key.h"
#include "number_text.h"

#include <cmath>

namespace fulvex {

Evaluation::Node<JitterMakeUp> Evaluation::jitter(const MeasurementEntry &entry)
{
    const ClockNode by = clock(entry.clock);
    const std::size_t levels = by.levels ? by.levels->levels.size() : 2;
    const std::size_t openings = levels - 1;
    needOpening(entry.opening, openings);
    const std::optional<std::size_t> opening =
        openings > 1 && entry.opening ? std::optional(std::size_t(*entry.opening)) : std::nullopt;
    const auto positions = positionsIn(entry.region, by.clock->map.axis());
    JitterRule rule;
    if (const int *length = std::get_if<int>(&entry.pattern)) {
        if (*length < 1) throw Unmeasurable{"a pattern has a length of 1 UI or more: give one, \"auto\" or \"none\""};
        rule.pattern = *length;
    } else {
        const std::string &word = std::get<std::string>(entry.pattern);
        if (word != "auto" && word != "none")
            throw Unmeasurable{"\"" + word + "\" is no pattern: give its length in UI, \"auto\" or \"none\""};
        if (word == "none") rule.pattern = 0;
    }
    const std::string key = keyOf("jitter", by.key, positions.first, positions.second, int(opening.value_or(99)),
                                  rule.pattern.value_or(-1), entry.data ? int(*entry.data) : 2);
    return {key, m_cache.get<JitterMakeUp>(key, [&] {
                JitterEdges edges = jitterEdges(*by.clock, levels, positions, opening, m_progress);
                rule.data = entry.data.value_or(!isClockLike(edges));
                return makeUpOf(std::move(edges), rule, m_progress);
            })};
}

Evaluation::Node<JitterTails> Evaluation::jitterTails(const MeasurementEntry &entry)
{
    const Node<JitterMakeUp> made = jitter(entry);
    const std::string key = keyOf("tails", made.key);
    return {key, m_cache.get<JitterTails>(key, [&] { return tailsOf(*made.value); })};
}

/// What makes a budget doubtful.
static std::vector<std::string> doubtsAbout(const JitterMakeUp &found, const TailFit *tails)
{
    std::vector<std::string> doubts;
    const auto seconds = [](double value, double step) { return quantityText(value, "s", step); };
    if (tails) {
        const double apart = found.random - tails->random,
                     chance = std::hypot(found.randomUncertainty, tails->randomUncertainty);
        constexpr double much = 0.05, sure = 3;
        if (std::abs(apart) > sure * chance && std::abs(apart) > much * found.random)
            doubts.push_back("By its tails the random part is " + seconds(tails->random, tails->randomUncertainty) +
                             " rms, by its spectrum " + seconds(found.random, found.randomUncertainty) +
                             (apart > 0
                                  ? ": something bounded that is neither line nor pattern, as crosstalk is, hides "
                                    "in the spectrum. Take the tail method."
                                  : ": the tails are too few, or not those of a normal distribution."));
    }
    constexpr double fewRepeats = 30;
    if (found.data.pattern > 2 && found.data.repeats < fewRepeats)
        doubts.push_back("The pattern comes " + std::to_string(std::int64_t(found.data.repeats)) +
                         " times: from 30 on its part is told well. Take a longer capture.");
    return doubts;
}

BudgetResult Evaluation::budget(const BudgetEntry &entry)
{
    MeasurementEntry as;
    as.clock = entry.clock;
    as.region = entry.region;
    as.pattern = entry.pattern;
    as.data = entry.data;
    as.opening = entry.opening;
    BudgetResult result;
    result.by = clock(entry.clock).clock;
    result.found = jitter(as).value;
    if (!result.found->reason.empty()) throw Unmeasurable{result.found->reason};
    const auto tails = jitterTails(as).value;
    if (tails->fit.reason.empty()) result.tails = tails;
    result.byTails = entry.method == "tail";
    if (result.byTails && !result.tails) throw Unmeasurable{tails->fit.reason};
    result.ofData = entry.data.value_or(!isClockLike(result.found->edges));
    result.budget = budgetOf(*result.found, result.byTails ? result.tails.get() : nullptr, entry.ber, entry.without);
    result.remarks = doubtsAbout(*result.found, result.tails ? &result.tails->fit : nullptr);
    const ClockEntry &by = *findEntry(m_document.clocks, entry.clock);
    const double corner = loopPresets().front().bandwidthAt(1 / result.budget.unitInterval),
                 slow = slowerThan(corner, result.found->lines);
    constexpr double much = 0.05;
    if (by.method == "fixed" && result.ofData && slow > much * result.budget.total)
        result.remarks.push_back("Lines below " + quantityText(corner, "Hz", {}, 3) + " make " +
                                 quantityText(slow, "s", {}, 3) + " of it, which a receiver's loop follows (" +
                                 loopPresets().front().words +
                                 "): a fixed clock counts all of it. Let the clock be a loop.");
    return result;
}

} // namespace fulvex
