#include "estimated_filter.h"

#include "over_time.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <mutex>

namespace fulvex {

namespace {

class EstimatedFilter final : public OverTime {
public:
    EstimatedFilter(const SourcePtr &argument, FilterPieces pieces)
        : OverTime(argument), m_pieces(std::move(pieces)),
          m_before(std::min(most, m_pieces.piecesUntilFaded(1e-4, most)))
    {
    }
    double readEffort() const override { return double(m_pieces.numbers()) / 4 + 1.1 * OverTime::readEffort(); }
    std::int64_t runIn() const override { return m_before * piece + OverTime::runIn(); }
    void read(std::int64_t first, std::span<double> out) const override
    {
        if (out.empty()) return;
        const std::int64_t last = first + std::int64_t(out.size()), firstPiece = first / piece;
        auto [at, now] = knownBefore(firstPiece);
        const std::int64_t begin = firstPiece * piece;
        const std::int64_t from = at * piece;
        const auto own = values(from, last - from);
        if (at > 0 && at < firstPiece && FilterPieces::isFresh(now)) now = settledAtMean(own.get());

        std::vector<FilterPieces::State> states;
        for (; at * piece < last; ++at) {
            if (at >= firstPiece) states.push_back(now);
            if ((at + 1) * piece <= last) m_pieces.goOn(now, m_pieces.endingOf(own.get() + (at * piece - from)));
        }
        keep(firstPiece, states);
        m_pieces.filterFrom(first, std::span(own.get() + (begin - from), std::size_t(last - begin)), states, out);
    }

private:
    static constexpr std::int64_t piece = FilterPieces::length;
    static constexpr std::int64_t most = 256; ///< pieces ahead
    /// A piece at or before that one whose state is known or estimated, and this.
    std::pair<std::int64_t, FilterPieces::State> knownBefore(std::int64_t number) const
    {
        const std::int64_t far = std::max<std::int64_t>(0, number - m_before);
        const std::lock_guard lock(m_mutex);
        const auto behind = m_known.upper_bound(number);
        if (behind != m_known.begin() && std::prev(behind)->first >= far) return *std::prev(behind);
        return {far, FilterPieces::fresh()};
    }
    void keep(std::int64_t first, const std::vector<FilterPieces::State> &states) const
    {
        const std::lock_guard lock(m_mutex);
        for (std::size_t i = 0; i < states.size(); ++i) m_known.try_emplace(first + std::int64_t(i), states[i]);
    }
    FilterPieces::State settledAtMean(const double *samples) const
    {
        double sum = 0;
        for (std::int64_t i = 0; i < piece; ++i) sum += samples[i];
        return std::isfinite(sum) ? m_pieces.settledAt(sum / double(piece)) : FilterPieces::fresh();
    }

    FilterPieces m_pieces;
    std::int64_t m_before; ///< pieces that are run through ahead of a place far from all others
    mutable std::mutex m_mutex;
    mutable std::map<std::int64_t, FilterPieces::State> m_known; ///< at the first sample of pieces
};

} // namespace

SourcePtr estimatedFilter(const SourcePtr &source, FilterPieces pieces)
{
    return std::make_shared<EstimatedFilter>(source, std::move(pieces));
}

} // namespace fulvex
