#include "phase_noise_entry.h"

#include "entry_words.h"
#include "error.h"

namespace fulvex {

namespace {

Field offsetField(const char *key, const char *words, const char *none, std::optional<double> &value)
{
    return {.key = key, .words = words, .unit = "Hz", .least = 0, .above = true, .none = none, .value = &value};
}

} // namespace

std::vector<Field> fieldsOf(PhaseNoiseEntry &entry)
{
    const bool byClock = !entry.clock.empty();
    return {
        idField(entry.id),
        {.key = "source",
         .words = byClock ? "" : "of",
         .belongs = !byClock,
         .refers = EntryKind::channel,
         .needed = !byClock,
         .value = &entry.source},
        {.key = "clock", .words = byClock ? "by clock" : "", .refers = EntryKind::clock, .value = &entry.clock},
        regionField(entry.region),
        {.key = "levels",
         .words = byClock ? "" : "levels",
         .belongs = !byClock,
         .refers = EntryKind::levels,
         .value = &entry.levels},
        offsetField("from", "integrate from", "the lowest offset", entry.from),
        offsetField("to", "to", "the highest offset", entry.to),
        {.key = "lines", .words = "lines count", .value = &entry.lines},
        {.key = "except", .unit = "Hz", .letters = 256, .value = &entry.except},
        offsetField("lowest", "wanted from", "as the record tells", entry.lowest),
        {.key = "offsets",
         .group = "limit",
         .unit = "Hz",
         .role = Role::judges,
         .letters = 256,
         .value = &entry.limitOffsets},
        {.key = "levels",
         .group = "limit",
         .unit = "dBc/Hz",
         .role = Role::judges,
         .letters = 256,
         .value = &entry.limitLevels},
        {.key = "jitter",
         .group = "limit",
         .words = "jitter at most",
         .unit = "s",
         .role = Role::judges,
         .least = 0,
         .above = true,
         .none = "no limit",
         .value = &entry.limitJitter},
    };
}

void checkEntry(const PhaseNoiseEntry &entry, const std::string &where)
{
    if (!entry.source.empty() && !entry.clock.empty())
        throw Error(where, "names a channel and a clock", "leave out \"source\" or \"clock\"");
    if (entry.from && entry.to && !(*entry.from < *entry.to))
        throw Error(where + ".to", "is not above \"from\"", "integrate from a lower to a higher offset, in Hz");
    for (const double frequency : entry.except)
        if (!(frequency > 0)) throw Error(where + ".except", "holds what is no frequency", "give lines in Hz");
    if (entry.limitOffsets.size() != entry.limitLevels.size())
        throw Error(where + ".limit",
                    "has " + std::to_string(entry.limitOffsets.size()) + " offsets and " +
                        std::to_string(entry.limitLevels.size()) + " levels",
                    "give a level, in dBc/Hz, for each offset");
    double before = 0;
    for (const double offset : entry.limitOffsets) {
        if (!(offset > before))
            throw Error(where + ".limit.offsets", "do not rise", "give them in Hz, the lowest first");
        before = offset;
    }
}

} // namespace fulvex
