#include "quantity_support.h"

#include "pulse_populations.h"

#include <cmath>

namespace fulvex {

/// A population, or the reason why it is empty.
Measured orReason(Population population, const std::string &reason)
{
    if (population.size() == 0) return Measured::none(reason);
    Measured measured;
    measured.population = std::move(population);
    return measured;
}

std::string edgesSeen(QuantityInputs &in)
{
    const auto edges = in.edges();
    return std::to_string(edges->size()) + (edges->size() == 1 ? " crossing" : " crossings") +
           " of the mid level in the region; ";
}

std::string wants(QuantityInputs &in, const char *what)
{
    return edgesSeen(in) + what + ": widen the region, take a longer capture, or check the levels";
}

Population allPeriods(QuantityInputs &in)
{
    return periods(in.edges(), in.axis(), in.edge(EdgeChoice::rising), in.progress());
}

double stepUncertainty(QuantityInputs &in)
{
    return in.resolution() / std::sqrt(12.0);
}

} // namespace fulvex
