#include "budget_result.h"

#include "node_key.h"
#include "number_text.h"
#include "quantity.h"

#include <cmath>

namespace fulvex {

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
    if (found.records > 1) {
        for (const PeriodicLine &line : found.lines) {
            constexpr double nearlyAll = 0.995;
            if (line.share < nearlyAll)
                doubts.push_back("The line at " + quantityText(line.frequency, "Hz", {}, 4) + " stands in " +
                                 std::to_string(int(std::lround(100 * line.share))) +
                                 " % of the captures; it counts as if it stood in all.");
        }
    }
    return doubts;
}

std::string jitterKey(const MeasurementEntry &entry)
{
    const int *length = std::get_if<int>(&entry.pattern);
    return keyOf("jitter of all", entry.clock, entry.region, entry.opening.value_or(-1),
                 length ? std::to_string(*length) : std::get<std::string>(entry.pattern),
                 entry.data ? int(*entry.data) : 2);
}

MeasurementEntry rowOf(const BudgetEntry &entry)
{
    MeasurementEntry as;
    as.clock = entry.clock;
    as.region = entry.region;
    as.pattern = entry.pattern;
    as.data = entry.data;
    as.opening = entry.opening;
    return as;
}

void setBudget(BudgetResult &result, const BudgetEntry &entry, const std::shared_ptr<const JitterTails> &tails)
{
    if (tails->fit.reason.empty()) result.tails = tails;
    result.byTails = entry.method == "tail";
    if (result.byTails && !result.tails) throw Unmeasurable{tails->fit.reason};
    result.budget = budgetOf(*result.found, result.byTails ? result.tails.get() : nullptr, entry.ber, entry.without);
    result.remarks = doubtsAbout(*result.found, result.tails ? &result.tails->fit : nullptr);
}

void judge(BudgetResult &result, const BudgetEntry &entry)
{
    if (entry.limit && result.found)
        result.verdict =
            result.budget.total <= *entry.limit * result.budget.unitInterval ? Verdict::pass : Verdict::fail;
}

} // namespace fulvex
