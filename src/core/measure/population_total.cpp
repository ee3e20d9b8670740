#include "population_total.h"

#include <algorithm>
#include <cmath>
#include <map>

namespace fulvex {

namespace {

using Record = PopulationTotal::Record;
using Example = PopulationTotal::Example;

/// The lowest of the values of a population, or with `sign` -1 the highest.
std::vector<Example> examplesOf(const Population &population, const std::string &capture, double sign)
{
    const std::size_t kept = std::min(PopulationTotal::keptExamples, population.size());
    std::vector<std::pair<double, std::size_t>> heap; // the worst of those kept on top
    for (std::size_t i = 0; kept > 0 && i < population.size(); ++i) {
        const std::pair<double, std::size_t> one(sign * population.value[i], i);
        if (heap.size() < kept) {
            heap.push_back(one);
            std::push_heap(heap.begin(), heap.end());
        } else if (one < heap.front()) {
            std::pop_heap(heap.begin(), heap.end());
            heap.back() = one;
            std::push_heap(heap.begin(), heap.end());
        }
    }
    std::sort_heap(heap.begin(), heap.end());
    std::vector<Example> examples;
    for (const auto &[value, i] : heap)
        examples.push_back({population.value[i], population.time(i), population.duration(i), capture});
    return examples;
}

void keepFirst(std::vector<Example> &to, const std::vector<Example> &some, bool highest)
{
    const auto before = [highest](const Example &a, const Example &b) {
        if (a.value != b.value) return highest ? a.value > b.value : a.value < b.value;
        return a < b;
    };
    const auto old = std::ptrdiff_t(to.size());
    to.insert(to.end(), some.begin(), some.end());
    std::inplace_merge(to.begin(), to.begin() + old, to.end(), before);
    to.resize(std::min(to.size(), PopulationTotal::keptExamples));
}

void addCounts(PopulationTotal &to, const PopulationTotal &from)
{
    for (std::size_t bin = 0; bin < from.counts.size(); ++bin)
        if (from.counts[bin] > 0)
            to.counts[std::size_t(to.bins.binOf(from.bins, std::int64_t(bin)))] += from.counts[bin];
}

} // namespace

PopulationTotal PopulationTotal::of(const Measured &measured, const std::string &capture)
{
    PopulationTotal total;
    total.single = measured.single;
    Record record;
    record.capture = capture;
    record.reason = measured.reason;
    for (const UncertaintyPart &part : measured.parts) total.parts.emplace_back(part.from, part.value);
    std::sort(total.parts.begin(), total.parts.end());
    Measured values = measured;
    if (!values.single) values.parts.clear();
    const Statistics found = values.statistics();
    if (found.count > 0) {
        record.count = found.count;
        record.mean = *found.mean;
        record.min = *found.min;
        record.max = *found.max;
        record.last = found.last.value_or(*found.mean);
        record.uncertainty = found.uncertainty.value_or(-1);
        if (found.std) record.squares = *found.std * *found.std * double(found.count - 1);
        total.bins = NestedBins::over(record.min, record.max, keptBins);
        total.counts.resize(std::size_t(total.bins.count));
        const auto count = [&](double value) { ++total.counts[std::size_t(total.bins.binOf(value))]; };
        if (measured.single) {
            count(measured.value);
            total.lowest = total.highest = {{measured.value, 0, 0, capture}};
        } else {
            measured.population.value.each(0, measured.population.size(), count);
            total.lowest = examplesOf(measured.population, capture, 1);
            total.highest = examplesOf(measured.population, capture, -1);
        }
    }
    total.records.push_back(std::move(record));
    return total;
}

PopulationTotal PopulationTotal::merged(const std::vector<const PopulationTotal *> &some)
{
    PopulationTotal all;
    std::map<std::string, double> parts;
    double low = INFINITY, high = -INFINITY;
    int coarsest = 0;
    bool any = false;
    for (const PopulationTotal *one : some) {
        all.single |= one->single;
        all.records.insert(all.records.end(), one->records.begin(), one->records.end());
        for (const auto &[from, value] : one->parts) parts[from] = std::max(parts[from], value);
        if (one->counts.empty()) continue;
        coarsest = any ? std::max(coarsest, one->bins.exponent) : one->bins.exponent;
        any = true;
        keepFirst(all.lowest, one->lowest, false);
        keepFirst(all.highest, one->highest, true);
    }
    std::sort(all.records.begin(), all.records.end());
    all.parts.assign(parts.begin(), parts.end());
    if (!any) return all;
    for (const Record &record : all.records) {
        if (record.count == 0) continue;
        low = std::min(low, record.min);
        high = std::max(high, record.max);
    }
    // As fine as one run over all would have them, or as the coarsest is.
    all.bins = NestedBins::over(low, high, keptBins);
    all.bins.exponent = std::max(all.bins.exponent, coarsest);
    all.bins = all.bins.covering(low, high);
    all.counts.resize(std::size_t(all.bins.count));
    for (const PopulationTotal *one : some) addCounts(all, *one);
    return all;
}

Statistics PopulationTotal::statistics() const
{
    Statistics found;
    double mean = 0, squares = 0, count = 0;
    std::int64_t measured = 0, knownOnes = 0;
    for (const Record &record : records) { // T. F. Chan, G. H. Golub, R. J. LeVeque (1979)
        if (record.count == 0) continue;
        const double own = double(record.count), both = count + own, apart = record.mean - mean;
        mean += apart * own / both;
        squares += record.squares + apart * apart * count * own / both;
        count = both;
        found.count += record.count;
        found.min = std::min(found.min.value_or(record.min), record.min);
        found.max = std::max(found.max.value_or(record.max), record.max);
        found.last = record.last;
        ++measured;
        knownOnes += record.uncertainty >= 0;
    }
    if (found.count == 0) return found;
    found.mean = mean;
    if (found.count > 1) found.std = std::sqrt(squares / (count - 1));
    double within = 0, between = 0;
    for (const Record &record : records) {
        if (record.count == 0) continue;
        const double share = double(record.count) / count, off = record.mean - mean;
        within += share * share * std::max(0.0, record.uncertainty) * std::max(0.0, record.uncertainty);
        between += share * share * off * off;
    }
    constexpr std::int64_t fewest = 4;
    const bool told = knownOnes == measured;
    if (measured >= fewest) between *= double(measured) / double(measured - 1);
    if (told || measured >= fewest) {
        const double scatter = std::sqrt(std::max(told ? within : 0, measured >= fewest ? between : 0));
        found.parts.push_back({"scatter", scatter});
        found.uncertainty = scatter;
    }
    return found;
}

ValueHistogram PopulationTotal::histogram() const
{
    std::uint64_t all = 0;
    for (const std::uint64_t count : counts) all += count;
    if (all == 0) return {};
    NestedBins shown = bins;
    const int most = int(2 * usualBins(std::size_t(all)));
    while (shown.count > most) {
        ++shown.exponent;
        shown = shown.covering(bins.low(), bins.low() + (double(bins.count) - 0.5) * bins.width());
    }
    ValueHistogram histogram{shown.low(), shown.high(), std::vector<std::int64_t>(std::size_t(shown.count))};
    for (std::size_t bin = 0; bin < counts.size(); ++bin)
        histogram.counts[std::size_t(shown.binOf(bins, std::int64_t(bin)))] += std::int64_t(counts[bin]);
    return histogram;
}

} // namespace fulvex
