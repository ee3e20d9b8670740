#include "eye_entry.h"

#include "entry_words.h"

namespace fulvex {

namespace {
constexpr Choice interpolations[] = {
    {"auto", "interpolated below 8 a UI"}, {"none", "samples only"}, {"sinc", "interpolated"}};
constexpr Choice resolutions[] = {{"usual", "usual"}, {"coarse", "half as fine"}, {"fine", "twice as fine"}};
constexpr Choice pictures[] = {{"density", "density"},
                               {"traces", "single traces"},
                               {"hit_contours", "contours of equal hit ratio"},
                               {"error_ratio", "error ratios"}};
} // namespace

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
        {.key = "resolution", .words = "resolution", .choices = resolutions, .value = &entry.resolution},
        {.key = "shown", .words = "shown as", .choices = pictures, .value = &entry.shown},
        {.key = "width",
         .words = "width in UI",
         .role = Role::looks,
         .least = 1,
         .most = 3,
         .mend = "give 1, 2 or 3 unit intervals",
         .value = &entry.width},
    };
}

} // namespace fulvex
