#include "region_entry.h"

#include "error.h"

namespace fulvex {

std::vector<Field> fieldsOf(RegionEntry &entry)
{
    Field start = momentField("start", "start", &entry.start), stop = momentField("stop", "stop", &entry.stop);
    start.always = stop.always = true;
    return {idField(entry.id), start, stop};
}

void checkEntry(const RegionEntry &entry, const std::string &where)
{
    if (!(entry.start < entry.stop)) throw Error(where, "does not stop after its start", "give start < stop, in s");
}

} // namespace fulvex
