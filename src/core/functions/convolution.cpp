#include "convolution.h"

#include "fourier.h"
#include "over_time.h"

#include <algorithm>
#include <bit>
#include <deque>
#include <mutex>

namespace fulvex {

namespace {

/// The record is cut into segments of one length. Those made last are kept, as blocks that are read are shorter.
class Convolution final : public OverTime {
public:
    Convolution(const SourcePtr &source, std::vector<double> taps, std::int64_t ahead)
        : OverTime(source), m_taps(std::move(taps)), m_ahead(ahead),
          m_size(std::max<std::size_t>(4096, std::bit_ceil(4 * m_taps.size()))),
          m_length(std::int64_t(m_size - m_taps.size() + 1)), m_spectrum(m_taps, m_size), m_sums(m_taps.size() + 1)
    {
        m_spectrum.forward();
        for (std::size_t k = 0; k < m_taps.size(); ++k) m_sums[k + 1] = m_sums[k] + m_taps[k];
    }
    double readEffort() const override { return 4 + OverTime::readEffort() * double(m_size) / double(m_length); }
    void read(std::int64_t first, std::span<double> out) const override
    {
        const std::int64_t last = first + std::int64_t(out.size());
        for (std::int64_t at = first; at < last;) {
            const std::int64_t index = at / m_length, end = std::min(last, (index + 1) * m_length);
            const auto segment = segmentAt(index);
            std::copy_n(segment->begin() + (at - index * m_length), end - at, out.begin() + (at - first));
            at = end;
        }
    }

private:
    using Segment = std::shared_ptr<const std::vector<double>>;
    Segment segmentAt(std::int64_t index) const
    {
        {
            const std::lock_guard lock(m_guard);
            for (const auto &[known, segment] : m_recent)
                if (known == index) return segment;
        }
        Segment made = std::make_shared<const std::vector<double>>(madeSegment(index));
        const std::lock_guard lock(m_guard);
        constexpr std::size_t most = 8;
        m_recent.emplace_front(index, made);
        if (m_recent.size() > most) m_recent.pop_back();
        return made;
    }
    std::vector<double> madeSegment(std::int64_t index) const
    {
        const std::int64_t first = index * m_length, last = std::min(axis().count, first + m_length);
        const std::int64_t reach = std::int64_t(m_taps.size()) - 1, begin = first + m_ahead - reach,
                           end = last + m_ahead;
        // What the taps reach, the ends repeated.
        std::vector<double> window(std::size_t(end - begin));
        const std::int64_t from = std::clamp<std::int64_t>(begin, 0, axis().count - 1),
                           to = std::clamp<std::int64_t>(end, from + 1, axis().count);
        argument().read(from, std::span(window).subspan(std::size_t(from - begin), std::size_t(to - from)));
        std::fill_n(window.begin(), from - begin, window[std::size_t(from - begin)]);
        std::fill(window.begin() + (to - begin), window.end(), window[std::size_t(to - begin - 1)]);

        std::vector<double> made(std::size_t(last - first));
        if (!argument().mayHaveGaps() || std::none_of(window.begin(), window.end(), isGap)) {
            transformed(window, made);
            return made;
        }
        // Sample first + i lies at `here` + i of the window: what lies between gaps about it is continued.
        const std::int64_t here = first - begin;
        std::fill(made.begin(), made.end(), nan);
        for (std::int64_t at = here; at < here + (last - first);) {
            if (isGap(window[std::size_t(at)])) {
                ++at;
                continue;
            }
            std::int64_t begins = at, ends = at;
            while (begins > 0 && !isGap(window[std::size_t(begins - 1)])) --begins;
            while (ends < std::int64_t(window.size()) && !isGap(window[std::size_t(ends)])) ++ends;
            const std::int64_t stop = std::min(ends, here + (last - first));
            stretch(std::span(window).subspan(std::size_t(begins), std::size_t(ends - begins)), at - begins,
                    std::span(made).subspan(std::size_t(at - here), std::size_t(stop - at)));
            at = stop;
        }
        return made;
    }
    static bool isGap(double value) { return value != value; }

    /// Of a stretch without gaps, its ends repeated, from one of its samples on.
    void stretch(std::span<const double> values, std::int64_t from, std::span<double> out) const
    {
        const auto taps = std::int64_t(m_taps.size()), count = std::int64_t(values.size());
        constexpr std::int64_t few = 256; // faster tap by tap
        if (count > few) {
            std::vector<double> window(out.size() + m_taps.size() - 1);
            const std::int64_t begin = from + m_ahead - (taps - 1);
            for (std::size_t i = 0; i < window.size(); ++i)
                window[i] = values[std::size_t(std::clamp<std::int64_t>(begin + std::int64_t(i), 0, count - 1))];
            transformed(window, out);
            return;
        }
        for (std::size_t i = 0; i < out.size(); ++i) {
            const std::int64_t at = from + std::int64_t(i) + m_ahead; // less k: the sample of tap k
            const std::int64_t behind = std::clamp<std::int64_t>(at - count + 1, 0, taps), // taps before see the last
                before = std::clamp<std::int64_t>(at + 1, 0, taps);                        // those from here the first
            double sum = m_sums[std::size_t(behind)] * values.back() +
                         (m_sums.back() - m_sums[std::size_t(before)]) * values.front();
            for (std::int64_t k = behind; k < before; ++k) sum += m_taps[std::size_t(k)] * values[std::size_t(at - k)];
            out[i] = finite(sum);
        }
    }
    /// Of a window that begins as far before the first output as the taps reach.
    void transformed(std::span<const double> window, std::span<double> out) const
    {
        FourierBuffer buffer(window, m_size);
        buffer.forward();
        auto *lines = buffer.lines();
        const auto *taps = m_spectrum.lines();
        const double scale = 1 / double(m_size);
        for (std::size_t i = 0; i <= m_size / 2; ++i) {
            const double re = lines[i].real() * taps[i].real() - lines[i].imag() * taps[i].imag();
            const double im = lines[i].real() * taps[i].imag() + lines[i].imag() * taps[i].real();
            lines[i] = {re * scale, im * scale};
        }
        buffer.backward();
        const double *values = buffer.reals() + (m_taps.size() - 1);
        for (std::size_t i = 0; i < out.size(); ++i) out[i] = values[i] - values[i] == 0 ? values[i] : nan;
    }

    std::vector<double> m_taps;
    std::int64_t m_ahead;
    std::size_t m_size;    ///< of a transform
    std::int64_t m_length; ///< of a segment
    FourierBuffer m_spectrum;
    std::vector<double> m_sums; ///< of the taps before each
    mutable std::mutex m_guard;
    mutable std::deque<std::pair<std::int64_t, Segment>> m_recent; ///< newest first
};

} // namespace

SourcePtr convolved(const SourcePtr &source, std::vector<double> taps, std::int64_t ahead)
{
    return std::make_shared<Convolution>(source, std::move(taps), ahead);
}

} // namespace fulvex
