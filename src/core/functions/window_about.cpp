#include "window_about.h"

#include "error.h"
#include "number_text.h"

namespace fulvex {

std::int64_t halfWindow(const FormulaOver &of, const char *function, double most)
{
    const double time = of.constants[0], samples = time / of.sources[0]->axis().interval;
    if (!(time >= 0))
        throw Error("", std::string(function) + " over a time below 0", "give how long a time to look at");
    if (!(samples <= most))
        throw Error("", std::string(function) + " over more than " + fixedText(most, 0) + " samples",
                    "give a shorter time, or take a resampled channel");
    return std::int64_t(samples / 2);
}

} // namespace fulvex
