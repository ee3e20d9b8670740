#include "autocorrelation.h"

#include "fourier.h"
#include "parallel.h"

#include <algorithm>
#include <cmath>
#include <complex>
#include <span>
#include <vector>

namespace fulvex {

namespace {

/// Sums of products of samples `lags` apart at most, whose first ones lie in blocks, added up as their transforms: only
/// the whole is transformed back.
class ProductSums {
public:
    /// Of a block and as many as `lags` further samples, or as there are.
    void add(std::span<const double> values, std::size_t block, FourierBuffer &here, FourierBuffer &after)
    {
        const auto put = [](std::span<const double> some, FourierBuffer &into) {
            std::copy(some.begin(), some.end(), into.reals());
            std::fill(into.reals() + some.size(), into.reals() + into.size(), 0.0);
            into.forward();
        };
        put(values.first(std::min(block, values.size())), here);
        put(values, after);
        m_lines.resize(here.size() / 2 + 1);
        for (std::size_t line = 0; line < m_lines.size(); ++line)
            m_lines[line] += after.lines()[line] * std::conj(here.lines()[line]);
    }
    void merge(const ProductSums &others)
    {
        if (m_lines.size() < others.m_lines.size()) m_lines.resize(others.m_lines.size());
        for (std::size_t line = 0; line < others.m_lines.size(); ++line) m_lines[line] += others.m_lines[line];
    }
    /// By lag, from 0 on.
    std::vector<double> told(std::size_t lags, FourierBuffer &buffer) const
    {
        std::vector<double> sums(lags);
        if (m_lines.empty()) return sums;
        std::copy(m_lines.begin(), m_lines.end(), buffer.lines());
        buffer.backward();
        for (std::size_t lag = 0; lag < lags; ++lag) sums[lag] = buffer.reals()[lag] / double(buffer.size());
        return sums;
    }

private:
    std::vector<std::complex<double>> m_lines;
};

struct Sums {
    ProductSums products;
    ProductSums pairs;             ///< how many, of blocks with gaps
    std::int64_t all = 0;          ///< samples of other blocks, each of which is the first of a pair at any lag
    std::vector<SampleRange> last; ///< other blocks that samples behind them are missing of
    void merge(const Sums &later)
    {
        products.merge(later.products);
        pairs.merge(later.pairs);
        all += later.all;
        last.insert(last.end(), later.last.begin(), later.last.end());
    }
};

struct Mean {
    double sum = 0;
    std::int64_t count = 0;
    void merge(const Mean &later)
    {
        sum += later.sum;
        count += later.count;
    }
};

} // namespace

Autocorrelation autocorrelation(const SampleSource &source, SampleRange range, std::int64_t lags, Progress &progress,
                                std::int64_t mostBlocks)
{
    Autocorrelation found;
    found.interval = source.axis().interval;
    lags = std::min(lags, range.size() - 1);
    if (lags < 1) return found;
    // A quarter of what is transformed are samples that only end pairs.
    const std::size_t size = quickLength(std::size_t(std::max<std::int64_t>(4 * lags, 1 << 15)));
    const std::int64_t block = std::int64_t(size) - lags, blocks = (range.size() + block - 1) / block,
                       used = std::min(blocks, mostBlocks);
    found.share = double(used) / double(blocks);
    const auto blockAt = [&](std::int64_t k) { // spread evenly
        const std::int64_t which =
            used == blocks || used < 2 ? k : std::int64_t(double(k) * double(blocks - 1) / double(used - 1));
        const std::int64_t first = range.first + which * block;
        return SampleRange{first, std::min(range.last, first + block)};
    };
    const Mean all = inChunksMerged<Mean>({0, used}, 1, progress, [&](SampleRange mine, Mean &mean) {
        forBlocks(source, blockAt(mine.first), progress, [&](std::int64_t, std::span<const double> values) {
            for (const double value : values) {
                if (!std::isnan(value)) mean.sum += value, ++mean.count;
            }
        });
    });
    if (all.count == 0) return found;
    found.mean = all.sum / double(all.count);

    // Parts by the range alone, each one after the other.
    const auto parts = std::int64_t(std::clamp<std::size_t>((std::size_t(1) << 23) / size, 1, 16));
    const Sums whole =
        inChunksMerged<Sums>({0, used}, (used + parts - 1) / parts, progress, [&](SampleRange mine, Sums &part) {
            FourierBuffer here({}, size), after({}, size);
            std::vector<double> values, there;
            for (std::int64_t k = mine.first; k < mine.last; ++k) {
                progress.advance(0);
                const SampleRange its = blockAt(k);
                const std::int64_t last = std::min(range.last, its.last + lags);
                values.resize(std::size_t(last - its.first));
                source.read(its.first, values);
                double check = 0;
                for (double &value : values) {
                    value -= found.mean;
                    check += value - value;
                }
                if (check != 0) { // a gap, which is no number: how many pairs there are takes as much again
                    there.assign(values.size(), 1.0);
                    for (std::size_t i = 0; i < values.size(); ++i)
                        if (std::isnan(values[i])) values[i] = there[i] = 0;
                    part.pairs.add(there, std::size_t(its.size()), here, after);
                } else if (last == its.last + lags) {
                    part.all += its.size();
                } else {
                    part.last.push_back(its);
                }
                part.products.add(values, std::size_t(its.size()), here, after);
            }
            source.release({blockAt(mine.first).first, blockAt(mine.last - 1).last});
        });
    const auto wanted = std::size_t(lags + 1);
    FourierBuffer buffer({}, size);
    const std::vector<double> products = whole.products.told(wanted, buffer);
    std::vector<double> pairs = whole.pairs.told(wanted, buffer);
    for (std::size_t lag = 0; lag < wanted; ++lag) {
        pairs[lag] += double(whole.all);
        for (const SampleRange &its : whole.last)
            pairs[lag] += double(std::clamp<std::int64_t>(range.last - its.first - std::int64_t(lag), 0, its.size()));
    }
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
