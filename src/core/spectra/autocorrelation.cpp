#include "autocorrelation.h"

#include "fourier.h"
#include "parallel.h"

#include <algorithm>
#include <bit>
#include <cmath>

namespace fulvex {

namespace {

/// Of pairs whose first sample lies in a block: sums of products, and how many.
struct Sums {
    std::vector<double> products, pairs; ///< by lag
};

void add(const std::vector<double> &more, std::vector<double> &to)
{
    to.resize(more.size());
    for (std::size_t lag = 0; lag < more.size(); ++lag) to[lag] += more[lag];
}

struct Mean {
    double sum = 0;
    std::int64_t count = 0;
};

/// Products of a block with what follows it, by lag.
class BlockCorrelator {
public:
    BlockCorrelator(std::size_t block, std::size_t lags)
        : m_block(block), m_lags(lags), m_here({}, std::bit_ceil(block + lags)), m_after({}, m_here.size())
    {
    }
    /// `values`: the block's and those of `lags` further ones, or of as many as there are.
    std::vector<double> correlated(std::span<const double> values)
    {
        std::fill_n(m_here.reals(), m_here.size(), 0.0);
        std::fill_n(m_after.reals(), m_after.size(), 0.0);
        std::copy_n(values.begin(), std::min(m_block, values.size()), m_here.reals());
        std::copy(values.begin(), values.end(), m_after.reals());
        m_here.forward();
        m_after.forward();
        for (std::size_t line = 0; line <= m_here.size() / 2; ++line)
            m_after.lines()[line] *= std::conj(m_here.lines()[line]);
        m_after.backward();
        std::vector<double> products(m_lags);
        for (std::size_t lag = 0; lag < m_lags; ++lag) products[lag] = m_after.reals()[lag] / double(m_after.size());
        return products;
    }

private:
    std::size_t m_block, m_lags;
    FourierBuffer m_here, m_after;
};

} // namespace

Autocorrelation autocorrelation(const SampleSource &source, SampleRange range, std::int64_t lags, Progress &progress,
                                std::int64_t mostBlocks)
{
    Autocorrelation found;
    found.interval = source.axis().interval;
    lags = std::min(lags, range.size() - 1);
    if (lags < 1) return found;
    const std::int64_t block = std::max<std::int64_t>(lags + 1, 1 << 14), blocks = (range.size() + block - 1) / block,
                       used = std::min(blocks, mostBlocks);
    found.share = double(used) / double(blocks);
    const auto blockAt = [&](std::int64_t k) { // spread evenly
        const std::int64_t which =
            used == blocks || used < 2 ? k : std::int64_t(double(k) * double(blocks - 1) / double(used - 1));
        const std::int64_t first = range.first + which * block;
        return SampleRange{first, std::min(range.last, first + block)};
    };
    const auto means = inChunks<Mean>({0, used}, 1, progress, [&](SampleRange mine, Mean &mean) {
        forBlocks(source, blockAt(mine.first), progress, [&](std::int64_t, std::span<const double> values) {
            for (const double value : values) {
                if (!std::isnan(value)) mean.sum += value, ++mean.count;
            }
        });
    });
    Mean all;
    for (const Mean &mean : means) all.sum += mean.sum, all.count += mean.count;
    if (all.count == 0) return found;
    found.mean = all.sum / double(all.count);

    const auto wanted = std::size_t(lags + 1);
    const std::int64_t parts = std::min<std::int64_t>(used, 16), each = (used + parts - 1) / parts;
    const auto sums = inChunks<Sums>({0, used}, each, progress, [&](SampleRange mine, Sums &part) {
        BlockCorrelator correlator(std::size_t(block), wanted);
        std::vector<double> values, there;
        for (std::int64_t k = mine.first; k < mine.last; ++k) {
            progress.advance(0);
            const SampleRange here = blockAt(k);
            const std::int64_t last = std::min(range.last, here.last + lags);
            values.resize(std::size_t(last - here.first));
            source.read(here.first, values);
            there.assign(values.size(), 1.0);
            bool gaps = false;
            for (std::size_t i = 0; i < values.size(); ++i) {
                const bool gap = std::isnan(values[i]);
                values[i] = gap ? 0 : values[i] - found.mean;
                there[i] = !gap;
                gaps |= gap;
            }
            add(correlator.correlated(values), part.products);
            if (gaps) { // how many pairs there are takes as much again
                add(correlator.correlated(there), part.pairs);
                continue;
            }
            part.pairs.resize(wanted);
            for (std::size_t lag = 0; lag < wanted; ++lag)
                part.pairs[lag] +=
                    double(std::clamp<std::int64_t>(last - here.first - std::int64_t(lag), 0, here.size()));
        }
        source.release({blockAt(mine.first).first, blockAt(mine.last - 1).last});
    });
    Sums whole;
    for (const Sums &part : sums) {
        add(part.products, whole.products);
        add(part.pairs, whole.pairs);
    }
    const auto &[products, pairs] = whole;
    found.pairs = std::llround(pairs[0]);
    found.variance = products[0] / pairs[0];
    if (!(found.variance > 1e-24 * found.mean * found.mean)) return found; // nothing but rounding
    found.coefficients.resize(wanted);
    for (std::size_t lag = 0; lag < wanted; ++lag)
        found.coefficients[lag] = pairs[lag] > 0.5 ? products[lag] / pairs[lag] / found.variance : NAN;
    return found;
}

std::vector<Autocorrelation::Peak> Autocorrelation::peaks(std::size_t most) const
{
    std::vector<Peak> tops;
    const auto &c = coefficients;
    std::size_t lag = 0;
    while (lag < c.size() && !(c[lag] < 0.5)) ++lag;
    const double least = 5 / std::sqrt(double(std::max<std::int64_t>(1, pairs)));
    for (lag = std::max<std::size_t>(lag, 1); lag + 1 < c.size(); ++lag) {
        if (!(c[lag] > c[lag - 1] && c[lag] >= c[lag + 1] && c[lag] > least)) continue;
        const double bend = c[lag - 1] - 2 * c[lag] + c[lag + 1];
        const double off = bend < 0 ? (c[lag - 1] - c[lag + 1]) / (2 * bend) : 0;
        tops.push_back({(double(lag) + off) * interval, c[lag] - (c[lag - 1] - c[lag + 1]) * off / 4});
    }
    std::sort(tops.begin(), tops.end(), [](const Peak &a, const Peak &b) { return a.coefficient > b.coefficient; });
    if (tops.size() > most) tops.resize(most);
    return tops;
}

} // namespace fulvex
