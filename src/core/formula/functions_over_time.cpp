#include "functions_over_time.h"

#include "error.h"
#include "over_time.h"
#include "parallel.h"

#include <algorithm>
#include <cmath>
#include <memory>
#include <utility>
#include <vector>

namespace fulvex {

namespace {

class Derivative final : public OverTime {
public:
    using OverTime::OverTime;
    void read(std::int64_t first, std::span<double> out) const override
    {
        if (out.empty()) return;
        const std::int64_t count = axis().count, last = first + std::int64_t(out.size());
        const std::int64_t from = std::max<std::int64_t>(0, first - 1), to = std::min(count, last + 1);
        const auto read = values(from, to - from);
        const auto at = [&](std::int64_t i) { return i < 0 || i >= count ? nan : read[std::size_t(i - from)]; };
        double before = at(first - 1), here = at(first);
        for (std::int64_t i = first; i < last; ++i) {
            const double behind = at(i + 1);
            const bool since = before == before, until = behind == behind;
            const double rise = (until ? behind : here) - (since ? before : here);
            // 0 / 0 where it has no neighbour
            out[std::size_t(i - first)] = here == here ? finite(rise / (double(since + until) * axis().interval)) : nan;
            before = std::exchange(here, behind);
        }
    }
};

class Integral final : public OverTime {
public:
    Integral(SourcePtr argument, Progress &progress) : OverTime(std::move(argument))
    {
        // Each piece for itself, then one after the other: the same sums on any number of cores.
        const std::int64_t count = axis().count, pieces = (count + piece - 1) / piece;
        m_before.resize(std::size_t(pieces));
        struct Nothing {};
        static_assert(defaultChunk % piece == 0);
        inChunks<Nothing>({0, count}, defaultChunk, progress, [&](SampleRange mine, Nothing &) {
            for (std::int64_t first = mine.first; first < mine.last; first += piece) {
                progress.advance(0);
                // With the first sample of the next piece, where there is one.
                const std::int64_t some = std::min(piece + 1, count - first);
                const auto own = values(first, some);
                double sum = 0;
                for (std::int64_t i = 1; i < some; ++i) sum += pairOf(own.get() + i);
                m_before[std::size_t(first / piece)] = sum;
            }
            release(mine);
        });
        double sum = 0;
        for (double &place : m_before) sum += std::exchange(place, sum);
    }
    double readEffort() const override { return 1 + 1.5 * OverTime::readEffort(); } // from the place before
    void read(std::int64_t first, std::span<double> out) const override
    {
        if (out.empty()) return;
        const std::int64_t last = first + std::int64_t(out.size()), start = first / piece * piece;
        const auto own = values(start, last - start);
        const double half = axis().interval / 2;
        double sum = 0;
        for (std::int64_t i = start; i < last; ++i) {
            const double *at = own.get() + (i - start);
            sum = i % piece == 0 ? 0 : sum + pairOf(at);
            if (i < first) continue;
            const double value = (m_before[std::size_t(i / piece)] + sum) * half;
            out[std::size_t(i - first)] = *at == *at ? finite(value) : nan;
        }
    }

private:
    static constexpr std::int64_t piece = 4096;
    /// Of a sample and the one before it; 0 where one is a gap.
    static double pairOf(const double *at)
    {
        const double both = at[-1] + at[0];
        return both == both ? both : 0;
    }
    std::vector<double> m_before; ///< of pairs, up to the first sample of each piece
};

class Smooth final : public OverTime {
public:
    Smooth(SourcePtr argument, std::int64_t half) : OverTime(std::move(argument)), m_half(half) {}
    double readEffort() const override
    {
        return OverTime::readEffort() * (1 + double(2 * m_half + piece) / double(piece)) + double(m_half) / piece;
    }
    void read(std::int64_t first, std::span<double> out) const override
    {
        if (out.empty()) return;
        const std::int64_t count = axis().count, last = first + std::int64_t(out.size());
        // Sums go on from fixed places, so that they are the same for every block.
        const std::int64_t from = std::max<std::int64_t>(0, first - m_half) / piece * piece,
                           to = std::min(count, last + m_half);
        const auto own = values(from, to - from);
        std::vector<double> sums(std::size_t(to - from));
        std::vector<std::int32_t> counts(sums.size()); // both from their piece's first sample on
        for (std::size_t i = 0; i < sums.size(); ++i) {
            const bool fresh = i % piece == 0, there = own[i] == own[i];
            sums[i] = (fresh ? 0 : sums[i - 1]) + (there ? own[i] : 0);
            counts[i] = (fresh ? 0 : counts[i - 1]) + there;
        }
        const auto total = [&](const auto &running, std::int64_t begin, std::int64_t end) { // both included
            auto sum = running[std::size_t(end - from)];
            const std::int64_t firstPiece = begin / piece * piece;
            for (std::int64_t at = end / piece * piece; at > firstPiece; at -= piece)
                sum += running[std::size_t(at - 1 - from)];
            return begin > firstPiece ? sum - running[std::size_t(begin - 1 - from)] : sum;
        };
        for (std::int64_t i = first; i < last; ++i) {
            const std::int64_t begin = std::max<std::int64_t>(0, i - m_half), end = std::min(count - 1, i + m_half);
            const bool there = own[std::size_t(i - from)] == own[std::size_t(i - from)];
            out[std::size_t(i - first)] =
                there ? finite(total(sums, begin, end) / double(total(counts, begin, end))) : nan;
        }
    }

private:
    static constexpr std::int64_t piece = 4096;
    std::int64_t m_half; ///< samples to either side
};

} // namespace

SourcePtr smoothOf(const FormulaOver &of)
{
    constexpr double most = 1e6;
    const double time = of.constants[0], samples = time / of.sources[0]->axis().interval;
    if (!(time >= 0)) throw Error("", "smooth over a time below 0", "give how long a time each mean is to be over");
    if (!(samples <= most))
        throw Error("", "smooth over more than a million samples",
                    "give a shorter time, or smooth a resampled channel");
    return std::make_shared<Smooth>(of.sources[0], std::int64_t(samples / 2));
}

SourcePtr derivativeOf(const FormulaOver &of)
{
    return std::make_shared<Derivative>(of.sources[0]);
}

SourcePtr integralOf(const FormulaOver &of)
{
    return std::make_shared<Integral>(of.sources[0], of.progress);
}

} // namespace fulvex
