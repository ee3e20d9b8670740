#include "number_text.h"
#include "quantity_support.h"
#include "quantity_table.h"

namespace fulvex {

namespace {

using In = QuantityInputs &;

struct Compared {
    SampleRange unitIntervals;                  ///< that lie in the region
    std::shared_ptr<const SymbolErrors> errors; ///< their places count from its first
};

Compared compare(In in)
{
    const auto clock = in.clock();
    SampleRange range = in.symbols()->unitIntervals;
    const auto isIn = [&](std::int64_t n) {
        return in.inRegion(clock->map.positionOf(double(n))) && in.inRegion(clock->map.positionOf(double(n) + 1));
    };
    while (range.first < range.last && !isIn(range.first)) ++range.first;
    while (range.first < range.last && !isIn(range.last - 1)) --range.last;
    const auto errors = in.symbolErrors(range);
    if (!errors->reason.empty()) throw Unmeasurable{errors->reason};
    const std::string &given = in.entry().expected;
    if (given.empty() || given == "auto") {
        const SymbolPattern &pattern = errors->pattern;
        in.note("expected", wordsOf(pattern) +
                                (pattern.kind == SymbolPattern::Kind::prbs ? "" : ", as most of its repeats have it"));
    } else {
        in.note("expected", given.substr(0, 64));
    }
    in.note("compared", std::to_string(errors->compared) + " of " + std::to_string(range.size()) + " symbols");
    if (errors->slips > 0)
        in.note("slips", std::to_string(errors->slips) +
                             " times it went on at another place: the clock slipped, or symbols were lost");
    return {range, errors};
}

/// How many, and where each is.
Measured bitErrors(In in)
{
    const Compared compared = compare(in);
    const auto clock = in.clock();
    PopulationBuilder moments(clock->map.axis());
    for (std::size_t i = 0; i < compared.errors->at.size(); ++i) {
        const double n = double(compared.unitIntervals.first + compared.errors->at[i]);
        const double from = clock->map.positionOf(n);
        moments.add(from, clock->map.positionOf(n + 1) - from, compared.errors->by[i]);
    }
    Measured measured = Measured::scattered(double(compared.errors->at.size()), 0.0);
    measured.population = moments.take();
    measured.counts = true;
    return measured;
}

/// Errors are few and apart: their count scatters as its root. Without one, as one would.
/// Source: Poisson statistics; JCGM 100, 4.3.
Measured bitErrorRatio(In in)
{
    const Compared compared = compare(in);
    const double errors = double(compared.errors->at.size()), all = double(compared.errors->compared);
    return Measured::scattered(errors / all, std::sqrt(std::max(1.0, errors)) / all);
}

constexpr Quantity bitTable[] = {
    {"bit_errors", "bit errors", "", Needs::clock, bitErrors, "region expected"},
    {"bit_error_ratio", "bit error ratio", "", Needs::clock, bitErrorRatio, "region expected"},
};

} // namespace

QuantityGroup bitQuantities()
{
    return {"bits", bitTable};
}

} // namespace fulvex
