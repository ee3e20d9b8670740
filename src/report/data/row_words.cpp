#include "row_words.h"

#include "count_text.h"
#include "number_text.h"

#include <algorithm>
#include <cmath>

namespace fulvex {

namespace {

/// As fine as a twentieth of how the values spread.
std::string valueText(const Row &row, double value)
{
    const auto &std = row.statistics.std;
    return quantityText(value, row.unit, std && *std > 0 ? std::optional(*std / 20) : std::nullopt);
}

std::string outsideWords(const Row &row, const LimitEntry &limit)
{
    if (!limit.isSet() || row.total) return {}; // of several captures values are counted, not kept
    const Column &values = row.measured->population.value;
    std::int64_t outside = 0;
    for (std::size_t i = 0; i < values.size(); ++i)
        outside += (limit.min && values[i] < *limit.min) || (limit.max && values[i] > *limit.max);
    const std::string all = countText(double(values.size()));
    if (outside == 0) return " All " + all + " values lie within the limits of the mean.";
    return " " + countText(double(outside)) + " of " + all + " values lie outside the limits of the mean.";
}

/// The farthest of n normal values lies about sqrt(2 ln n) deviations out (Gumbel, "Statistics of Extremes", 1958,
/// 4.2.3): half as much again is no longer chance.
std::string farthestWords(const Row &row)
{
    const Statistics &s = row.statistics;
    constexpr std::int64_t few = 16;
    if (!s.std || !(*s.std > 0) || s.count < few) return {};
    const double above = (*s.max - *s.mean) / *s.std, below = (*s.mean - *s.min) / *s.std;
    if (!(std::max(above, below) > 1.5 * std::sqrt(2 * std::log(double(s.count))))) return {};
    const bool up = above >= below;
    return " The " + std::string(up ? "greatest, " : "least, ") + valueText(row, up ? *s.max : *s.min) + ", lies " +
           fixedText(up ? above : below, 1) + " spreads " + (up ? "above" : "below") +
           " the mean: farther than chance.";
}

std::string peakWords(const Row &row, const std::vector<ValuePeak> &peaks)
{
    if (peaks.size() < 2) return {};
    std::string words = " " + std::to_string(peaks.size()) + " peaks: ";
    constexpr std::size_t most = 6;
    for (std::size_t i = 0; i < std::min(peaks.size(), most); ++i)
        words +=
            (i ? ", " : "") + valueText(row, peaks[i].at) + " (" + quantityText(100 * peaks[i].share, "%", {}, 2) + ")";
    return words + (peaks.size() > most ? ", …" : ".");
}

} // namespace

std::string wordsOfValues(const Row &row, const MeasurementEntry *entry, const std::vector<ValuePeak> &peaks)
{
    const Statistics &s = row.statistics;
    if (!row.measurable() || !row.measured || !s.mean) return {};
    std::string words = "Mean " + quantityWithUncertainty(*s.mean, row.unit, s.uncertainty);
    if (s.std) words += ", spread " + quantityText(*s.std, row.unit, *s.std / 100);
    if (s.min && s.max) words += ", from " + valueText(row, *s.min) + " to " + valueText(row, *s.max);
    words += ".";
    if (entry && !row.measured->single) words += outsideWords(row, entry->limit);
    return words + farthestWords(row) + peakWords(row, peaks);
}

std::string wordsOfTrend(const Row &row)
{
    if (!row.measurable() || !row.measured || row.measured->single || row.total) return {};
    const Population &population = row.measured->population;
    if (population.size() == 0) return {};
    std::size_t least = 0, greatest = 0;
    for (std::size_t i = 1; i < population.size(); ++i) {
        if (population.value[i] < population.value[least]) least = i;
        if (population.value[i] > population.value[greatest]) greatest = i;
    }
    const auto at = [&](std::size_t i) {
        return valueText(row, population.value[i]) + " at " + quantityText(population.time(i), "s", {}, 6);
    };
    return "Least " + at(least) + ", greatest " + at(greatest) + ".";
}

} // namespace fulvex
