#include "recursive_filter.h"

#include "estimated_filter.h"
#include "filter_pieces.h"
#include "over_time.h"
#include "parallel.h"

#include <algorithm>
#include <vector>

namespace fulvex {

namespace {

using State = FilterPieces::State;

constexpr std::int64_t fewPieces = 4; ///< are run through before each rather than scanning the record

/// Each piece of the record goes on from a state that is known of its first sample, so that a block is the same however
/// it is cut. Where a state fades within a few pieces, these are run through before each piece; else a scan of the
/// record goes through all, and a block costs what its own samples do.
class RecursiveFilter final : public OverTime {
public:
    /// `before`: pieces within which a state fades, if these are few.
    RecursiveFilter(const SourcePtr &argument, FilterPieces pieces, std::int64_t before, Progress &progress)
        : OverTime(argument), m_pieces(std::move(pieces)), m_before(before)
    {
        if (m_before > fewPieces) scan(progress);
    }
    double readEffort() const override
    {
        const double before = m_starts.empty() ? double(m_before) / FilterCascade::together : 0;
        return double(m_pieces.numbers()) / 4 + (1.1 + before) * OverTime::readEffort();
    }
    void read(std::int64_t first, std::span<double> out) const override
    {
        if (out.empty()) return;
        const std::int64_t last = first + std::int64_t(out.size()), firstPiece = first / piece;
        const std::int64_t before = m_starts.empty() ? std::min(m_before, firstPiece) : 0;
        const std::int64_t from = (firstPiece - before) * piece, begin = firstPiece * piece;
        const auto own = values(from, last - from);
        std::vector<State> states(std::size_t((last - begin + piece - 1) / piece));
        if (m_starts.empty()) {
            std::vector<FilterPieces::Ending> endings; // of all but the last
            for (std::int64_t at = 0; at + piece < last - from; at += piece)
                endings.push_back(m_pieces.endingOf(own.get() + at));
            for (std::int64_t i = 0; i < std::int64_t(states.size()); ++i) {
                states[std::size_t(i)] = FilterPieces::fresh();
                const std::int64_t here = before + i; // among the endings
                for (std::int64_t k = std::max<std::int64_t>(0, here - m_before); k < here; ++k)
                    m_pieces.goOn(states[std::size_t(i)], endings[std::size_t(k)]);
            }
        } else {
            for (std::size_t i = 0; i < states.size(); ++i) {
                const auto start = m_starts.begin() + std::ptrdiff_t((std::size_t(firstPiece) + i) * numbers());
                std::copy(start, start + std::ptrdiff_t(numbers()), states[i].begin());
            }
        }
        m_pieces.filterFrom(first, std::span(own.get() + (begin - from), std::size_t(last - begin)), states, out);
    }

private:
    static constexpr std::int64_t piece = FilterPieces::length;
    std::size_t numbers() const { return m_pieces.numbers(); }
    void scan(Progress &progress)
    {
        const std::int64_t count = axis().count, pieces = (count + piece - 1) / piece;
        std::vector<FilterPieces::Ending> endings(static_cast<std::size_t>(pieces));
        struct Nothing {};
        constexpr std::int64_t some = piece * FilterCascade::together; // stays in a core's cache
        static_assert(defaultChunk % some == 0);
        inChunks<Nothing>({0, count}, defaultChunk, progress, [&](SampleRange mine, Nothing &) {
            for (std::int64_t first = mine.first; first < mine.last; first += some) {
                progress.advance(0);
                const std::int64_t length = std::min(some, mine.last - first);
                const auto own = values(first, length);
                for (std::int64_t at = 0; at + piece <= length; at += piece)
                    endings[std::size_t((first + at) / piece)] = m_pieces.endingOf(own.get() + at);
            }
            release(mine);
        });
        m_starts.reserve(endings.size() * numbers());
        State now = FilterPieces::fresh();
        for (const FilterPieces::Ending &ending : endings) {
            m_starts.insert(m_starts.end(), now.begin(), now.begin() + std::ptrdiff_t(numbers()));
            m_pieces.goOn(now, ending);
        }
    }

    FilterPieces m_pieces;
    std::int64_t m_before;        ///< pieces that are run through before each
    std::vector<double> m_starts; ///< the state at the first sample of each piece; empty: found as it is read
};

/// Last sample first.
class Reversed final : public OverTime {
public:
    using OverTime::OverTime;
    bool mayHaveGaps() const override { return argument().mayHaveGaps(); }
    double readEffort() const override { return argument().readEffort(); }
    void announce(SampleRange range) const override { argument().announce(turned(range)); }
    void release(SampleRange range) const override { argument().release(turned(range)); }
    void read(std::int64_t first, std::span<double> out) const override
    {
        const std::int64_t last = first + std::int64_t(out.size());
        argument().read(turned({first, last}).first, out);
        std::reverse(out.begin(), out.end());
    }

private:
    SampleRange turned(SampleRange range) const { return {axis().count - range.last, axis().count - range.first}; }
};

} // namespace

SourcePtr recursivelyFiltered(const SourcePtr &source, const FilterCascade &filter, const FormulaOver &of)
{
    constexpr double nothing = 1e-18; // of what a state was
    FilterPieces pieces(filter);
    const std::int64_t before = pieces.piecesUntilFaded(nothing, fewPieces);
    if (before > fewPieces && of.estimated && source->axis().count >= worthEstimating) {
        *of.estimated = true;
        return estimatedFilter(source, std::move(pieces));
    }
    return std::make_shared<RecursiveFilter>(source, std::move(pieces), before, of.progress);
}

SourcePtr filteredBackward(const SourcePtr &source, const FilterCascade &filter, const FormulaOver &of)
{
    return std::make_shared<Reversed>(recursivelyFiltered(std::make_shared<Reversed>(source), filter, of));
}

} // namespace fulvex
