#include "jitter_budget.h"

#include "normal_distribution.h"

#include <algorithm>
#include <cmath>

namespace fulvex {

namespace {

/// What a line and its harmonics spread edges over, s.
double extentOf(const std::vector<PeriodicLine> &lines, std::size_t of)
{
    std::vector<PeriodicLine> own;
    for (std::size_t i = 0; i < lines.size(); ++i) {
        if (lines[i].harmonicOf != of) continue;
        own.push_back(lines[i]);
        own.back().harmonicOf = 0; // the line itself, which stands before its harmonics: it is stronger
    }
    return BoundedJitter({}, own, 0).extent();
}

/// What the pattern spreads edges over beside their direction, s.
double beside(const JitterMakeUp &found)
{
    double extents[2][2] = {{HUGE_VAL, -HUGE_VAL}, {HUGE_VAL, -HUGE_VAL}}, sum[2] = {0, 0}, count[2] = {0, 0};
    const auto isRising = [](const DataDependence::Group &group) { return group.step % 16 > group.step / 16; };
    for (const DataDependence::Group &group : found.data.groups) {
        const bool rising = isRising(group);
        sum[rising] += group.mean * double(group.count);
        count[rising] += double(group.count);
        extents[rising][0] = std::min(extents[rising][0], group.mean);
        extents[rising][1] = std::max(extents[rising][1], group.mean);
    }
    double least = HUGE_VAL, most = -HUGE_VAL;
    for (const int rising : {0, 1}) {
        if (count[rising] == 0) continue;
        least = std::min(least, extents[rising][0] - sum[rising] / count[rising]);
        most = std::max(most, extents[rising][1] - sum[rising] / count[rising]);
    }
    return std::max(0.0, most - least);
}

/// Which lines are meant by some frequencies, by the line that each is a harmonic of.
std::vector<bool> meantBy(const std::vector<PeriodicLine> &lines, std::span<const double> frequencies)
{
    std::vector<bool> meant(lines.size());
    for (const double frequency : frequencies) {
        std::size_t nearest = lines.size();
        constexpr double near = 0.01;
        double least = near * frequency;
        for (std::size_t i = 0; i < lines.size(); ++i) {
            const double off = std::abs(lines[i].frequency - frequency);
            if (off < least) least = off, nearest = i;
        }
        if (nearest < lines.size()) meant[lines[nearest].harmonicOf] = true;
    }
    return meant;
}

/// All that is bounded, but for the lines that are out, with their harmonics.
std::shared_ptr<const BoundedJitter> boundedWithout(const JitterMakeUp &found, const std::vector<bool> &out,
                                                    double apart)
{
    std::vector<PeriodicLine> left;
    std::vector<std::size_t> placeOf(found.lines.size());
    for (std::size_t i = 0; i < found.lines.size(); ++i) { // a line stands before its harmonics: it is stronger
        if (out[found.lines[i].harmonicOf]) continue;
        placeOf[i] = left.size();
        left.push_back(found.lines[i]);
        left.back().harmonicOf = placeOf[found.lines[i].harmonicOf];
    }
    return std::make_shared<const BoundedJitter>(dataValuesOf(found), left, apart);
}

} // namespace

double JitterBudget::randomUncertainty() const
{
    const auto part = std::ranges::find(parts, Part::Kind::random, &Part::kind);
    return part == parts.end() || !(factor > 0) ? 0 : part->uncertainty / factor;
}

double JitterBudget::added() const
{
    double sum = 0;
    for (const Part &part : parts) sum += part.leftOut ? 0 : part.size;
    return sum;
}

JitterBudget budgetOf(const JitterMakeUp &found, const JitterTails *tails, double ratio,
                      std::span<const double> without)
{
    using Kind = JitterBudget::Part::Kind;
    JitterBudget budget;
    budget.unitInterval = found.edges.unitInterval;
    budget.ratio = ratio;
    budget.random = tails ? tails->fit.random : found.random;
    budget.factor = 2 * normalQuantile(ratio);
    const double randomUncertainty = tails ? tails->fit.uncertainty() : found.randomUncertainty;

    if (const auto duty = found.dutyCycle())
        budget.parts.push_back({Kind::dutyCycle, *duty, found.dutyCycleUncertainty()});
    if (const double pattern = beside(found); pattern > 0)
        budget.parts.push_back({Kind::pattern, pattern, found.data.uncertainty});
    const std::vector<bool> out = meantBy(found.lines, without);
    const double apart = tails ? tails->fit.apart : 0;
    budget.bounded = boundedWithout(found, out, apart);
    budget.total = budget.bounded->totalAt(ratio, budget.random);
    budget.whole = (tails ? tails->bounded : found.bounded)->totalAt(ratio, budget.random);
    int told = 0;
    for (std::size_t i = 0; i < found.lines.size(); ++i) {
        if (found.lines[i].harmonicOf != i) continue;
        JitterBudget::Part part{Kind::line, extentOf(found.lines, i), 2 * found.lines[i].uncertainty, i, bool(out[i])};
        constexpr int most = 8;
        if (!part.leftOut && told++ < most) {
            std::vector<bool> more = out;
            more[i] = true;
            part.without = boundedWithout(found, more, apart)->totalAt(ratio, budget.random);
        }
        budget.parts.push_back(part);
    }
    if (apart > 0) budget.parts.push_back({Kind::bounded, apart, tails->fit.apartUncertainty});
    budget.parts.push_back({Kind::random, budget.factor * budget.random, budget.factor * randomUncertainty});
    double squares = 0;
    for (const JitterBudget::Part &part : budget.parts)
        if (!part.leftOut && part.kind != Kind::dutyCycle) squares += part.uncertainty * part.uncertainty;
    budget.uncertainty = std::sqrt(squares);
    return budget;
}

} // namespace fulvex
