#include "keep_out.h"

#include "set_measured.h"

#include <algorithm>
#include <cmath>

namespace fulvex {

namespace {

/// Occurrences of a population that a span keeps out: from the first to before the second.
std::pair<std::size_t, std::size_t> within(const Population &population, const KeptOutEntry &span)
{
    constexpr double same = 1e-3; // samples: a time on paper and the place that it came from
    const double from = population.axis.positionOf(span.start) - same,
                 to = population.axis.positionOf(span.stop) - same;
    const std::size_t first = population.position.firstNotBelow(from);
    return {first, population.position.firstNotBelow(std::max(to, from + 2 * same))};
}

} // namespace

Row withoutKeptOut(const Row &row, const std::vector<const KeptOutEntry *> &spans)
{
    const Measured &all = *row.measured;
    if (!row.measurable() || all.population.size() == 0 || (all.single && !all.counts)) return row;
    const Population &population = all.population;
    std::vector<const KeptOutEntry *> why(population.size());
    std::size_t out = 0;
    for (const KeptOutEntry *span : spans) {
        const auto [first, last] = within(population, *span);
        for (std::size_t i = first; i < last; ++i) out += !std::exchange(why[i], span);
    }
    if (out == 0) return row;
    Row left = row;
    PopulationBuilder stays(population.axis);
    for (std::size_t i = 0; i < population.size(); ++i) {
        if (!why[i])
            stays.add(population.position[i], population.span[i], population.value[i]);
        else if (left.keptOut.size() < Row::mostKeptOut)
            left.keptOut.push_back(
                {population.time(i), population.duration(i), population.value[i], why[i]->id, why[i]->reason});
    }
    left.keptOutCount = std::int64_t(out);
    left.provenance.emplace_back("kept out",
                                 std::to_string(out) + " of " + std::to_string(population.size()) + " moments");
    Measured measured = all;
    measured.population = stays.take();
    if (measured.counts) measured.value = double(measured.population.size());
    if (measured.population.size() == 0 && !measured.counts)
        measured = Measured::none("all of its moments are kept out: let one of them back in");
    setMeasured(left, std::move(measured));
    return left;
}

} // namespace fulvex
