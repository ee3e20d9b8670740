#include "functions.h"
#include "window_about.h"

#include <algorithm>
#include <vector>

namespace fulvex {

namespace {

/// The largest of a window is the larger of two: from its begin to a fixed place in it, and from there to its end.
/// Source: M. van Herk, "A fast algorithm for local minimum and maximum filters on rectangular and octagonal kernels",
/// Pattern Recognition Letters 13 (1992).
class Envelope final : public WindowAbout {
public:
    Envelope(SourcePtr argument, std::int64_t half, bool upper)
        : WindowAbout(std::move(argument), half), m_length(2 * half + 1), m_upper(upper)
    {
    }
    void read(std::int64_t first, std::span<double> out) const override
    {
        if (out.empty()) return;
        const std::int64_t last = first + std::int64_t(out.size());
        const std::int64_t from = about(first).first, to = about(last - 1).last + 1;
        const auto own = values(from, to - from);
        const auto count = std::size_t(to - from), length = std::size_t(m_length);
        std::vector<double> since(count), until(count); // the place before, up to the next
        for (std::size_t i = 0; i < count; ++i) since[i] = i % length == 0 ? own[i] : farther(since[i - 1], own[i]);
        for (std::size_t i = count; i-- > 0;)
            until[i] = i + 1 == count || (i + 1) % length == 0 ? own[i] : farther(until[i + 1], own[i]);
        for (std::int64_t i = first; i < last; ++i) {
            const Window window = about(i);
            const auto begin = std::size_t(window.first - from), end = std::size_t(window.last - from);
            const double here = own[std::size_t(i - from)];
            // At the record's ends a window is shorter, and may lie between two places.
            const double found = begin / length == end / length ? (begin % length == 0 ? since[end] : until[begin])
                                                                : farther(until[begin], since[end]);
            out[std::size_t(i - first)] = here == here ? found + 0.0 : nan; // of two zeros the same one, however read
        }
    }

private:
    double farther(double a, double b) const
    {
        if (a != a || b != b) return a == a ? a : b;
        return m_upper == (a > b) ? a : b;
    }
    std::int64_t m_length;
    bool m_upper;
};

} // namespace

SourcePtr envelopeOf(const FormulaOver &of)
{
    constexpr double most = 1e6;
    return std::make_shared<Envelope>(of.sources[0], halfWindow(of, "envelope", most), of.words[0] == "upper");
}

} // namespace fulvex
