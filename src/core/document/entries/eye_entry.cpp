#include "eye_entry.h"

#include "entry_words.h"
#include "error.h"

namespace fulvex {

namespace {
constexpr Choice interpolations[] = {
    {"auto", "interpolated below 8 a UI"}, {"none", "samples only"}, {"sinc", "interpolated"}};
constexpr Choice resolutions[] = {{"usual", "usual"}, {"coarse", "half as fine"}, {"fine", "twice as fine"}};
constexpr Choice pictures[] = {{"density", "density"},
                               {"traces", "single traces"},
                               {"hit_contours", "contours of equal hit ratio"},
                               {"error_ratio", "error ratios"}},
                 overlayPictures[] = {{"density", "density"},
                                      {"traces", "single traces"},
                                      {"hit_contours", "contours of equal hit ratio"},
                                      {"error_ratio", ""}}; // of unit intervals alone: shown as density
constexpr Choice laid[] = {{"unit_interval", "unit intervals"},
                           {"pattern", "pattern repeats"},
                           {"rising", "rising edges"},
                           {"falling", "falling edges"},
                           {"both", "all edges"}};
} // namespace

std::vector<Field> fieldsOf(EyeEntry &entry)
{
    const bool atEdges = entry.atEdges(), atPattern = entry.atPattern(), usual = entry.atUnitIntervals();
    return {
        idField(entry.id),
        {.key = "source",
         .words = "of",
         .always = true,
         .refers = EntryKind::channel,
         .needed = true,
         .value = &entry.source},
        {.key = "each", .words = "folded at", .choices = laid, .value = &entry.each},
        {.key = "clock",
         .words = "clock",
         .belongs = !atEdges,
         .always = !atEdges,
         .refers = EntryKind::clock,
         .needed = !atEdges,
         .lost = atEdges ? Lost::fieldIsCleared : Lost::entryGoes,
         .value = &entry.clock},
        regionField(entry.region),
        {.key = "pattern",
         .words = "UI of the pattern",
         .belongs = atPattern,
         .least = 2,
         .most = 1 << 20,
         .none = "as is found",
         .mend = "give the unit intervals after which it comes again",
         .value = &entry.pattern},
        {.key = "pattern_from",
         .words = "from UI",
         .belongs = atPattern,
         .least = 0,
         .most = 1 << 20,
         .value = &entry.patternFrom},
        {.key = "pattern_to",
         .words = "to UI",
         .belongs = atPattern,
         .least = 1,
         .most = 1 << 20,
         .none = "all of it",
         .value = &entry.patternTo},
        {.key = "trigger",
         .words = "edges of",
         .belongs = atEdges,
         .none = "itself",
         .refers = EntryKind::channel,
         .lost = Lost::fieldIsCleared,
         .value = &entry.trigger},
        {.key = "levels",
         .words = "edges at",
         .belongs = atEdges,
         .refers = EntryKind::levels,
         .lost = Lost::fieldIsCleared,
         .value = &entry.levels},
        {.key = "before",
         .words = "from before",
         .unit = "s",
         .belongs = atEdges,
         .least = -1e6,
         .most = 1e6,
         .none = "by their spacing",
         .value = &entry.before},
        {.key = "after",
         .words = "to behind",
         .unit = "s",
         .belongs = atEdges,
         .least = -1e6,
         .most = 1e6,
         .none = "by their spacing",
         .value = &entry.after},
        {.key = "interpolate", .words = "fold", .choices = interpolations, .value = &entry.interpolate},
        {.key = "modulation",
         .words = "amplitude levels",
         .belongs = !atEdges,
         .least = 2,
         .most = 16,
         .none = "as its clock's channel",
         .mend = "give how many levels the symbols take, 2 to 16",
         .value = &entry.modulation},
        {.key = "resolution", .words = "resolution", .choices = resolutions, .value = &entry.resolution},
        {.key = "shown",
         .words = "shown as",
         .choices = usual ? std::span(pictures) : overlayPictures,
         .value = &entry.shown},
        {.key = "width",
         .words = "width in UI",
         .role = Role::looks,
         .belongs = usual,
         .least = 1,
         .most = 3,
         .mend = "give 1, 2 or 3 unit intervals",
         .value = &entry.width},
    };
}

void checkEntry(const EyeEntry &entry, const std::string &where)
{
    if (entry.before && entry.after && !(*entry.before + *entry.after > 0))
        throw Error(where + ".after", "ends before it begins", "let \"before\" and \"after\" add up to a time");
    const int most = entry.pattern.value_or(1 << 20);
    if (entry.atPattern() &&
        (entry.patternFrom >= entry.patternTo.value_or(most) || entry.patternTo.value_or(0) > most))
        throw Error(where + ".pattern_to", "does not lie behind \"pattern_from\" within the pattern",
                    "give unit intervals from 0 to the pattern's length, in order");
}

} // namespace fulvex
