#include "measurement_entry.h"

#include "entry_words.h"
#include "error.h"
#include "symbol_errors.h"

namespace fulvex {

namespace {
constexpr Choice gains[] = {{"ac_rms", "ac rms"}, {"amplitude", "state levels"}};
constexpr Choice budgetMethods[] = {{"spectral", "by its spectrum"}, {"tail", "by its tails"}};
} // namespace

std::vector<Field> fieldsOf(MeasurementEntry &entry)
{
    return {
        idField(entry.id),
        {.key = "quantity", .always = true, .value = &entry.quantity},
        {.key = "source", .words = "of", .refers = EntryKind::channel, .value = &entry.source},
        {.key = "to", .words = "to", .refers = EntryKind::channel, .value = &entry.to},
        {.key = "clock",
         .words = "clock",
         .none = entry.source.empty() ? "" : "none: its own edges",
         .refers = EntryKind::clock,
         .value = &entry.clock},
        {.key = "eye", .words = "eye", .refers = EntryKind::eye, .value = &entry.eye},
        regionField(entry.region),
        {.key = "levels",
         .words = "levels",
         .refers = EntryKind::levels,
         .lost = Lost::fieldIsCleared,
         .value = &entry.levels},
        {.key = "interpolate", .words = "instants by", .choices = instantWords, .value = &entry.interpolate},
        {.key = "edge", .words = "edge", .choices = edgeWords, .none = "as usual for it", .value = &entry.edge},
        {.key = "to_edge",
         .words = "to its edge",
         .choices = edgeWords,
         .none = "as usual for it",
         .value = &entry.toEdge},
        {.key = "ber", .words = "at error ratio", .none = "1e-12", .value = &entry.ber},
        {.key = "offset", .words = "at offset", .unit = "Hz", .none = "not given", .value = &entry.offset},
        {.key = "from", .words = "from offset", .unit = "Hz", .none = "the lowest", .value = &entry.from},
        {.key = "to", .words = "to offset", .unit = "Hz", .none = "the highest", .value = &entry.toFrequency},
        {.key = "opening",
         .words = "opening",
         .least = 0,
         .most = 14,
         .none = "the lowest",
         .mend = "give 0 for the lowest, 1 for the one above …",
         .value = &entry.opening},
        {.key = "level", .words = "which level", .least = 1, .most = 1000, .none = "the lowest", .value = &entry.level},
        {.key = "gap", .words = "quiet between bursts", .unit = "s", .none = "not told", .value = &entry.gap},
        {.key = "band", .words = "settled within ±", .unit = "%", .none = "2 %", .value = &entry.band},
        {.key = "cycles", .words = "periods together", .least = 1, .most = 1e8, .none = "one", .value = &entry.cycles},
        {.key = "averaging",
         .words = "averaging time",
         .unit = "s",
         .least = 0,
         .above = true,
         .none = "not told",
         .value = &entry.averaging},
        {.key = "corner",
         .words = "corner",
         .unit = "Hz",
         .least = 0,
         .above = true,
         .none = "not told",
         .value = &entry.corner},
        {.key = "at", .words = "at level", .unit = levelsUnit, .none = "the mid level", .value = &entry.at},
        {.key = "above", .words = "above", .unit = channelUnit, .none = "no bound", .value = &entry.above},
        {.key = "below", .words = "below", .unit = channelUnit, .none = "no bound", .value = &entry.below},
        {.key = "from_phase",
         .words = "from phase",
         .unit = "UI",
         .least = -1,
         .most = 2,
         .none = "0",
         .value = &entry.fromPhase},
        {.key = "to_phase",
         .words = "to phase",
         .unit = "UI",
         .least = -1,
         .most = 2,
         .none = "1",
         .value = &entry.toPhase},
        {.key = "of", .words = "by", .choices = gains, .none = "as usual for it", .value = &entry.of},
        {.key = "method",
         .words = "random part",
         .choices = budgetMethods,
         .none = "by its spectrum",
         .value = &entry.method},
        {.key = "expected",
         .words = "expected symbols",
         .none = "found by itself",
         .letters = 1 << 17,
         .value = &entry.expected},
        {.key = "pattern", .value = &entry.pattern},
        {.key = "data", .value = &entry.data},
        {.key = "lines", .words = "lines included", .value = &entry.lines},
        {.key = "min",
         .group = "limit",
         .words = "at least",
         .unit = rowUnit,
         .role = Role::judges,
         .none = "none",
         .value = &entry.limit.min},
        {.key = "max",
         .group = "limit",
         .words = "at most",
         .unit = rowUnit,
         .role = Role::judges,
         .none = "none",
         .value = &entry.limit.max},
    };
}

void checkEntry(const MeasurementEntry &entry, const std::string &where)
{
    if (entry.limit.min && entry.limit.max && *entry.limit.min > *entry.limit.max)
        throw Error(where + ".limit", "min is greater than max", "nothing could pass: exchange them");
    if (entry.above && entry.below && !(*entry.above < *entry.below))
        throw Error(where, "\"above\" is not less than \"below\"", "exchange them: nothing lies between");
    if (!expectedBy(entry.expected))
        throw Error(
            where + ".expected", "\"" + entry.expected.substr(0, 40) + "\" is no pattern",
            "write auto, prbs7 (9, 11, 13, 15, 20, 23, 29, 31), prbs7 inverted, or the symbols as digits: 0110");
}

} // namespace fulvex
