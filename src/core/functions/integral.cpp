#include "functions.h"
#include "over_time.h"
#include "parallel.h"

#include <algorithm>
#include <utility>
#include <vector>

namespace fulvex {

namespace {

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

SourcePtr integralOf(const FormulaOver &of)
{
    return std::make_shared<Integral>(of.sources[0], of.progress);
}

} // namespace fulvex
