#include "uniform_times.h"

#include "error.h"
#include "number_text.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace fulvex {

/// The step of the decimals that times are printed with: the coarsest power of ten that all of them are multiples of.
static double printedStep(std::span<const double> times, double interval)
{
    const std::size_t looked = std::min<std::size_t>(times.size(), 2000);
    for (int power = int(std::ceil(std::log10(interval))) + 1; power > std::log10(interval) - 7; --power) {
        const double step = std::pow(10.0, power);
        const bool all = std::all_of(times.begin(), times.begin() + std::ptrdiff_t(looked), [&](double time) {
            const double steps = time / step;
            return std::abs(steps - std::round(steps)) < 1e-4 + 1e-15 * std::abs(steps);
        });
        if (all) return step;
    }
    return 0;
}

UniformTimes uniformTimes(std::span<const double> times, double factor, const std::string &file,
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
    if (!std::isfinite(interval * factor))
        throw Error(at(times.size() - 1), "the times reach farther than can be computed with",
                    "mend them, or set \"time_column\": null and a \"sample_interval\"");
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
    UniformTimes found{axis, {}};
    if (worst > std::max(0.02 * interval, 1.01 * printedStep(times, interval)))
        found.doubt = "the times lie up to " + quantityText(worst * factor, "s", {}, 3) + " off a uniform grid of " +
                      quantityText(interval * factor, "s") + " (at " + at(worstAt) +
                      "): they are taken as uniform, and edges and jitter are wrong by as much";
    return found;
}

std::vector<std::int64_t> placesOnGrid(std::span<const double> times)
{
    if (times.size() < 3) return {};
    std::vector<double> steps;
    for (std::size_t i = 1; i < times.size(); ++i) {
        if (!(times[i] > times[i - 1])) return {};
        steps.push_back(times[i] - times[i - 1]);
    }
    const auto middle = steps.begin() + std::ptrdiff_t(steps.size() / 2);
    if (*std::max_element(steps.begin(), steps.end()) < 1.6 * (times.back() - times.front()) / double(steps.size()))
        return {}; // the usual table, at once
    std::nth_element(steps.begin(), middle, steps.end());
    const double step = *middle;
    std::vector<std::int64_t> places{0};
    for (std::size_t i = 1; i < times.size(); ++i) {
        const double many = (times[i] - times[i - 1]) / step, whole = std::round(many);
        if (whole < 1 || std::abs(many - whole) > 0.25 || many > double(2 * times.size())) return {};
        places.push_back(places.back() + std::int64_t(whole));
    }
    const std::int64_t count = places.back() + 1;
    if (count == std::int64_t(times.size()) || count > 2 * std::int64_t(times.size())) return {};
    places.push_back(count);
    return places;
}

std::vector<double> spreadOver(std::span<const std::int64_t> places, std::span<const double> column)
{
    std::vector<double> spread(std::size_t(places.back()), std::numeric_limits<double>::quiet_NaN());
    for (std::size_t i = 0; i < column.size(); ++i) spread[std::size_t(places[i])] = column[i];
    return spread;
}

} // namespace fulvex
