#include "mask_entry.h"

#include "entry_words.h"
#include "error.h"

namespace fulvex {

namespace {
constexpr Choice acrossIn[] = {{"ui", "unit intervals"}, {"s", "seconds"}};
constexpr Choice upIn[] = {{"normalised", "fitted to the levels"}, {"V", "the channel's unit"}};
constexpr Choice mirrors[] = {
    {"both", "all four ways"}, {"across", "left and right"}, {"up", "up and down"}, {"none", "nothing"}};
} // namespace

std::vector<Field> fieldsOf(MaskEntry &entry)
{
    return {
        idField(entry.id),
        {.key = "eye", .refers = EntryKind::eye, .needed = entry.source.empty(), .value = &entry.eye},
        {.key = "source", .refers = EntryKind::channel, .value = &entry.source},
        {.key = "edge", .choices = edgeWords, .value = &entry.edge},
        {.key = "mask",
         .always = true,
         .letters = 4096,
         .needed = !entry.own(),
         .wrong = "names no mask",
         .mend = "give a shipped mask's id or a file",
         .value = &entry.mask},
        {.key = "opening",
         .words = entry.eye.empty() ? "" : "opening",
         .belongs = !entry.eye.empty(),
         .least = 0,
         .most = 14,
         .none = "all of the eye",
         .value = &entry.opening},
        {.key = "margin",
         .words = "margin",
         .unit = "%",
         .always = true,
         .least = -1,
         .most = 1,
         .above = true,
         .shown = 100,
         .wrong = "lies outside -1 to 1",
         .mend = "give a fraction, 0.1 for 10 %",
         .value = &entry.margin},
        {.key = "stop_at",
         .words = "stop at failures",
         .least = 1,
         .most = 1000,
         .none = "counts on to the end",
         .mend = "give how many failed unit intervals end the test, 1 to 1000",
         .value = &entry.stopAt},
        {.key = "x", .belongs = entry.own(), .choices = acrossIn, .value = &entry.x},
        {.key = "y", .belongs = entry.own(), .choices = upIn, .value = &entry.y},
        {.key = "areas", .value = &entry.areas},
        {.key = "mirrored",
         .words = "edited alike",
         .role = Role::looks,
         .belongs = entry.own(),
         .choices = mirrors,
         .value = &entry.mirrored},
    };
}

void checkEntry(const MaskEntry &entry, const std::string &where)
{
    if (!entry.eye.empty() && !entry.source.empty())
        throw Error(where, "names both an eye and a channel",
                    "give \"eye\" for an eye's mask, \"source\" for a template");
    if (entry.own()) checkAreas(entry.areas, entry.x == "s", where + ".areas");
}

} // namespace fulvex
