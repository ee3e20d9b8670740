#pragma once

#include "fourier.h"
#include "sample_source.h"
#include "window.h"

#include <limits>
#include <vector>

namespace fulvex {

/// How a range is cut for averaged spectra.
struct SegmentRule {
    Window window = Window::hann;
    std::size_t length = 1 << 14; ///< samples, even
    /// No more segments than that, spread evenly: for first answers.
    std::int64_t most = std::numeric_limits<std::int64_t>::max();
};

/// Pieces of a range that overlap by half, each weighed by a window and transformed.
class Segments {
public:
    Segments(SampleRange range, const SegmentRule &rule);
    std::int64_t count() const { return m_count; } ///< 0 where the range is shorter than one
    std::size_t length() const { return m_weights.size(); }
    std::size_t lines() const { return length() / 2 + 1; }
    std::int64_t first(std::int64_t k) const; ///< sample that one begins at
    SampleRange samples(SampleRange segments) const;
    double share() const { return double(m_count) / double(std::max<std::int64_t>(1, m_all)); } ///< of all there are
    double squares() const { return m_squares; } ///< sum of the squared weights
    /// One's lines into a buffer of `length`; false where a gap is in it.
    bool transform(const SampleSource &source, std::int64_t k, FourierBuffer &buffer) const;
    /// Of squared lines: to a one-sided density, unit² / Hz. Half of it stands at negative frequencies, but of the
    /// lines at 0 and at half the rate.
    double densityScale(std::size_t line, double interval) const;

private:
    SampleRange m_range;
    std::int64_t m_count = 0, m_all = 0;
    std::vector<double> m_weights;
    double m_squares = 0;
};

constexpr std::size_t longestSegment = std::size_t(1) << 24;
/// The shortest length, quickly transformed, by which lines are told apart that lie `resolution` (Hz) apart or more:
/// that of a line under the window, its noise bandwidth. 0: it would be longer than `longestSegment`.
std::size_t segmentFor(double resolution, Window window, double interval);
/// The longest power of two of which a range holds several, up to `most`.
std::size_t usualSegment(SampleRange range, std::size_t most = std::size_t(1) << 18);

} // namespace fulvex
