#include "channel_entry.h"

#include "error.h"

namespace fulvex {

namespace {
constexpr Choice inks[] = {{"blue", "blue"}, {"brick", "brick"}, {"moss", "moss"},   {"plum", "plum"},
                           {"teal", "teal"}, {"ochre", "ochre"}, {"slate", "slate"}, {"rose", "rose"}};
constexpr Choice lines[] = {{"dashed", "dashed"}, {"dotted", "dotted"}};
constexpr Choice parameterScales[] = {{"linear", "linear"}, {"logarithmic", "logarithmic"}};
} // namespace

std::vector<Field> fieldsOf(ChannelEntry &entry)
{
    const bool computed = !entry.formula.empty();
    Field delay = timeField("delay", "delay", &entry.delay);
    delay.belongs = !computed;
    return {
        idField(entry.id),
        {.key = "label", .words = "label", .role = Role::words, .none = "none", .letters = 1000, .value = &entry.label},
        {.key = "capture", .belongs = !computed, .always = true, .refers = EntryKind::capture, .value = &entry.capture},
        {.key = "column",
         .belongs = !computed,
         .always = true,
         .least = 0,
         .wrong = "is negative",
         .mend = "count data columns from 0",
         .value = &entry.column},
        {.key = "formula",
         .words = computed ? "formula" : "",
         .letters = 20000,
         .formula = true,
         .value = &entry.formula},
        {.key = "unit",
         .words = "unit",
         .none = computed ? "as its formula makes it" : "the file's",
         .letters = 64,
         .value = &entry.unit},
        {.key = "scale", .words = "scale", .belongs = !computed, .value = &entry.scale},
        {.key = "offset", .words = "offset", .unit = channelUnit, .belongs = !computed, .value = &entry.offset},
        delay,
        {.key = "ink",
         .words = "ink",
         .role = Role::looks,
         .choices = inks,
         .none = "by its place",
         .value = &entry.ink},
        {.key = "line", .words = "line", .role = Role::looks, .choices = lines, .none = "solid", .value = &entry.line},
    };
}

std::span<const Choice> channelInks()
{
    return inks;
}

void checkEntry(const ChannelEntry &entry, const std::string &where)
{
    if (entry.formula.empty() == entry.capture.empty())
        throw Error(where,
                    entry.formula.empty() ? "has neither a capture nor a formula" : "has both a capture and a formula",
                    "give it one of them");
    if (entry.scale == 0)
        throw Error(where + ".scale", "is 0, which would leave nothing of the signal", "give another factor");
    if (!(std::abs(entry.scale) <= 1e100) || !(std::abs(entry.offset) <= 1e100))
        throw Error(where, "is scaled or moved beyond 1e100", "give \"scale\" and \"offset\" in its unit");
}

void checkEntry(const ParameterEntry &entry, const std::string &where)
{
    if (entry.min && entry.max && !(*entry.min < *entry.max))
        throw Error(where, "does not reach farther than from its \"min\" on", "give min < max");
}

std::vector<Field> fieldsOf(ParameterEntry &entry)
{
    return {
        idField(entry.id),
        {.key = "value", .words = "value", .always = true, .value = &entry.value},
        {.key = "min", .words = "at least", .role = Role::looks, .none = "none", .value = &entry.min},
        {.key = "max", .words = "at most", .role = Role::looks, .none = "none", .value = &entry.max},
        {.key = "unit", .words = "unit", .letters = 64, .value = &entry.unit},
        {.key = "scale",
         .words = "slider",
         .role = Role::looks,
         .choices = parameterScales,
         .none = "by its span",
         .value = &entry.scale},
        {.key = "step",
         .words = "in steps of",
         .role = Role::looks,
         .least = 0,
         .above = true,
         .none = "any",
         .value = &entry.step},
    };
}

} // namespace fulvex
