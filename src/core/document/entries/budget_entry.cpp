#include "budget_entry.h"

#include "entry_words.h"
#include "error.h"

namespace fulvex {

namespace {
constexpr Choice splitMethods[] = {{"spectral", "its spectrum"}, {"tail", "its tails"}};
}

std::vector<Field> fieldsOf(BudgetEntry &entry)
{
    return {
        idField(entry.id),
        {.key = "clock", .words = "by clock", .refers = EntryKind::clock, .needed = true, .value = &entry.clock},
        regionField(entry.region),
        {.key = "ber",
         .words = "at error ratio",
         .always = true,
         .least = 1e-18,
         .most = 0.1,
         .slideFrom = 1e-18,
         .slideTo = 1e-3,
         .value = &entry.ber},
        {.key = "method", .words = "random part by", .choices = splitMethods, .value = &entry.method},
        {.key = "pattern", .value = &entry.pattern},
        {.key = "data", .value = &entry.data},
        {.key = "opening", .words = "opening", .least = 0, .most = 14, .none = "all", .value = &entry.opening},
        {.key = "without", .unit = "Hz", .letters = 64, .value = &entry.without},
        {.key = "limit",
         .words = "may eat at most",
         .unit = "UI",
         .role = Role::judges,
         .least = 0,
         .above = true,
         .none = "no limit",
         .value = &entry.limit},
    };
}

void checkEntry(const BudgetEntry &entry, const std::string &where)
{
    const std::string *word = std::get_if<std::string>(&entry.pattern);
    const int *length = std::get_if<int>(&entry.pattern);
    if ((word && *word != "auto" && *word != "none") || (length && *length < 1))
        throw Error(where + ".pattern", "is no pattern", "give its length in UI, \"auto\" or \"none\"");
    for (const double frequency : entry.without)
        if (!(frequency > 0)) throw Error(where + ".without", "holds what is no frequency", "give lines in Hz");
}

} // namespace fulvex
