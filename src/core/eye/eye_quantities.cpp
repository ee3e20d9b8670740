#include "eye_quantities.h"

#include "jackknife.h"
#include "parallel.h"
#include "symbol_levels.h"
#include "symbol_middles.h"
#include "transition_finder.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>

namespace fulvex {

namespace {

/// Some unit intervals before the first, for a sample beyond the hysteresis.
SampleRange samplesAbout(const SampleSource &source, const UnitIntervalMap &map, std::int64_t first, std::int64_t last)
{
    const auto sampleAt = [&](std::int64_t unitInterval) {
        return std::int64_t(std::clamp(map.positionOf(double(unitInterval)), 0.0, double(source.axis().count)));
    };
    return {sampleAt(first - 16), sampleAt(last + 2)};
}

/// Moments of so many things, and of stretches of them; `use(range, moments)` adds those of a range.
template <typename Use>
EyeCrossings inStretches(std::int64_t count, const Use &use, Progress &progress)
{
    EyeCrossings found;
    constexpr std::int64_t few = 8; // of a stretch
    const auto stretches = std::clamp<std::int64_t>(count / few, 1, jackknifeParts);
    for (std::int64_t stretch = 0; stretch < stretches; ++stretch) {
        const SampleRange mine{stretch * count / stretches, (stretch + 1) * count / stretches};
        found.stretches.push_back(inChunksMerged<Moments>(mine, 1 << 16, progress, use));
        found.error.merge(found.stretches.back());
    }
    found.parts = {found.error};
    return found;
}

} // namespace

EyeCrossings eyeCrossings(const SourcePtr &source, const UnitIntervalMap &map, double level, double hysteresis,
                          EdgeInterpolation interpolation, std::int64_t first, std::int64_t last, Progress &progress)
{
    ReferenceLevels levels;
    levels.states = {level - 5 * hysteresis, level + 5 * hysteresis};
    levels.low = level - 4 * hysteresis;
    levels.mid = level;
    levels.high = level + 4 * hysteresis;
    levels.hysteresis = hysteresis;
    const EdgeList edges = findEdges(*source, samplesAbout(*source, map, first, last), levels, interpolation, progress);
    const auto errors = [&](SampleRange mine, Moments &error) {
        std::size_t hint = mine.size() > 0 ? map.knotNear(edges.positions[std::size_t(mine.first)]) : 0;
        for (std::int64_t i = mine.first; i < mine.last; ++i) {
            const double position = edges.positions[std::size_t(i)];
            const UnitIntervalMap::Piece piece = map.pieceAt(position, hint);
            const double ui = piece.number + (position - piece.from) * piece.slope, number = std::round(ui);
            const bool counts = number >= double(first) && number <= double(last) &&
                                (map.runsAlways() || map.runsAt(std::int64_t(number)));
            if (counts) error.add(ui - number);
        }
    };
    return inStretches(std::int64_t(edges.size()), errors, progress);
}

EyeCrossings eyeTransitions(const SourcePtr &source, const UnitIntervalMap &map, const ReferenceLevels &levels,
                            const std::vector<double> &thresholds, std::size_t opening, bool rising,
                            EdgeInterpolation interpolation, std::int64_t first, std::int64_t last, Progress &progress)
{
    const SampleRange samples = samplesAbout(*source, map, first, last);
    const EdgeList edges = findEdges(*source, samples, levels, interpolation, progress);
    const Transitions all =
        findTransitions(*source, samples, edges, levels, rising ? EdgeChoice::rising : EdgeChoice::falling, progress);
    const std::size_t before = rising ? opening : opening + 1, behind = rising ? opening + 1 : opening;
    const auto durations = [&](SampleRange mine, Moments &duration) {
        std::size_t hint = mine.size() > 0 ? map.knotNear(all.starts[std::size_t(mine.first)]) : 0;
        std::array<double, 2> middles;
        SymbolMiddles reader(*source, map);
        for (std::int64_t i = mine.first; i < mine.last; ++i) {
            const double lasts = all.durations[std::size_t(i)], middle = all.starts[std::size_t(i)] + lasts / 2;
            const UnitIntervalMap::Piece piece = map.pieceAt(middle, hint);
            const auto boundary = std::llround(piece.number + (middle - piece.from) * piece.slope);
            if (boundary < first || boundary > last || !(map.runsAlways() || map.runsAt(boundary))) continue;
            reader.values(boundary - 1, middles);
            const bool its = symbolOf(middles[0], thresholds) == before && symbolOf(middles[1], thresholds) == behind;
            if (its) duration.add(lasts * piece.slope);
        }
    };
    return inStretches(std::int64_t(all.size()), durations, progress);
}

EyeCrossings EyeCrossings::merged(const std::vector<const EyeCrossings *> &records)
{
    EyeCrossings all;
    for (const EyeCrossings *record : records) {
        all.parts.insert(all.parts.end(), record->parts.begin(), record->parts.end());
        all.stretches.insert(all.stretches.end(), record->stretches.begin(), record->stretches.end());
    }
    const auto before = [](const Moments &a, const Moments &b) { return (a <=> b) < 0; };
    std::sort(all.parts.begin(), all.parts.end(), before);
    std::sort(all.stretches.begin(), all.stretches.end(), before);
    for (const Moments &part : all.parts) all.error.merge(part);
    if (all.parts.size() >= EyeFold::manyRecords) all.stretches = all.parts;
    return all;
}

static const char *const noMeeting =
    "the eye has no rising and falling transitions that meet: check the clock and the levels";

std::string EyeQuantities::missing() const
{
    const double ones = whole().one().count, zeros = whole().zero().count;
    if (ones >= 2 && zeros >= 2) return {};
    return "only " + std::to_string(std::int64_t(ones)) + " samples of ones and " +
           std::to_string(std::int64_t(zeros)) +
           " of zeros lie in the middle fifth of the eye: check the clock and its levels, or take a longer capture";
}

std::string EyeQuantities::missingCrossings() const
{
    if (crossings && crossings->error.count >= 2) return {};
    return noMeeting;
}

namespace {

/// What is left of merged parts without one of them, part by part.
template <typename Part>
std::vector<Part> leftWithoutEach(const std::vector<Part> &parts)
{
    std::vector<Part> left(parts.size());
    Part before;
    for (std::size_t i = 0; i < parts.size(); ++i) {
        left[i] = before;
        before.merge(parts[i]);
    }
    Part behind;
    for (std::size_t i = parts.size(); i-- > 0;) {
        left[i].merge(behind);
        Part more = parts[i];
        more.merge(behind);
        behind = std::move(more);
    }
    return left;
}

} // namespace

/// How far a step in each of two levels and two noises moves Q.
double EyeQuantities::qPerStep() const
{
    return std::sqrt(2.0) / whole().noise() * std::hypot(1, whole().q());
}

Measured EyeQuantities::ofFold(double (*of)(const Opening &), double perStep) const
{
    if (const std::string reason = missing(); !reason.empty()) return Measured::none(reason);
    const std::vector<EyeFold::Part> left = leftWithoutEach(fold.stretches);
    Measured found = Measured::scattered(of(whole()), jackknifeUncertainty(left.size(), [&](std::size_t i) {
                                             return of(Opening{left[i], opening});
                                         }));
    if (resolution > 0) { // noise passes several steps, and shares them out
        const double noise = whole().noise() / 2;
        found.parts.push_back(
            {"quantisation", std::abs(perStep) * resolution / std::sqrt(12.0) / std::max(1.0, noise / resolution)});
    }
    return found;
}

Measured EyeQuantities::ofCrossings(double (*of)(const Moments &, double)) const
{
    if (const std::string reason = missingCrossings(); !reason.empty()) return Measured::none(reason);
    const std::vector<Moments> left = leftWithoutEach(crossings->stretches);
    return Measured::scattered(
        of(crossings->error, unitInterval),
        jackknifeUncertainty(left.size(), [&](std::size_t i) { return of(left[i], unitInterval); }));
}

Measured EyeQuantities::oneLevel() const
{
    return ofFold([](const Opening &eye) { return eye.one().mean; }, 1);
}
Measured EyeQuantities::zeroLevel() const
{
    return ofFold([](const Opening &eye) { return eye.zero().mean; }, 1);
}
Measured EyeQuantities::oneNoise() const
{
    return ofFold([](const Opening &eye) { return eye.one().std(); }, 1);
}
Measured EyeQuantities::zeroNoise() const
{
    return ofFold([](const Opening &eye) { return eye.zero().std(); }, 1);
}

Measured EyeQuantities::amplitude() const
{
    return ofFold([](const Opening &eye) { return eye.amplitude(); }, std::sqrt(2.0));
}

Measured EyeQuantities::height() const
{
    return ofFold([](const Opening &eye) { return eye.amplitude() - 3 * eye.noise(); }, std::sqrt(2.0 + 2 * 9));
}

Measured EyeQuantities::qFactor() const
{
    if (missing().empty() && whole().noise() == 0) return Measured::none("the levels show no noise at all");
    return ofFold([](const Opening &eye) { return eye.q(); }, qPerStep());
}

Measured EyeQuantities::signalToNoise() const
{
    const Measured q = qFactor();
    if (!q.reason.empty()) return q;
    if (q.value <= 0) return Measured::none("the one level does not lie above the zero level");
    return ofFold([](const Opening &eye) { return 20 * std::log10(eye.q()); },
                  20 / std::numbers::ln10 / q.value * qPerStep());
}

Measured EyeQuantities::crossingLevel() const
{
    if (!missing().empty()) return Measured::none(missing());
    const double level = whole().crossing();
    if (!(level == level) || whole().amplitude() == 0) return Measured::none(noMeeting);
    return ofFold([](const Opening &eye) { return 100 * (eye.crossing() - eye.zero().mean) / eye.amplitude(); },
                  100 / whole().amplitude());
}

Measured EyeQuantities::width() const
{
    return ofCrossings([](const Moments &error, double unit) { return (1 - 6 * error.std()) * unit; });
}

Measured EyeQuantities::jitterRms() const
{
    return ofCrossings([](const Moments &error, double unit) { return error.std() * unit; });
}

Measured EyeQuantities::transitionTime() const
{
    if (!crossings || crossings->error.count < 2)
        return Measured::none("fewer than two transitions between its levels are complete: check the clock and the "
                              "levels, or take a longer capture");
    return ofCrossings([](const Moments &duration, double unit) { return duration.mean * unit; });
}

Measured EyeQuantities::jitterPeakToPeak() const
{
    if (const std::string reason = missingCrossings(); !reason.empty()) return Measured::none(reason);
    const double peakToPeak = (crossings->error.max - crossings->error.min) * unitInterval;
    const std::vector<Moments> &stretches = crossings->stretches;
    if (stretches.size() < 4) return Measured::one(peakToPeak);
    Moments tops, bottoms;
    for (const Moments &one : stretches) {
        tops.add(one.max);
        bottoms.add(one.min);
    }
    const double count = crossings->error.count, each = std::max(2.0, count / double(stretches.size()));
    return Measured::scattered(peakToPeak, std::hypot(tops.std(), bottoms.std()) *
                                               std::sqrt(std::log(each) / std::log(count)) * unitInterval);
}

} // namespace fulvex
