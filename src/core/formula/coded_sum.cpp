#include "coded_sum.h"

#include "widest_vectors.h"

#include <array>
#include <cmath>

namespace fulvex {

namespace {

constexpr std::size_t piece = 4096; ///< samples that stay in the nearest cache

template <bool subtracts>
std::int32_t joined(std::int16_t a, std::int16_t b)
{
    return subtracts ? std::int32_t(a) - b : std::int32_t(a) + b;
}

/// All of a piece; false where one does not fit.
template <bool subtracts>
FULVEX_WIDEST_VECTORS bool join(const std::int16_t *a, const std::int16_t *b, std::size_t count, std::int16_t *out)
{
    std::int16_t overflows = 0; // its sign: of both terms alike, and not of the sum
    for (std::size_t i = 0; i < count; ++i) {
        const auto all = std::int16_t(joined<subtracts>(a[i], b[i]));
        const auto term = std::int16_t(subtracts ? ~b[i] : b[i]); // of the sign that is added
        overflows = std::int16_t(overflows | ((a[i] ^ all) & (term ^ all)));
        out[i] = all;
    }
    return overflows >= 0;
}

template <bool subtracts>
FULVEX_WIDEST_VECTORS bool join(const std::int16_t *a, const std::int16_t *b, std::size_t count, std::int32_t *out)
{
    for (std::size_t i = 0; i < count; ++i) out[i] = joined<subtracts>(a[i], b[i]);
    return true;
}

template <bool subtracts>
FULVEX_WIDEST_VECTORS void scaled(const std::int16_t *a, const std::int16_t *b, std::size_t count, double step,
                                  double offset, double *out)
{
    for (std::size_t i = 0; i < count; ++i) out[i] = double(joined<subtracts>(a[i], b[i])) * step + offset;
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
        if (!scale || scale->wide) return std::nullopt;
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
    all.m_scale = {step, constant, terms.size() > 1};
    return all;
}

/// `use(a, b, count, done)`: codes of both terms, behind so many others; until one says false.
template <typename Use>
bool CodedSum::forPieces(std::int64_t first, std::size_t count, Use &&use) const
{
    std::array<std::int16_t, piece> a, b;
    if (!m_second) b.fill(0);
    bool goesOn = true;
    for (std::size_t done = 0; done < count && goesOn; done += piece) {
        const std::size_t some = std::min(piece, count - done);
        const std::int64_t at = first + std::int64_t(done);
        const std::int16_t *own = codesOf(*m_first, at, some, a.data()),
                           *other = m_second ? codesOf(*m_second, at, some, b.data()) : b.data();
        goesOn = use(own, other, some, done);
    }
    return goesOn;
}

void CodedSum::read(std::int64_t first, std::span<double> out) const
{
    forPieces(first, out.size(), [&](const auto *a, const auto *b, std::size_t count, std::size_t done) {
        (m_subtracts ? scaled<true> : scaled<false>)(a, b, count, m_scale.step, m_scale.offset, out.data() + done);
        return true;
    });
}

bool CodedSum::readCodes(std::int64_t first, std::span<std::int16_t> out) const
{
    if (!m_second) return m_first->readCodes(first, out);
    return forPieces(first, out.size(), [&](const auto *a, const auto *b, std::size_t count, std::size_t done) {
        return m_subtracts ? join<true>(a, b, count, out.data() + done) : join<false>(a, b, count, out.data() + done);
    });
}

void CodedSum::readWideCodes(std::int64_t first, std::span<std::int32_t> out) const
{
    forPieces(first, out.size(), [&](const auto *a, const auto *b, std::size_t count, std::size_t done) {
        return m_subtracts ? join<true>(a, b, count, out.data() + done) : join<false>(a, b, count, out.data() + done);
    });
}

} // namespace fulvex
