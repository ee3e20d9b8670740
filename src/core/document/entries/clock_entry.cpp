#include "clock_entry.h"

#include "entry_words.h"

namespace fulvex {

namespace {

constexpr Choice clockMethods[] = {{"fixed", "fixed line"}, {"pll", "loop (PLL)"}, {"forwarded", "beside the data"}};
constexpr Choice curves[] = {{"transfer", "of its transfer"}, {"error", "of its error"}};

/// What was called "explicit" before is still read.
Word methodWord(std::string &method)
{
    return {[&method] { return method; },
            [&method](const std::string &word) {
                method = word == "explicit" ? "forwarded" : word;
                return true;
            }};
}

} // namespace

std::vector<Field> fieldsOf(ClockEntry &entry)
{
    const bool loop = entry.method == "pll", forwarded = entry.method == "forwarded";
    Field delay = timeField("delay", "delay", &entry.delay);
    delay.belongs = forwarded;
    return {
        idField(entry.id),
        {.key = "source",
         .words = "source",
         .always = true,
         .refers = EntryKind::channel,
         .needed = true,
         .value = &entry.source},
        {.key = "method",
         .words = "method",
         .always = true,
         .choices = clockMethods,
         .value = methodWord(entry.method)},
        {.key = "rate",
         .words = "rate",
         .unit = "Bd",
         .belongs = !forwarded,
         .always = true,
         .least = 0,
         .above = true,
         .none = "found from the signal",
         .value = &entry.rate},
        {.key = "order",
         .words = "order",
         .belongs = loop,
         .always = true,
         .least = 1,
         .most = 2,
         .mend = "use 1 or 2",
         .value = &entry.order},
        {.key = "bandwidth",
         .words = "bandwidth",
         .unit = "Hz",
         .belongs = loop,
         .always = true,
         .least = 0,
         .above = true,
         .slideFrom = 1e4,
         .slideTo = 1e8,
         .value = &entry.bandwidth},
        {.key = "damping",
         .words = entry.order == 2 ? "damping" : "",
         .belongs = loop,
         .always = true,
         .least = 0.01,
         .most = 1000,
         .mend = "usually it is 0.7071",
         .value = &entry.damping},
        {.key = "bandwidth_of", .belongs = loop, .choices = curves, .value = &entry.bandwidthOf},
        {.key = "from",
         .words = "from",
         .belongs = forwarded,
         .always = true,
         .refers = EntryKind::channel,
         .needed = forwarded,
         .value = &entry.from},
        {.key = "edges",
         .words = "edges",
         .belongs = forwarded,
         .always = true,
         .choices = edgeWords,
         .value = &entry.edges},
        {.key = "multiply",
         .words = "multiply",
         .belongs = forwarded,
         .always = true,
         .least = 1,
         .most = 1000,
         .mend = "give a whole number of unit intervals an edge",
         .value = &entry.multiply},
        {.key = "divide",
         .words = "divide",
         .belongs = forwarded,
         .least = 1,
         .most = 1000,
         .mend = "give a whole number of edges",
         .value = &entry.divide},
        delay,
        {.key = "modulation",
         .words = "amplitude levels",
         .least = 2,
         .most = 16,
         .mend = "give how many levels the symbols take, 2 to 16",
         .value = &entry.modulation},
        {.key = "levels",
         .words = "levels",
         .refers = EntryKind::levels,
         .lost = Lost::fieldIsCleared,
         .value = &entry.levels},
        {.key = "from_levels",
         .words = "its levels",
         .belongs = forwarded,
         .refers = EntryKind::levels,
         .lost = Lost::fieldIsCleared,
         .value = &entry.fromLevels},
        {.key = "interpolate", .choices = instantWords, .value = &entry.interpolate},
    };
}

} // namespace fulvex
