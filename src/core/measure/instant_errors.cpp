#include "instant_errors.h"

#include "crossing_refiner.h"
#include "middle.h"
#include "sample_window.h"

#include <algorithm>
#include <cmath>
#include <vector>

namespace fulvex {

namespace {

/// Looked at are so many groups of so many places that follow on each other: what is read for one does for the next.
constexpr std::size_t groups = 25, together = 8, looked = groups * together;

/// How much later the straight line between two samples passes a level than the parabola through their neighbours as
/// well (Bessel's formula, second differences), in samples; 0 beside gaps and the record's ends.
double straightIsLater(SampleWindow &window, double position)
{
    const auto left = std::int64_t(std::floor(position));
    if (left < 1 || left + 2 >= window.count()) return 0;
    const double a = window.at(left - 1), b = window.at(left), c = window.at(left + 1), d = window.at(left + 2);
    const double share = position - double(left), bulge = -share * (1 - share) / 4 * (a - b - c + d), slope = c - b;
    const double later = bulge / slope;
    return std::abs(later) < 0.5 ? later : 0; // NaN too
}

/// Of a passage at `position`: between the samples around it, or between samples farther apart, as long as they differ
/// by less than is wanted and the signal goes on.
struct Chord {
    std::int64_t reach; ///< to as many samples on either side
    double slope;       ///< the unit per sample
};
Chord chordAround(SampleWindow &window, double position, double wanted, double noise)
{
    constexpr std::int64_t farthest = 2048;
    const auto left = std::clamp<std::int64_t>(std::int64_t(std::floor(position)), 0, window.count() - 2);
    const auto rise = [&](std::int64_t reach) { return window.at(left + reach) - window.at(left + 1 - reach); };
    std::int64_t reach = 1;
    double risen = rise(reach);
    while (!(std::abs(risen) >= wanted) && 2 * reach <= farthest && left + 2 * reach < window.count() &&
           left + 1 - 2 * reach >= 0) {
        const double more = rise(2 * reach);
        if (!(more == more) || (std::abs(risen) > 6 * noise && std::abs(more) < 1.2 * std::abs(risen))) break;
        reach *= 2;
        risen = more;
    }
    return {reach, risen / double(2 * reach - 1)};
}

/// A quantile of what is not negative and may lie in steps: equal values are spread over theirs. Leaves the values in
/// another order.
double quantileOf(std::vector<double> &values, double share)
{
    const double rank = share * double(values.size());
    const auto at = values.begin() + std::ptrdiff_t(rank);
    std::nth_element(values.begin(), at, values.end());
    const double value = *at, rounding = 1e-9 * *std::max_element(at, values.end());
    std::size_t below = 0, equal = 0;
    double next = INFINITY;
    for (const double other : values) {
        below += other < value - rounding;
        equal += other >= value - rounding && other <= value + rounding;
        next = other > value + rounding && other < next ? other : next;
    }
    const double step = std::isinf(next) ? 0 : next - value;
    const double low = std::max(0.0, value - step / 2), high = value + step / 2;
    return low + (high - low) * (rank - double(below)) / double(equal);
}

/// How far from their mean a share of normal values of rms 1 lies at most.
double normalWithin(double share)
{
    double low = 0, high = 10;
    while (high - low > 1e-6) {
        const double middle = (low + high) / 2;
        (std::erf(middle / std::sqrt(2.0)) < share ? low : high) = middle;
    }
    return low;
}

} // namespace

std::vector<double> somePlaces(const EdgeList &edges, bool rising)
{
    const EdgeList some = somePulses(edges, rising);
    std::vector<double> places;
    for (std::size_t i = 0; i < some.size(); ++i) {
        if (some.isRising(i) == rising) places.push_back(some.positions[i]);
    }
    return places;
}

std::vector<double> somePlaces(const Population &population, bool ends)
{
    std::vector<double> places;
    const auto look = [&](std::size_t first, std::size_t last) {
        for (std::size_t i = first; i < last; ++i)
            places.push_back(population.position[i] + (ends ? population.span[i] : 0));
    };
    const std::size_t count = population.size();
    if (count <= looked)
        look(0, count);
    else
        for (std::size_t group = 0; group < groups; ++group)
            look(group * count / groups, group * count / groups + together);
    return places;
}

EdgeList somePulses(const EdgeList &edges, bool rising)
{
    const std::size_t count = edges.size();
    if (count <= 3 * looked) return edges;
    EdgeList some;
    some.interpolatedBySinc = edges.interpolatedBySinc;
    for (std::size_t group = 0; group < groups; ++group) {
        const std::size_t first = group * count / groups;
        std::size_t edge = first;
        while (edge < first + 2 * together) {
            if (edges.isRising(edge) != rising) { // the first, or behind a gap
                ++edge;
                continue;
            }
            for (const std::size_t one : {edge, edge + 1}) {
                some.positions.push_back(edges.positions[one]);
                some.flags.push_back(edges.flags[one]);
            }
            edge += 2;
        }
    }
    return some;
}

double instantNoise(double noise, double slope, bool bySinc)
{
    return noise / slope * (bySinc ? 1 : std::sqrt(2.0 / 3));
}

InstantErrors instantErrors(const SampleSource &source, const std::vector<double> &places, bool bySinc, double noise)
{
    InstantErrors errors;
    SampleWindow window(source);
    if (places.empty() || window.count() < 2) return errors;
    std::vector<double> slopes;
    double late = 0;
    for (const double at : places) {
        const double near = chordAround(window, at, 8 * noise, noise).slope;
        const double slope = std::abs(bySinc ? refinedSlope(window, at).value_or(near) : near);
        if (slope > 0) slopes.push_back(slope);
        if (!bySinc) late += straightIsLater(window, at);
        source.release({std::int64_t(at), std::int64_t(at) + 1});
    }
    if (!slopes.empty()) errors.slope = middleOf(slopes);
    errors.straight = late / double(places.size());
    return errors;
}

std::int64_t slopeReach(const SampleSource &source, const std::vector<double> &places, double wanted, double noise)
{
    SampleWindow window(source);
    if (places.empty() || window.count() < 2) return 1;
    std::vector<std::int64_t> reaches;
    for (const double at : places) {
        const Chord found = chordAround(window, at, wanted, noise);
        std::int64_t reach = found.reach;
        // Where it was noise that made the difference, a chord of twice the length knows better.
        const double slope = std::abs(chordAround(window, at, 2 * wanted, noise).slope);
        if (slope > 0 && std::abs(found.slope) * double(2 * reach - 1) >= wanted)
            reach = std::int64_t(std::clamp(std::ceil((wanted / slope + 1) / 2), 1.0, 2.0 * double(reach)));
        reaches.push_back(reach);
        source.release({std::int64_t(at), std::int64_t(at) + 1});
    }
    return middleOf(reaches);
}

SlopeErrors slopeErrors(const SampleSource &source, const std::vector<double> &places, bool bySinc, std::int64_t reach)
{
    SlopeErrors errors;
    SampleWindow window(source);
    std::vector<std::pair<double, double>> slopes; // over `reach`, and between the neighbours
    for (const double at : places) {
        const auto left = std::int64_t(std::floor(at));
        const std::int64_t far = 2 * reach; // the chord between reach and far on either side, against the one within
        if (left + 1 - far < 0 || left + far >= window.count()) continue;
        const double a = window.at(left + 1 - far), b = window.at(left + 1 - reach), c = window.at(left + reach),
                     d = window.at(left + far), within = double(2 * reach - 1), between = double(far - reach);
        const double bend = ((d - c) - (b - a)) / between / (within + between), share = at - double(left);
        const double inner = (c - b) / within, outer = (d - a) / (within + 2 * between);
        if (!(bend == bend)) continue;
        errors.bend += bend / double(places.size());
        // Off the chord's middle the slope differs by the bend; in it, as the square of the chord's length says.
        const double wider = (within + 2 * between) / within;
        if (!bySinc)
            errors.straight += ((inner - outer) / (1 - wider * wider) - (share - 0.5) * bend) / double(places.size());
        slopes.emplace_back(inner, window.at(left + 1) - window.at(left));
        source.release({left, left + 1});
    }
    // A crossing is the likelier the steeper the signal is there.
    double mean = 0, steps = 0, products = 0;
    for (const auto &[slope, step] : slopes)
        mean += slope / double(slopes.size()), steps += step / double(slopes.size());
    for (const auto &[slope, step] : slopes) products += (slope - mean) * (step - steps) / double(slopes.size());
    if (!bySinc && steps != 0) errors.chosen = products / steps;
    return errors;
}

double sampleNoise(const SampleSource &source, SampleRange range)
{
    constexpr std::int64_t run = 1024, runs = 64;
    const std::int64_t step = std::max(run, range.size() / runs);
    std::vector<double> bends, values;
    for (std::int64_t first = range.first; first + 3 <= range.last; first += step) {
        values.resize(std::size_t(std::min(run, range.last - first)));
        source.read(first, values);
        for (std::size_t i = 2; i < values.size(); ++i) {
            const double bend = std::abs(values[i] - 2 * values[i - 1] + values[i - 2]);
            if (bend == bend) bends.push_back(bend);
        }
    }
    if (bends.empty()) return 0;
    const double share = std::clamp(400 / double(bends.size()), 0.1, 0.5);
    return quantileOf(bends, share) / normalWithin(share) / std::sqrt(6.0); // 1 + 4 + 1 variances
}

double sampleNoise(const SampleSource &source, SampleRange range, const AmplitudeSurvey &survey)
{
    const double noise = sampleNoise(source, range);
    return survey.histogram.bins.size() < 2 ? noise : std::min(noise, stateSpread(survey.histogram));
}

double crestWander(const SampleSource &source, const std::vector<double> &places, double noise)
{
    if (places.empty() || !(noise > 0)) return 0;
    constexpr std::int64_t farthest = 1 << 14;
    SampleWindow window(source);
    std::vector<double> wanders;
    for (const double place : places) {
        const auto crest = std::clamp<std::int64_t>(std::llround(place), 0, window.count() - 1);
        const double top = window.at(crest);
        // How far the signal stays within a drop, mean of both sides; up or down.
        const auto side = [&](double drop, std::int64_t way) {
            double was = 0;
            for (std::int64_t i = 1; i < farthest && crest + way * i >= 0 && crest + way * i < window.count(); ++i) {
                const double is = std::abs(window.at(crest + way * i) - top);
                if (!(is < drop)) return double(i - 1) + (is > was ? (drop - was) / (is - was) : 1);
                was = is;
            }
            return double(way > 0 ? window.count() - 1 - crest : crest) + 1;
        };
        const auto reach = [&](double drop) { return (side(drop, 1) + side(drop, -1)) / 2; };
        // The crest itself stands out of the noise by about 2: drops by 4 and by 16, and the power law through both.
        const double near = reach(6 * noise), far = reach(18 * noise);
        const double power = std::log(4.0) / std::log(std::max(far / near, 1.05));
        const double wide =
            near / std::pow(8.0, 1 / power) * std::sqrt(std::tgamma(3 / power) / std::tgamma(1 / power));
        const double bend = 2 * 4 * noise / std::pow(near, power); // over one sample to either side
        const double wander = std::min(wide, noise / (std::sqrt(2.0) * bend));
        wanders.push_back(wander);
    }
    return middleOf(wanders);
}

} // namespace fulvex
