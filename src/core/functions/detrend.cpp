#include "functions.h"
#include "line_fit.h"
#include "over_time.h"
#include "parallel.h"

namespace fulvex {

namespace {

class Detrended final : public OverTime {
public:
    Detrended(const SourcePtr &source, bool line, Progress &progress) : OverTime(source)
    {
        const LineFit sums =
            inChunksMerged<LineFit>({0, axis().count}, defaultChunk, progress, [&](SampleRange mine, LineFit &part) {
                forBlocks(*source, mine, progress, [&](std::int64_t first, std::span<const double> block) {
                    for (std::size_t i = 0; i < block.size(); ++i)
                        if (block[i] == block[i]) part.add(double(first) + double(i), block[i]);
                });
            });
        m_middle = sums.x;
        m_mean = sums.y;
        m_slope = line ? sums.slope() : 0;
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
