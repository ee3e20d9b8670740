#include "levels_entry.h"

#include "error.h"

#include <algorithm>
#include <functional>

namespace fulvex {

namespace {
constexpr Choice levelKinds[] = {{"percent", "% of the amplitude"}, {"absolute", "the channel's unit"}};
constexpr Choice stateRules[] = {
    {"histogram", "where it rests most"}, {"extremes", "its extremes"}, {"fixed", "given values"}};
} // namespace

std::vector<Field> fieldsOf(LevelsEntry &entry)
{
    const char *unit = entry.kind == "percent" ? "%" : channelUnit;
    const bool fixed = entry.states == "fixed";
    return {
        idField(entry.id),
        {.key = "kind", .words = "levels in", .always = true, .choices = levelKinds, .value = &entry.kind},
        {.key = "low", .words = "low", .unit = unit, .always = true, .value = &entry.low},
        {.key = "mid", .words = "mid", .unit = unit, .always = true, .value = &entry.mid},
        {.key = "high", .words = "high", .unit = unit, .always = true, .value = &entry.high},
        {.key = "states", .words = "states by", .always = true, .choices = stateRules, .value = &entry.states},
        {.key = "state_low", .words = "low state", .unit = channelUnit, .belongs = fixed, .value = &entry.stateLow},
        {.key = "state_high", .words = "high state", .unit = channelUnit, .belongs = fixed, .value = &entry.stateHigh},
        {.key = "symbol_levels", .unit = channelUnit, .letters = 16, .value = &entry.symbolLevels},
        {.key = "thresholds", .unit = channelUnit, .letters = 15, .value = &entry.thresholds},
        {.key = "hysteresis",
         .words = "hysteresis",
         .unit = unit,
         .least = 0,
         .none = "10 % of the swing",
         .wrong = "is negative",
         .mend = "give the whole width of the band, 0 or more",
         .value = &entry.hysteresis},
    };
}

void checkEntry(const LevelsEntry &entry, const std::string &where)
{
    if (!(entry.low < entry.mid && entry.mid < entry.high))
        throw Error(where, "low, mid and high do not rise", "give them in rising order");
    if (entry.states == "fixed" && (!entry.stateLow || !entry.stateHigh || !(*entry.stateLow < *entry.stateHigh)))
        throw Error(where, "fixed states need \"state_low\" below \"state_high\"", "give both in V");
    const auto needsRising = [&](const char *key, const std::vector<double> &list) {
        if (std::adjacent_find(list.begin(), list.end(), std::greater_equal()) != list.end())
            throw Error(where + "." + key, "does not rise", "give them from the lowest up, no two alike");
    };
    needsRising("symbol_levels", entry.symbolLevels);
    needsRising("thresholds", entry.thresholds);
}

} // namespace fulvex
