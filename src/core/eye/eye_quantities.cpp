#include "eye_quantities.h"

#include "parallel.h"

#include <algorithm>
#include <cmath>

namespace fulvex {

EyeCrossings eyeCrossings(const SourcePtr &source, const UnitIntervalMap &map, double level, double hysteresis,
                          EdgeInterpolation interpolation, std::int64_t first, std::int64_t last, Progress &progress)
{
    ReferenceLevels levels;
    levels.states = {level - 5 * hysteresis, level + 5 * hysteresis, 0, 0};
    levels.low = level - 4 * hysteresis;
    levels.mid = level;
    levels.high = level + 4 * hysteresis;
    levels.hysteresis = hysteresis;
    // Some unit intervals before the first, for a sample beyond the hysteresis.
    const auto sampleAt = [&](std::int64_t unitInterval) {
        return std::int64_t(std::clamp(map.positionOf(double(unitInterval)), 0.0, double(source->axis().count)));
    };
    const EdgeList edges =
        findEdges(*source, {sampleAt(first - 16), sampleAt(last + 2)}, levels, interpolation, progress);
    const auto errors = [&](SampleRange mine, Moments &error) {
        std::size_t hint = mine.size() > 0 ? map.knotNear(edges.positions[std::size_t(mine.first)]) : 0;
        for (std::int64_t i = mine.first; i < mine.last; ++i) {
            const double position = edges.positions[std::size_t(i)];
            const UnitIntervalMap::Piece piece = map.pieceAt(position, hint);
            const double ui = piece.number + (position - piece.from) * piece.slope, number = std::round(ui);
            if (number >= double(first) && number <= double(last)) error.add(ui - number);
        }
    };
    EyeCrossings found;
    found.error = inChunksMerged<Moments>({0, std::int64_t(edges.size())}, 1 << 16, progress, errors);
    found.parts = {found.error};
    return found;
}

EyeCrossings EyeCrossings::merged(const std::vector<const EyeCrossings *> &records)
{
    EyeCrossings all;
    for (const EyeCrossings *record : records)
        all.parts.insert(all.parts.end(), record->parts.begin(), record->parts.end());
    std::sort(all.parts.begin(), all.parts.end(), [](const Moments &a, const Moments &b) { return (a <=> b) < 0; });
    for (const Moments &part : all.parts) all.error.merge(part);
    return all;
}

static const char *const noMeeting =
    "the eye has no rising and falling transitions that meet: check the clock and the levels";

std::string EyeQuantities::missing() const
{
    if (fold.one().count >= 2 && fold.zero().count >= 2) return {};
    return "only " + std::to_string(std::int64_t(fold.one().count)) + " samples of ones and " +
           std::to_string(std::int64_t(fold.zero().count)) +
           " of zeros lie in the middle fifth of the eye: check the clock and its levels, or take a longer capture";
}

std::string EyeQuantities::missingCrossings() const
{
    if (crossings && crossings->error.count >= 2) return {};
    return noMeeting;
}

Measured EyeQuantities::ofLevels(double value, double variance) const
{
    const std::string reason = missing();
    return reason.empty() ? Measured::one(value, std::sqrt(variance)) : Measured::none(reason);
}

static double variance(const Moments &moments)
{
    return moments.std() * moments.std();
}

Measured EyeQuantities::oneLevel() const
{
    return ofLevels(fold.one().mean, variance(fold.one()) / fold.one().count);
}
Measured EyeQuantities::zeroLevel() const
{
    return ofLevels(fold.zero().mean, variance(fold.zero()) / fold.zero().count);
}
Measured EyeQuantities::oneNoise() const
{
    return ofLevels(fold.one().std(), variance(fold.one()) / (2 * fold.one().count));
}
Measured EyeQuantities::zeroNoise() const
{
    return ofLevels(fold.zero().std(), variance(fold.zero()) / (2 * fold.zero().count));
}

Measured EyeQuantities::amplitude() const
{
    return ofLevels(fold.one().mean - fold.zero().mean,
                    variance(fold.one()) / fold.one().count + variance(fold.zero()) / fold.zero().count);
}

Measured EyeQuantities::height() const
{
    // The variance of a mean is s^2/N, of a standard deviation about s^2/(2N).
    return ofLevels(fold.one().mean - 3 * fold.one().std() - fold.zero().mean - 3 * fold.zero().std(),
                    5.5 * (variance(fold.one()) / fold.one().count + variance(fold.zero()) / fold.zero().count));
}

Measured EyeQuantities::qFactor() const
{
    const double noise = fold.one().std() + fold.zero().std(), q = (fold.one().mean - fold.zero().mean) / noise;
    if (missing().empty() && noise == 0) return Measured::none("the levels show no noise at all");
    const double spread =
        variance(fold.one()) / (2 * fold.one().count) + variance(fold.zero()) / (2 * fold.zero().count);
    return ofLevels(q, q * q * spread / (noise * noise));
}

Measured EyeQuantities::signalToNoise() const
{
    const Measured q = qFactor();
    if (!q.reason.empty()) return q;
    if (q.value <= 0) return Measured::none("the one level does not lie above the zero level");
    return Measured::one(20 * std::log10(q.value), 20 / std::log(10.0) * *q.uncertainty / q.value);
}

Measured EyeQuantities::crossingLevel() const
{
    const double level = fold.crossing(), amplitude = fold.one().mean - fold.zero().mean;
    if (!missing().empty()) return Measured::none(missing());
    if (!(level == level) || amplitude == 0) return Measured::none(noMeeting);
    return Measured::one(100 * (level - fold.zero().mean) / amplitude);
}

Measured EyeQuantities::width() const
{
    const std::string reason = missingCrossings();
    if (!reason.empty()) return Measured::none(reason);
    const double sigma = crossings->error.std();
    return Measured::one((1 - 6 * sigma) * unitInterval,
                         6 * sigma * unitInterval / std::sqrt(2 * crossings->error.count));
}

Measured EyeQuantities::jitterRms() const
{
    const std::string reason = missingCrossings();
    if (!reason.empty()) return Measured::none(reason);
    const double sigma = crossings->error.std() * unitInterval;
    return Measured::one(sigma, sigma / std::sqrt(2 * crossings->error.count));
}

Measured EyeQuantities::jitterPeakToPeak() const
{
    const std::string reason = missingCrossings();
    if (!reason.empty()) return Measured::none(reason);
    return Measured::one((crossings->error.max - crossings->error.min) * unitInterval);
}

} // namespace fulvex
