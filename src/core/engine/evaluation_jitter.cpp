#include "budget_result.h"
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

Evaluation::Node<JitterSums> Evaluation::jitterSums(const MeasurementEntry &entry)
{
    const Node<JitterMakeUp> made = jitter(entry);
    const std::string key = keyOf("jitter sums", made.key);
    return {key, m_cache.get<JitterSums>(key, [&] { return JitterSums::of(*made.value, m_progress); })};
}

BudgetResult Evaluation::budget(const BudgetEntry &entry)
{
    const MeasurementEntry as = rowOf(entry);
    BudgetResult result;
    result.by = clock(entry.clock).clock;
    result.found = jitter(as).value;
    if (!result.found->reason.empty()) throw Unmeasurable{result.found->reason};
    result.ofData = entry.data.value_or(!isClockLike(result.found->edges));
    setBudget(result, entry, jitterTails(as).value);
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
