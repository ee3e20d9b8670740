#include "budget_evidence.h"

#include "number_text.h"

#include <algorithm>
#include <cmath>

namespace fulvex {

namespace {

using Kind = JitterBudget::Part::Kind;

struct Moment {
    std::size_t edge;
    double value; ///< s
};

/// Of every half turn of a line the edge at which it is farthest off.
std::vector<Moment> crestsOf(const JitterMakeUp &found, std::size_t of)
{
    Progress none;
    const RawVector<float> values = linesAt({found.lines[of]}, found.edges, none);
    std::vector<Moment> crests;
    double before = 0;
    for (std::size_t edge = 0; edge < found.edges.size(); ++edge) {
        const double value = values[edge];
        if (crests.empty() || value * before < 0)
            crests.push_back({edge, value});
        else if (std::abs(value) > std::abs(crests.back().value))
            crests.back() = {edge, value};
        before = value;
    }
    return crests;
}

std::vector<Moment> momentsOf(const JitterMakeUp &found, const JitterBudget::Part &part)
{
    std::vector<Moment> moments;
    const auto addAll = [&](const auto &valueOf) {
        for (std::size_t edge = 0; edge < found.edges.size(); ++edge) moments.push_back({edge, valueOf(edge)});
    };
    switch (part.kind) {
    case Kind::line:
        moments = crestsOf(found, part.line);
        break;
    case Kind::dutyCycle:
        addAll([&](std::size_t edge) { return (found.edges.isRising(edge) ? found.rising : found.falling).mean; });
        break;
    case Kind::pattern:
        addAll([&](std::size_t edge) { return found.data.meanOf(edge); });
        break;
    case Kind::bounded:
    case Kind::random:
        addAll([&](std::size_t edge) { return found.rest[edge]; });
        break;
    }
    return moments;
}

std::string titleOf(const JitterMakeUp &found, const JitterBudget::Part &part)
{
    switch (part.kind) {
    case Kind::line:
        return "where the " + quantityText(found.lines[part.line].frequency, "Hz", {}, 4) + " line pushes most";
    case Kind::dutyCycle:
        return "edges by their direction";
    case Kind::pattern:
        return "edges that data push most";
    case Kind::bounded:
    case Kind::random:
        break;
    }
    return "what is farthest off, of no line and no data";
}

} // namespace

Evidence ofBudget(const BudgetResult &budget, const Question &question, std::size_t wanted)
{
    const auto &part = question.part;
    Evidence found;
    found.title = "the jitter budget of " + budget.source;
    found.none = !budget.reason.empty() ? budget.reason
                 : budget.found         ? "Click a piece of the budget: the moments behind it appear here."
                                        : "";
    if (budget.found && !budget.by && part)
        found.none =
            "The piece is of all captures together: the moments behind it are those of each. Choose a capture, "
            "and ask its own budget.";
    if (!budget.found || !part || *part >= budget.budget.parts.size() || !budget.by) return found;
    const JitterMakeUp &made = *budget.found;
    found.of = Evidence::Of::occurrences;
    found.unit = "s";
    found.order = question.byTime ? "in time" : "farthest off first";
    found.title = titleOf(made, budget.budget.parts[*part]);
    std::vector<Moment> moments = momentsOf(made, budget.budget.parts[*part]);
    found.count = found.all = std::int64_t(moments.size());
    const std::size_t shown = std::min(wanted, moments.size());
    std::partial_sort(moments.begin(), moments.begin() + std::ptrdiff_t(shown), moments.end(),
                      [&](const Moment &a, const Moment &b) {
                          if (question.byTime) return a.edge < b.edge;
                          const double one = std::abs(a.value), other = std::abs(b.value);
                          return one != other ? one > other : a.edge < b.edge;
                      });
    double squares = 0;
    for (const Moment &moment : moments) squares += moment.value * moment.value;
    found.std = std::sqrt(squares / double(std::max<std::size_t>(1, moments.size())));
    const auto &positions = budget.by->edges.edges().positions;
    const TimeAxis &axis = budget.by->map.axis();
    for (std::size_t i = 0; i < shown; ++i) {
        Evidence::Item item;
        const double position = positions[made.edges.edges[moments[i].edge]],
                     around = made.edges.unitInterval / axis.interval;
        item.time = axis.timeOf(position);
        item.place.from = axis.timeOf(position - around);
        item.place.to = axis.timeOf(position + around);
        item.place.channel = budget.source;
        item.place.instants = {item.time};
        item.value = moments[i].value;
        found.items.push_back(std::move(item));
    }
    return found;
}

} // namespace fulvex
