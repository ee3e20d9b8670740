#include "eye_entry.h"

#include "entry_words.h"

namespace fulvex {

namespace {
constexpr Choice interpolations[] = {
    {"auto", "interpolated below 8 a UI"}, {"none", "samples only"}, {"sinc", "interpolated"}};
}

std::vector<Field> fieldsOf(EyeEntry &entry)
{
    return {
        idField(entry.id),
        {.key = "source",
         .words = "of",
         .always = true,
         .refers = EntryKind::channel,
         .needed = true,
         .value = &entry.source},
        {.key = "clock",
         .words = "clock",
         .always = true,
         .refers = EntryKind::clock,
         .needed = true,
         .value = &entry.clock},
        regionField(entry.region),
        {.key = "interpolate", .words = "fold", .choices = interpolations, .value = &entry.interpolate},
        {.key = "modulation",
         .words = "amplitude levels",
         .least = 2,
         .most = 16,
         .none = "as its clock's channel",
         .mend = "give how many levels the symbols take, 2 to 16",
         .value = &entry.modulation},
    };
}

} // namespace fulvex
