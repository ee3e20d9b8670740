#include "functions.h"
#include "over_time.h"
#include "parallel.h"

namespace fulvex {

namespace {

/// Sums for a straight line of least squares, about the middle of the stretch: positions stay small numbers.
struct LineSums {
    double count = 0, position = 0, value = 0, square = 0, product = 0; ///< means, then sums of deviations
    void add(double at, double v)
    {
        count += 1;
        const double apart = at - position;
        position += apart / count;
        square += apart * (at - position);
        const double off = v - value;
        value += off / count;
        product += apart * (v - value);
    }
    void merge(const LineSums &other)
    {
        if (other.count == 0) return;
        const double all = count + other.count, apart = other.position - position, off = other.value - value;
        const double weight = count * other.count / all;
        square += other.square + apart * apart * weight;
        product += other.product + apart * off * weight;
        position += apart * other.count / all;
        value += off * other.count / all;
        count = all;
    }
};

class Detrended final : public OverTime {
public:
    Detrended(const SourcePtr &source, bool line, Progress &progress) : OverTime(source)
    {
        const LineSums sums =
            inChunksMerged<LineSums>({0, axis().count}, defaultChunk, progress, [&](SampleRange mine, LineSums &part) {
                forBlocks(*source, mine, progress, [&](std::int64_t first, std::span<const double> block) {
                    for (std::size_t i = 0; i < block.size(); ++i)
                        if (block[i] == block[i]) part.add(double(first) + double(i), block[i]);
                });
            });
        m_middle = sums.position;
        m_mean = sums.value;
        m_slope = line && sums.square > 0 ? sums.product / sums.square : 0;
    }
    void read(std::int64_t first, std::span<double> out) const override
    {
        argument().read(first, out);
        for (double &value : out) value = finite(value - (m_mean + m_slope * (double(first++) - m_middle)));
    }

private:
    double m_middle = 0, m_mean = 0, m_slope = 0; ///< samples; value; value a sample
};

} // namespace

SourcePtr detrendOf(const FormulaOver &of)
{
    return std::make_shared<Detrended>(of.sources[0], of.words[0] == "line", of.progress);
}

} // namespace fulvex
