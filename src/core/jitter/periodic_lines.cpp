#include "periodic_lines.h"

#include "parallel.h"
#include "sample_source.h"
#include "spectral_lines.h"
#include "turn.h"
#include "widest_vectors.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <complex>

namespace fulvex {

namespace {

constexpr std::size_t mostLines = 64;
constexpr std::size_t longest = std::size_t(1) << 20; ///< unit intervals that are transformed at a time
constexpr std::int64_t fewEdges = 1 << 14;            ///< of a chunk

constexpr std::size_t block = 1024; ///< edges at a time, whose sines stay in the nearest cache
constexpr std::size_t lanes = 8;    ///< sums side by side, so that they can be vectors

/// cos and sin of so many turns a place: to 1e-9, by the series of a sine up to a quarter turn.
FULVEX_WIDEST_VECTORS void turned(double cycles, const std::int32_t *places, std::size_t size, double *cosines,
                                  double *sines)
{
    constexpr double whole = 6755399441055744.0; // 1.5 * 2^52: what is added to it is rounded
    constexpr double c1 = turn, c3 = -c1 * turn * turn / 6, c5 = -c3 * turn * turn / 20, c7 = -c5 * turn * turn / 42,
                     c9 = -c7 * turn * turn / 72, c11 = -c9 * turn * turn / 110, c13 = -c11 * turn * turn / 156;
    for (std::size_t i = 0; i < size; ++i) {
        const double turns = cycles * places[i], part = turns - ((turns + whole) - whole);
        const double far = std::abs(part), near = far < 0.25 ? far : 0.5 - far, beside = 0.25 - far;
        const double u = near * near, v = beside * beside;
        const double sine = near * (c1 + u * (c3 + u * (c5 + u * (c7 + u * (c9 + u * (c11 + u * c13))))));
        sines[i] = part < 0 ? -sine : sine;
        cosines[i] = beside * (c1 + v * (c3 + v * (c5 + v * (c7 + v * (c9 + v * (c11 + v * c13))))));
    }
}

/// A line on the grid: re * cos + im * sin, cycles a unit interval.
struct Fitted {
    double cycles = 0, re = 0, im = 0;
    double variance[2] = {0, 0}; ///< of amplitude and cycles, times that of what is left
    double amplitude() const { return std::hypot(re, im); }
};

SampleRange allOf(const JitterEdges &edges)
{
    return {0, std::int64_t(edges.size())};
}

/// Takes a line out of what is left in place of another one.
template <typename Value>
void exchange(const JitterEdges &edges, const Fitted &out, const Fitted &in, std::span<Value> rest, Progress &progress)
{
    struct Nothing {};
    inChunks<Nothing>(allOf(edges), fewEdges, progress, [&](SampleRange mine, Nothing &) {
        std::array<double, block> cosines, sines;
        for (auto first = std::size_t(mine.first); first < std::size_t(mine.last); first += block) {
            const std::size_t some = std::min(block, std::size_t(mine.last) - first);
            for (const auto &[line, sign] : {std::pair(&out, 1.0), std::pair(&in, -1.0)}) {
                if (line->re == 0 && line->im == 0) continue;
                turned(line->cycles, edges.places.data() + first, some, cosines.data(), sines.data());
                const double re = sign * line->re, im = sign * line->im;
                Value *to = rest.data() + first;
                for (std::size_t i = 0; i < some; ++i) to[i] += Value(re * cosines[i] + im * sines[i]);
            }
        }
    });
}

/// As it was told: its phase is at the middle of the edges.
Fitted fittedOf(const PeriodicLine &line, const JitterEdges &edges)
{
    const double cycles = line.frequency * edges.unitInterval, turns = cycles * edges.middle(),
                 phase = line.phase - turn * (turns - std::floor(turns));
    return {cycles, line.amplitude * std::sin(phase), line.amplitude * std::cos(phase), {}};
}

/// Sums of the squares of least squares over some edges, at cos and sin of a line and its change with frequency.
FULVEX_WIDEST_VECTORS void addSquares(const double *cosines, const double *sines, const std::int32_t *places,
                                      const double *rest, std::size_t size, double re, double im, double middle,
                                      double (*sums)[lanes])
{
    for (std::size_t first = 0; first + lanes <= size; first += lanes) {
        for (std::size_t k = 0; k < lanes; ++k) {
            const std::size_t i = first + k;
            const double c = cosines[i], s = sines[i], r = rest[i];
            const double along = turn * (places[i] - middle) * (im * c - re * s);
            sums[0][k] += c * c;
            sums[1][k] += c * s;
            sums[2][k] += c * along;
            sums[3][k] += s * s;
            sums[4][k] += s * along;
            sums[5][k] += along * along;
            sums[6][k] += c * r;
            sums[7][k] += s * r;
            sums[8][k] += along * r;
        }
    }
}

/// Sums of least squares for three unknowns.
struct Normal {
    std::array<double, 6> matrix{}; ///< 00 01 02 11 12 22
    std::array<double, 3> right{};
    void take(const double (*sums)[lanes])
    {
        for (std::size_t k = 0; k < lanes; ++k) {
            for (std::size_t i = 0; i < matrix.size(); ++i) matrix[i] += sums[i][k];
            for (std::size_t i = 0; i < right.size(); ++i) right[i] += sums[matrix.size() + i][k];
        }
    }
    void merge(const Normal &later)
    {
        for (std::size_t i = 0; i < matrix.size(); ++i) matrix[i] += later.matrix[i];
        for (std::size_t i = 0; i < right.size(); ++i) right[i] += later.right[i];
    }
    /// The unknowns and the variances of the three; false where they cannot be told apart.
    /// The third stays 0 where it is not asked for.
    bool solve(std::array<double, 3> &unknowns, std::array<double, 3> &variances) const
    {
        const auto &[a, b, c, d, e, f] = matrix;
        if (f == 0) {
            const double both = a * d - b * b;
            if (!(both > 1e-12 * a * d)) return false;
            unknowns = {(d * right[0] - b * right[1]) / both, (a * right[1] - b * right[0]) / both, 0};
            variances = {d / both, a / both, 0};
            return true;
        }
        const double aa = d * f - e * e, bb = c * e - b * f, cc = b * e - c * d, dd = a * f - c * c, ee = b * c - a * e,
                     ff = a * d - b * b, all = a * aa + b * bb + c * cc;
        if (!(all > 1e-12 * a * d * f)) return false;
        unknowns = {(aa * right[0] + bb * right[1] + cc * right[2]) / all,
                    (bb * right[0] + dd * right[1] + ee * right[2]) / all,
                    (cc * right[0] + ee * right[1] + ff * right[2]) / all};
        variances = {aa / all, dd / all, ff / all};
        return true;
    }
};

/// One step of Gauss and Newton on one line, which is taken out of `rest` already; of one without an amplitude yet,
/// that and its phase alone. False where it cannot be told.
bool refine(const JitterEdges &edges, std::span<const double> rest, Fitted &line, Progress &progress)
{
    // Frequency by its phase about the middle, which leaves the three unknowns nearly independent.
    const double middle = edges.middle();
    const auto normal = inChunksMerged<Normal>(allOf(edges), fewEdges, progress, [&](SampleRange mine, Normal &part) {
        std::array<double, block> cosines, sines, values;
        std::array<std::int32_t, block> places;
        double sums[9][lanes] = {};
        for (auto first = std::size_t(mine.first); first < std::size_t(mine.last); first += block) {
            const std::size_t some = std::min(block, std::size_t(mine.last) - first),
                              room = (some + lanes - 1) / lanes * lanes;
            turned(line.cycles, edges.places.data() + first, some, cosines.data(), sines.data());
            std::copy_n(edges.places.data() + first, some, places.data());
            std::copy_n(rest.data() + first, some, values.data());
            for (std::size_t i = some; i < room; ++i) // that count for nothing
                cosines[i] = sines[i] = values[i] = 0, places[i] = 0;
            addSquares(cosines.data(), sines.data(), places.data(), values.data(), room, line.re, line.im, middle,
                       sums);
        }
        part.take(sums);
    });
    std::array<double, 3> by, variances;
    if (!normal.solve(by, variances)) return false;
    // The phase at the middle stays what it is while the frequency is corrected.
    const double bin = 1 / std::max(1.0, double(edges.places.back()));
    const double faster = std::clamp(by[2], -bin, bin);
    const std::complex<double> turnedBack = std::polar(1.0, -turn * faster * middle);
    const std::complex<double> phasor = std::complex(line.re + by[0], -(line.im + by[1])) * turnedBack;
    line.re = phasor.real();
    line.im = -phasor.imag();
    line.cycles += faster;
    line.variance[0] = (variances[0] + variances[1]) / 2;
    line.variance[1] = variances[2];
    return true;
}

struct Squares {
    double sum = 0;
    void merge(const Squares &later) { sum += later.sum; }
};

double meanSquare(const JitterEdges &edges, std::span<const double> rest, Progress &progress)
{
    const Squares all = inChunksMerged<Squares>(allOf(edges), fewEdges, progress, [&](SampleRange mine, Squares &part) {
        double sums[lanes] = {};
        auto i = std::size_t(mine.first);
        for (; i + lanes <= std::size_t(mine.last); i += lanes)
            for (std::size_t k = 0; k < lanes; ++k) sums[k] += rest[i + k] * rest[i + k];
        for (; i < std::size_t(mine.last); ++i) sums[0] += rest[i] * rest[i];
        for (const double sum : sums) part.sum += sum;
    });
    return all.sum / double(std::max<std::size_t>(1, rest.size()));
}

/// What is left at the edges, on the grid of unit intervals, between them nothing.
class OnGrid final : public SampleSource {
public:
    OnGrid(const JitterEdges &edges, std::span<const double> rest, std::size_t length)
        : m_edges(edges), m_rest(rest), m_axis{0, 1, std::int64_t(length)}
    {
    }
    const TimeAxis &axis() const override { return m_axis; }
    void read(std::int64_t first, std::span<double> out) const override
    {
        std::fill(out.begin(), out.end(), 0.0);
        const auto &places = m_edges.places;
        const auto last = first + std::int64_t(out.size());
        auto edge = std::size_t(std::lower_bound(places.begin(), places.end(), first) - places.begin());
        for (; edge < places.size() && places[edge] < last; ++edge)
            out[std::size_t(places[edge] - first)] = m_rest[edge];
    }
    bool mayHaveGaps() const override { return false; }

private:
    const JitterEdges &m_edges;
    std::span<const double> m_rest;
    TimeAxis m_axis;
};

/// Where lines stand in the spectrum of what is left, cycles a unit interval, strongest first: those within 10 dB of
/// the strongest, since a line makes weaker ones wherever the pattern of edges has one.
struct Seen {
    std::vector<double> cycles;
    bool more = false; ///< weaker ones stand as well
};
Seen linesSeen(const JitterEdges &edges, std::span<const double> rest, Progress &progress)
{
    const std::size_t size = edges.unitIntervals() + 1;
    constexpr std::size_t shortest = 64;
    constexpr std::int64_t enoughSegments = 16; // of the longest: a line of 1 % of the noise stands out of them
    if (size < shortest) return {};
    // All of it at once, as far as it is not too long: zeroes behind it cost little and stand for edges that are none.
    std::size_t length = shortest;
    while (length < size && length < longest) length *= 2;
    SegmentRule rule;
    rule.length = length;
    rule.most = enoughSegments;
    const OnGrid grid(edges, rest, std::max(size, length));
    const Spectrum spectrum = Spectrum::of(powerSpectrum(grid, {0, grid.axis().count}, {rule, false}, progress));
    Seen seen;
    for (const SpectralLine &line : spectrum.lines) {
        if (!line.stands || line.frequency < 2.0 / double(edges.unitIntervals())) continue;
        seen.more = seen.cycles.size() == 8 || line.power < 0.1 * spectrum.lines.front().power;
        if (seen.more) break;
        seen.cycles.push_back(line.frequency);
    }
    return seen;
}

} // namespace

void nameHarmonics(std::vector<PeriodicLine> &lines)
{
    for (std::size_t i = 0; i < lines.size(); ++i) {
        lines[i].harmonicOf = i;
        for (std::size_t of = 0; of < i; ++of) { // the stronger ones, that are no harmonics themselves
            const double times = lines[i].frequency / lines[of].frequency, whole = std::round(times);
            const double off = std::hypot(lines[i].frequencyUncertainty, whole * lines[of].frequencyUncertainty);
            if (lines[of].harmonicOf != of || whole < 2 || whole > 20) continue;
            if (std::abs(lines[i].frequency - whole * lines[of].frequency) > 4 * off) continue;
            lines[i].harmonicOf = of;
            lines[i].harmonic = int(whole);
            break;
        }
    }
}

std::vector<PeriodicLine> takeOutLines(const JitterEdges &edges, std::span<double> rest,
                                       const std::vector<PeriodicLine> &known, bool toTheEnd, Progress &progress)
{
    std::vector<Fitted> lines;
    constexpr int looks = 12;
    for (const PeriodicLine &line : known) {
        lines.push_back(fittedOf(line, edges));
        exchange<double>(edges, {}, lines.back(), rest, progress);
    }
    // As high as of noise alone one in a thousand records has one anywhere.
    const double chance = std::log(1e3 * double(std::max<std::size_t>(2, edges.unitIntervals())));
    const auto step = [&](Fitted &line) {
        const Fitted was = line;
        if (!refine(edges, rest, line, progress)) line = {};
        exchange<double>(edges, was, line, rest, progress);
    };
    for (Fitted &line : lines) step(line);
    for (int look = 0; look < looks && lines.size() < mostLines; ++look) {
        const Seen seen = linesSeen(edges, rest, progress);
        // Once more those that were known: each by itself was fitted beside errors of the others.
        if (seen.cycles.empty() && (look > 0 || lines.empty())) break;
        const std::size_t before = lines.size();
        // What is seen beside a line that was taken out is what was left of it, not a line of its own.
        const double apart = std::max(2 / std::max(1.0, double(edges.places.back())), 1 / double(longest));
        bool refined = false;
        for (const double cycles : seen.cycles) {
            const auto same = std::find_if(lines.begin(), lines.end(),
                                           [&](const Fitted &line) { return std::abs(line.cycles - cycles) < apart; });
            if (same != lines.end()) {
                step(*same);
                refined = true;
            } else {
                lines.push_back({cycles, 0, 0, {}});
                step(lines.back());
            }
        }
        // Once is enough for what was fitted before, or will be again.
        const int sweeps = toTheEnd && !seen.cycles.empty() ? 2 : 1;
        for (int sweep = 0; sweep < sweeps; ++sweep)
            for (Fitted &line : lines) step(line);
        const double left = meanSquare(edges, rest, progress);
        std::erase_if(lines, [&](const Fitted &line) {
            const bool stands = line.cycles > 0 && line.cycles <= 0.5 && left > 0 &&
                                line.amplitude() * line.amplitude() > 4 * chance * left / double(edges.size());
            const bool perfect = left == 0 && line.amplitude() > 0;
            if (!stands && !perfect) exchange<double>(edges, line, {}, rest, progress);
            return !stands && !perfect;
        });
        const bool confirmed = lines.size() > before; // by the edges themselves
        if (!(confirmed || refined) || (!toTheEnd && !seen.more)) break;
    }
    std::sort(lines.begin(), lines.end(),
              [](const Fitted &a, const Fitted &b) { return a.amplitude() > b.amplitude(); });
    std::vector<PeriodicLine> found;
    const double left = meanSquare(edges, rest, progress);
    for (const Fitted &line : lines) {
        PeriodicLine one;
        one.frequency = line.cycles / edges.unitInterval;
        one.amplitude = line.amplitude();
        const double turned = line.cycles * edges.middle();
        one.phase = std::remainder(std::atan2(line.re, line.im) + turn * (turned - std::floor(turned)), turn);
        one.uncertainty = std::sqrt(line.variance[0] * left);
        one.frequencyUncertainty = std::sqrt(line.variance[1] * left) / edges.unitInterval;
        found.push_back(one);
    }
    nameHarmonics(found);
    return found;
}

double slowerThan(double corner, const std::vector<PeriodicLine> &lines)
{
    double sum = 0;
    for (const PeriodicLine &line : lines)
        if (line.frequency < corner) sum += line.peakToPeak();
    return sum;
}

RawVector<float> linesAt(const std::vector<PeriodicLine> &lines, const JitterEdges &edges, Progress &progress)
{
    RawVector<float> values(edges.size());
    struct Nothing {};
    inChunks<Nothing>(allOf(edges), fewEdges, progress, [&](SampleRange mine, Nothing &) {
        std::fill(values.begin() + mine.first, values.begin() + mine.last, 0.0f);
    });
    for (const PeriodicLine &line : lines) exchange<float>(edges, fittedOf(line, edges), {}, values, progress);
    return values;
}

} // namespace fulvex
