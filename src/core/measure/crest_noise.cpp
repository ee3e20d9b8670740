#include "crest_noise.h"

#include "resampled_source.h"
#include "sample_window.h"

#include <algorithm>
#include <cmath>

namespace fulvex {

std::optional<double> crestNoise(const SourcePtr &source, const EdgeList &edges)
{
    constexpr std::size_t groups = 64, together = 18, fewest = 16;
    constexpr int fine = 16; // places a sample: a crest is flat between two of them
    if (edges.size() < fewest + 1) return {};
    const SourcePtr between = upsampled(source, fine);
    SampleWindow window(*between);
    const auto level = [&](std::size_t edge) {
        const double middle = (edges.positions[edge] + edges.positions[edge + 1]) / 2 * fine;
        return window.at(std::clamp<std::int64_t>(std::llround(middle), 0, window.count() - 1));
    };
    const std::size_t pulses = edges.size() - 1, step = std::max(together, pulses / groups);
    double squares = 0, count = 0;
    for (std::size_t first = 0; first + 3 < pulses; first += step) {
        double before[2] = {NAN, NAN};
        for (std::size_t edge = first; edge < std::min(pulses, first + together); ++edge) {
            const bool rising = edges.isRising(edge);
            const double now = edges.isAfterGap(edge + 1) ? NAN : level(edge), change = now - before[rising];
            before[rising] = now;
            if (!(change == change)) continue;
            squares += change * change / 2;
            ++count;
        }
    }
    if (count < double(fewest) / 2) return {};
    return std::sqrt(squares / count);
}

} // namespace fulvex
