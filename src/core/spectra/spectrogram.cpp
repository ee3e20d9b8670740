#include "spectrogram.h"

#include "parallel.h"

#include <algorithm>
#include <cmath>

namespace fulvex {

Spectrogram spectrogram(const SampleSource &source, SampleRange range, const SpectrogramRule &rule, Progress &progress)
{
    constexpr std::size_t mostCells = std::size_t(1) << 22;
    const Segments segments(range, rule);
    Spectrogram gram;
    gram.window = rule.window;
    gram.highest = rule.highest;
    gram.step = 1 / (source.axis().interval * double(rule.length));
    gram.noiseBandwidth = windowNoiseBandwidth(rule.window);
    gram.lines = segments.lines();
    if (segments.count() == 0) return gram;
    const std::int64_t columns = std::clamp<std::int64_t>(
        std::min<std::int64_t>(std::int64_t(rule.mostColumns), std::int64_t(mostCells / gram.lines)), 1,
        segments.count());
    gram.columns = std::size_t(columns);
    gram.densities.resize(gram.columns * gram.lines);
    // A segment's middle is what it is of.
    gram.first = double(segments.first(0)) + double(rule.length) / 4;
    gram.each = double(segments.count()) / double(columns) * double(rule.length / 2);
    const auto begins = [&](std::int64_t column) { return column * segments.count() / columns; };
    std::int64_t looked = 0;
    for (std::int64_t column = 0; column < columns; ++column)
        looked += std::min(rule.mostInAColumn, begins(column + 1) - begins(column));
    gram.share = double(looked) / double(segments.count());
    const std::int64_t together = std::max<std::int64_t>(1, (1 << 17) / (looked / columns * std::int64_t(rule.length)));
    struct Nothing {};
    inChunks<Nothing>({0, columns}, together, progress, [&](SampleRange mine, Nothing &) {
        FourierBuffer buffer({}, segments.length());
        std::vector<double> sums(gram.lines);
        for (std::int64_t column = mine.first; column < mine.last; ++column) {
            progress.advance(0);
            const std::int64_t first = begins(column), all = begins(column + 1) - first,
                               used = std::min(all, rule.mostInAColumn);
            std::fill(sums.begin(), sums.end(), 0.0);
            double count = 0;
            for (std::int64_t k = 0; k < used; ++k) {
                if (!segments.transform(source, first + (2 * k + 1) * all / (2 * used), buffer)) continue;
                for (std::size_t line = 0; line < gram.lines; ++line) {
                    const double power = std::norm(buffer.lines()[line]);
                    sums[line] = rule.highest ? std::max(sums[line], power) : sums[line] + power;
                }
                ++count;
            }
            for (std::size_t line = 0; line < gram.lines; ++line)
                gram.densities[std::size_t(column) * gram.lines + line] =
                    count > 0 ? float(sums[line] / (rule.highest ? 1 : count) *
                                      segments.densityScale(line, source.axis().interval))
                              : NAN;
        }
        source.release(segments.samples({begins(mine.first), begins(mine.last)}));
    });
    return gram;
}

} // namespace fulvex
