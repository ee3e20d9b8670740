#include "phase_noise_result.h"

#include "number_text.h"
#include "phase_noise_limit.h"

#include <algorithm>
#include <cmath>

namespace fulvex {

namespace {

std::string hertz(double value)
{
    return quantityText(value, "Hz", {}, 3);
}

constexpr double rounding = 1e-9;

/// Whether all that is to be integrated can be told.
bool isWhole(const PhaseNoise &found, const PhaseNoiseEntry &entry)
{
    return entry.from.value_or(found.lowest) >= found.lowest * (1 - rounding) &&
           entry.to.value_or(found.highest) <= found.highest * (1 + rounding);
}

/// From where on the curve is not far from the capture's own floor, to its end; none where it is not.
std::optional<double> seesItselfFrom(const PhaseNoise &found, double floor)
{
    constexpr double near = 3; // dB: as much of it is the capture's as is the carrier's
    std::optional<double> from;
    const auto curve = found.curve(found.lowest, found.highest, 60);
    for (auto point = curve.rbegin(); point != curve.rend() && point->value < floor + near; ++point)
        from = point->offset;
    return from;
}

std::string wanted(const PhaseNoise &found, double lowest)
{
    const double length = recordFor(lowest), factor = found.lowest / lowest;
    return "From " + hertz(lowest) + " on it takes a record of " + quantityText(length, "s", {}, 3) + ", " +
           fixedText(std::ceil(factor * 10) / 10, 1) +
           " times this one. The same number of samples lasts as long at as much less of the rate, while each edge "
           "keeps some samples.";
}

} // namespace

void integrate(PhaseNoiseResult &result, const PhaseNoiseEntry &entry)
{
    const PhaseNoise &found = *result.found;
    result.remarks.clear();
    result.span.from = std::max(found.lowest, entry.from.value_or(found.lowest));
    result.span.to = std::min(found.highest, entry.to.value_or(found.highest));
    if (!(result.span.from < result.span.to)) {
        result.span.from = found.lowest;
        result.span.to = found.highest;
        result.remarks.push_back("Nothing of what is to be integrated can be told: integrated from " +
                                 hertz(found.lowest) + " to " + hertz(found.highest) +
                                 " instead. Choose limits between these, or take a longer capture.");
    }
    result.span.lines = entry.lines;
    result.span.except = entry.except;
    result.jitter = found.jitter(result.span);
    if (entry.from && *entry.from < found.lowest * (1 - rounding))
        result.remarks.push_back("Integrated from " + hertz(found.lowest) + " on, not from " + hertz(*entry.from) +
                                 ": that needs a record of " + quantityText(recordFor(*entry.from), "s", {}, 3) + ".");
    if (entry.to && *entry.to > found.highest * (1 + rounding))
        result.remarks.push_back(
            "Integrated up to " + hertz(found.highest) + ", not to " + hertz(*entry.to) + ": " +
            (found.ofData ? "beyond, too many edges of data are missing." : "beyond, edges are too few."));
    if (entry.lowest && *entry.lowest < found.lowest * (1 - rounding))
        result.remarks.push_back(wanted(found, *entry.lowest));
    if (found.ofData)
        result.remarks.push_back("A carrier of data: told up to " + hertz(found.highest) +
                                 ", beyond which edges that data leave out distort it.");
    if (result.floor) {
        if (const auto from = seesItselfFrom(found, *result.floor))
            result.remarks.push_back("From " + hertz(*from) + " on this is the capture's own noise, which makes " +
                                     fixedText(*result.floor, 1) +
                                     " dBc/Hz: a larger amplitude in the input's range, or steeper edges, lower it.");
    }
}

void judge(PhaseNoiseResult &result, const PhaseNoiseEntry &entry)
{
    result.verdict = Verdict::none;
    result.worst.reset();
    if (!result.found || (entry.limitOffsets.empty() && !entry.limitJitter)) return;
    const PhaseNoiseLimit::Check check = PhaseNoiseLimit{entry.limitOffsets, entry.limitLevels}.check(*result.found);
    result.worst = check.worst;
    // What of it is told may be too much; where it is not, what is not told may be.
    const bool all = !entry.limitJitter || isWhole(*result.found, entry);
    const bool told =
        std::max(result.span.from, entry.from.value_or(0)) < std::min(result.span.to, entry.to.value_or(HUGE_VAL));
    if (check.fails || (entry.limitJitter && told && result.jitter.value > *entry.limitJitter)) {
        result.verdict = Verdict::fail;
        return;
    }
    if (!all)
        result.remarks.push_back("Its limit of jitter is not tested: not all that is to be integrated can be told.");
    if (!check.whole)
        result.remarks.push_back("Its limit is not tested below " + hertz(result.found->lowest) + " or above " +
                                 hertz(result.found->highest) + ": no verdict, but that it fails nowhere between.");
    if (!check.passes)
        result.remarks.push_back("At " + hertz(check.worst->offset) + " it exceeds its limit by " +
                                 fixedText(-check.worst->value, 1) +
                                 " dB, which is less than is certain there: no verdict; a longer record, or several "
                                 "captures averaged, would decide.");
    if (check.whole && check.passes && all) result.verdict = Verdict::pass;
}

} // namespace fulvex
