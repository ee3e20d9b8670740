#include "note_entry.h"

#include "error.h"

namespace fulvex {

std::vector<Field> fieldsOf(NoteEntry &entry)
{
    Field time = momentField("time", "time", &entry.time);
    time.always = true;
    return {
        idField(entry.id),
        {.key = "text", .words = "text", .always = true, .letters = 10000, .value = &entry.text},
        {.key = "channel",
         .words = "on",
         .always = true,
         .refers = EntryKind::channel,
         .needed = true,
         .value = &entry.channel},
        time,
        {.key = "level", .words = "level", .unit = channelUnit, .always = true, .value = &entry.level},
        {.key = "right", .value = &entry.right},
        {.key = "down", .value = &entry.down},
        {.key = "width", .value = &entry.width},
    };
}

std::vector<Field> fieldsOf(MarkerEntry &entry)
{
    const bool moment = entry.time.has_value(), ofRow = !entry.row.empty();
    Field time = momentField("time", "time", &entry.time);
    time.belongs = moment;
    return {
        idField(entry.id),
        {.key = "channel",
         .words = moment ? "sits on" : "",
         .belongs = !ofRow,
         .none = "no trace: a free moment",
         .refers = EntryKind::channel,
         .value = &entry.channel},
        {.key = "row", .refers = EntryKind::measurement, .value = &entry.row},
        time,
        {.key = "level",
         .words = ofRow ? "value" : "level",
         .unit = ofRow ? rowUnit : channelUnit,
         .belongs = !moment,
         .value = &entry.level},
    };
}

void checkEntry(const MarkerEntry &entry, const std::string &where)
{
    if (!entry.time && !(entry.level && (!entry.channel.empty() || !entry.row.empty())))
        throw Error(where, "stands nowhere", "give \"time\" in s, or \"level\" with a \"channel\" or with a \"row\"");
    if (entry.time && !entry.row.empty())
        throw Error(where, "is a moment and a value of a row", "give \"level\" with \"row\", or \"time\" without it");
}

} // namespace fulvex
