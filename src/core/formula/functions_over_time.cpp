#include "functions_over_time.h"

#include "parallel.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <memory>
#include <utility>
#include <vector>

namespace fulvex {

namespace {

constexpr double nan = std::numeric_limits<double>::quiet_NaN();

/// What all of these are, but for read().
class OverTime : public SampleSource {
public:
    explicit OverTime(SourcePtr argument) : m_argument(std::move(argument)) {}
    const TimeAxis &axis() const override { return m_argument->axis(); }
    bool mayHaveGaps() const override { return true; } // sums may leave the range of doubles
    void announce(SampleRange range) const override { m_argument->announce(range); }
    void release(SampleRange range) const override { m_argument->release(range); }
    double readEffort() const override { return 0.5 + m_argument->readEffort(); }

protected:
    /// Samples first … of the argument, at least one.
    std::unique_ptr<double[]> values(std::int64_t first, std::int64_t count) const
    {
        auto values = std::make_unique_for_overwrite<double[]>(std::size_t(count));
        m_argument->read(first, std::span(values.get(), std::size_t(count)));
        return values;
    }
    static double finite(double value) { return std::isfinite(value) ? value : nan; }

private:
    SourcePtr m_argument;
};

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

} // namespace

SourcePtr derivativeOf(const SourcePtr &argument, Progress &)
{
    return std::make_shared<Derivative>(argument);
}

SourcePtr integralOf(const SourcePtr &argument, Progress &progress)
{
    return std::make_shared<Integral>(argument, progress);
}

} // namespace fulvex
