#include "kept_out_entry.h"

#include "error.h"

namespace fulvex {

std::vector<Field> fieldsOf(KeptOutEntry &entry)
{
    Field start = momentField("start", "start", &entry.start), stop = momentField("stop", "stop", &entry.stop);
    start.always = stop.always = true;
    return {
        idField(entry.id),
        {.key = "of", .always = true, .letters = 5000, .refers = EntryKind::measurement, .value = &entry.of},
        start,
        stop,
        {.key = "reason",
         .words = "reason",
         .role = Role::names,
         .always = true,
         .letters = 1000,
         .needed = true,
         .wrong = "is empty",
         .mend = "say why the moments do not count",
         .value = &entry.reason},
    };
}

void checkEntry(const KeptOutEntry &entry, const std::string &where)
{
    if (!(entry.start <= entry.stop)) throw Error(where, "stops before its start", "give start <= stop, in s");
    if (entry.of.empty())
        throw Error(where + ".of", "names no measurement", "name those that the moments are kept out of");
}

} // namespace fulvex
