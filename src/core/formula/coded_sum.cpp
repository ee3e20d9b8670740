#include "coded_sum.h"

#include "widest_vectors.h"

#include <array>
#include <cmath>

namespace fulvex {

namespace {

constexpr std::size_t piece = 4096; ///< samples that stay in the nearest cache

/// Adds or subtracts, all of a piece; false where a sum does not fit.
FULVEX_WIDEST_VECTORS bool sum(const std::int16_t *a, const std::int16_t *b, std::size_t count, std::int16_t *out)
{
    std::int16_t overflows = 0; // its sign: of both terms alike, and not of the sum
    for (std::size_t i = 0; i < count; ++i) {
        const auto all = std::int16_t(std::uint16_t(a[i]) + std::uint16_t(b[i]));
        overflows = std::int16_t(overflows | ((a[i] ^ all) & (b[i] ^ all)));
        out[i] = all;
    }
    return overflows >= 0;
}

FULVEX_WIDEST_VECTORS bool difference(const std::int16_t *a, const std::int16_t *b, std::size_t count,
                                      std::int16_t *out)
{
    std::int16_t overflows = 0;
    for (std::size_t i = 0; i < count; ++i) {
        const auto all = std::int16_t(std::uint16_t(a[i]) - std::uint16_t(b[i]));
        overflows = std::int16_t(overflows | ((a[i] ^ b[i]) & (a[i] ^ all)));
        out[i] = all;
    }
    return overflows >= 0;
}

FULVEX_WIDEST_VECTORS void scaledSum(const std::int16_t *a, const std::int16_t *b, std::size_t count, double step,
                                     double offset, double *out)
{
    for (std::size_t i = 0; i < count; ++i) out[i] = double(std::int32_t(a[i]) + b[i]) * step + offset;
}

FULVEX_WIDEST_VECTORS void scaledDifference(const std::int16_t *a, const std::int16_t *b, std::size_t count,
                                            double step, double offset, double *out)
{
    for (std::size_t i = 0; i < count; ++i) out[i] = double(std::int32_t(a[i]) - b[i]) * step + offset;
}

/// Where some codes lie, or in `room`.
const std::int16_t *codesOf(const SampleSource &source, std::int64_t first, std::size_t count, std::int16_t *room)
{
    if (const std::int16_t *there = source.codesInPlace(first)) return there;
    source.readCodes(first, std::span(room, count));
    return room;
}

} // namespace

std::optional<CodedSum> CodedSum::of(const std::vector<Term> &terms, double constant)
{
    if (terms.empty() || terms.size() > 2) return std::nullopt;
    std::vector<double> weights; // of the codes
    for (const Term &term : terms) {
        const auto scale = term.source->codeScale();
        if (!scale) return std::nullopt;
        weights.push_back(term.factor * scale->step);
        constant += term.factor * scale->offset;
    }
    constexpr double largest = 1e150; // codes times that are far from leaving the range of doubles
    const double step = weights.front();
    if (step == 0 || !(std::abs(step) < largest) || !(std::abs(constant) < largest) ||
        std::abs(weights.back()) != std::abs(step))
        return std::nullopt;
    CodedSum all;
    all.m_first = terms.front().source;
    if (terms.size() > 1) all.m_second = terms.back().source;
    all.m_subtracts = weights.back() != step;
    all.m_scale = {step, constant};
    return all;
}

void CodedSum::read(std::int64_t first, std::span<double> out) const
{
    std::array<std::int16_t, piece> a, b;
    if (!m_second) b.fill(0);
    for (std::size_t done = 0; done < out.size(); done += piece) {
        const std::size_t count = std::min(piece, out.size() - done);
        const std::int64_t at = first + std::int64_t(done);
        const std::int16_t *own = codesOf(*m_first, at, count, a.data()),
                           *other = m_second ? codesOf(*m_second, at, count, b.data()) : b.data();
        const auto scaled = m_subtracts ? scaledDifference : scaledSum;
        scaled(own, other, count, m_scale.step, m_scale.offset, out.data() + done);
    }
}

bool CodedSum::readCodes(std::int64_t first, std::span<std::int16_t> out) const
{
    if (!m_second) return m_first->readCodes(first, out);
    std::array<std::int16_t, piece> a, b;
    bool fits = true;
    for (std::size_t done = 0; done < out.size() && fits; done += piece) {
        const std::size_t count = std::min(piece, out.size() - done);
        const std::int64_t at = first + std::int64_t(done);
        const std::int16_t *own = codesOf(*m_first, at, count, a.data()),
                           *other = codesOf(*m_second, at, count, b.data());
        fits = (m_subtracts ? difference : sum)(own, other, count, out.data() + done);
    }
    return fits;
}

} // namespace fulvex
