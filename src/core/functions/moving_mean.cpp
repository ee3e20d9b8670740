#include "functions.h"
#include "window_about.h"

#include <algorithm>
#include <cmath>
#include <vector>

namespace fulvex {

namespace {

/// Of values, or the root of that of their squares.
class MovingMean final : public WindowAbout {
public:
    MovingMean(SourcePtr argument, std::int64_t half, bool squares)
        : WindowAbout(std::move(argument), half), m_squares(squares)
    {
    }
    void read(std::int64_t first, std::span<double> out) const override
    {
        if (out.empty()) return;
        const std::int64_t last = first + std::int64_t(out.size());
        // Sums go on from fixed places, so that they are the same for every block.
        const std::int64_t from = about(first).first / piece * piece, to = about(last - 1).last + 1;
        const auto own = values(from, to - from);
        std::vector<double> sums(std::size_t(to - from));
        std::vector<std::int32_t> counts(sums.size()); // both from their piece's first sample on
        for (std::size_t i = 0; i < sums.size(); ++i) {
            const bool fresh = i % piece == 0, there = own[i] == own[i];
            sums[i] = (fresh ? 0 : sums[i - 1]) + (!there ? 0 : m_squares ? own[i] * own[i] : own[i]);
            counts[i] = (fresh ? 0 : counts[i - 1]) + there;
        }
        const auto total = [&](const auto &running, const Window &window) {
            auto sum = running[std::size_t(window.last - from)];
            const std::int64_t firstPiece = window.first / piece * piece;
            for (std::int64_t at = window.last / piece * piece; at > firstPiece; at -= piece)
                sum += running[std::size_t(at - 1 - from)];
            return window.first > firstPiece ? sum - running[std::size_t(window.first - 1 - from)] : sum;
        };
        for (std::int64_t i = first; i < last; ++i) {
            const Window window = about(i);
            const bool there = own[std::size_t(i - from)] == own[std::size_t(i - from)];
            const double mean = total(sums, window) / double(total(counts, window));
            out[std::size_t(i - first)] = there ? finite(m_squares ? std::sqrt(std::max(0.0, mean)) : mean) : nan;
        }
    }

private:
    static constexpr std::int64_t piece = 4096;
    bool m_squares;
};

constexpr double most = 1e6;

} // namespace

SourcePtr smoothOf(const FormulaOver &of)
{
    return std::make_shared<MovingMean>(of.sources[0], halfWindow(of, "smooth", most), false);
}

SourcePtr movingRmsOf(const FormulaOver &of)
{
    return std::make_shared<MovingMean>(of.sources[0], halfWindow(of, "rms", most), true);
}

} // namespace fulvex
