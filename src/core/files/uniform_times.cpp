#include "uniform_times.h"

#include "error.h"
#include "number_text.h"

#include <algorithm>
#include <cmath>

namespace fulvex {

TimeAxis uniformTimes(std::span<const double> times, double factor, const std::string &file,
                      const std::function<std::string(std::size_t)> &at)
{
    TimeAxis axis{0, 1, std::int64_t(times.size())};
    for (std::size_t i = 0; i < times.size(); ++i) {
        if (std::isnan(times[i]))
            throw Error(at(i), "the time is missing", "mend the cell or set \"time_column\": null");
    }
    if (times.size() < 2) throw Error(file, "one row gives no sample interval", "export more than one sample");
    axis.start = times.front() * factor;
    const double interval = (times.back() - times.front()) / double(times.size() - 1);
    double quantum = std::abs(interval), worst = 0; // times are often printed with few digits: their step is no jitter
    std::size_t worstAt = 0;
    for (std::size_t i = 1; i < times.size(); ++i) {
        const double step = times[i] - times[i - 1];
        if (step < 0 || !(interval > 0))
            throw Error(at(i), "the time runs backwards or stands still",
                        "set another \"time_column\", or null and a \"sample_interval\"");
        quantum = std::max(quantum, step > 0 && step < 1.5 * interval ? step : 0.0);
        const double off = std::abs(times[i] - times.front() - interval * double(i));
        if (off > worst) worst = off, worstAt = i;
    }
    if (worst > 0.75 * quantum)
        throw Error(at(worstAt),
                    "the time lies " + quantityText(worst * factor, "s") + " off a uniform grid of " +
                        quantityText(interval * factor, "s"),
                    "export uniformly sampled data, or set \"time_column\": null and a \"sample_interval\"");
    axis.interval = interval * factor;
    return axis;
}

} // namespace fulvex
