#include "phase_noise.h"

#include "core_loop.h"
#include "edge_grid.h"
#include "line_strength.h"
#include "turn.h"

#include <algorithm>
#include <cmath>

namespace fulvex {

namespace {

constexpr Window window = Window::hann;
constexpr double cyclesOfLowest = 4;   ///< in a record
constexpr std::size_t finest = 128;    ///< lines below the lowest offset of a decade's spectrum
constexpr std::size_t tellsLines = 24; ///< from that one on: before, noise that falls steeply looks like lines

/// Takes the lines of a piece out of its noise, and lists them.
void takeOut(PhaseNoise::Piece &piece, std::vector<PhaseNoise::Line> &lines)
{
    const Spectrum spectrum = Spectrum::of(piece.power);
    piece.noise = piece.power.density;
    const double step = piece.power.step;
    for (const SpectralLine &line : spectrum.lines) {
        if (!line.stands || line.frequency < double(tellsLines) * step) continue;
        // As far as its skirt is more than a tenth of the noise around it.
        const auto middle = std::ptrdiff_t(std::lround(line.frequency / step));
        std::ptrdiff_t reach = windowLobe(window) + 1;
        constexpr std::ptrdiff_t most = 64;
        while (reach < most &&
               line.power / piece.power.resolution() * std::pow(windowResponse(window, double(reach) - 0.5), 2) >
                   0.1 * line.floor)
            ++reach;
        const auto last = std::ptrdiff_t(piece.noise.size()) - 1;
        for (std::ptrdiff_t k = std::max<std::ptrdiff_t>(1, middle - reach); k <= std::min(last, middle + reach); ++k)
            piece.noise[std::size_t(k)] = std::min(piece.noise[std::size_t(k)], spectrum.floor.at(std::size_t(k)));
        if (line.frequency < piece.from || line.frequency >= piece.to) continue; // another piece's
        lines.push_back({line.frequency, 10 * std::log10(line.power / 2), line.power});
    }
}

/// What a piece needs of a spectrum: its own lines, and those that the floor and skirts about them reach to.
void take(const PowerSpectrum &power, PhaseNoise::Piece &piece)
{
    constexpr double farther = 1.25;
    constexpr std::size_t more = 256;
    const std::size_t lines = std::min(power.density.size(), std::size_t(farther * piece.to / power.step) + more);
    piece.power = power.upTo(lines);
    piece.independent = std::max(1.0, double(power.segments) * windowIndependence(window));
}

/// In all pieces.
void seekLines(PhaseNoise &noise)
{
    noise.lines.clear();
    for (PhaseNoise::Piece &piece : noise.pieces) takeOut(piece, noise.lines);
    std::sort(noise.lines.begin(), noise.lines.end(),
              [](const PhaseNoise::Line &a, const PhaseNoise::Line &b) { return a.offset < b.offset; });
}

} // namespace

/// Nearly as long, to five bits: captures that are a few unit intervals apart have segments of one length, whose
/// spectra add up line by line.
static std::size_t shortened(std::size_t length)
{
    std::size_t step = 2;
    while (length / step >= 32) step *= 2;
    return length / step * step;
}

PhaseNoise phaseNoiseOf(const JitterEdges &edges, Progress &progress)
{
    PhaseNoise found;
    found.edges = std::int64_t(edges.size());
    constexpr std::size_t fewest = 256;
    if (edges.size() < fewest) {
        found.reason = std::to_string(edges.size()) + " edges; phase noise needs " + std::to_string(fewest) +
                       ": take a longer capture or region";
        return found;
    }
    const double rate = 1 / edges.unitInterval, length = double(edges.unitIntervals()) * edges.unitInterval,
                 apart = double(edges.unitIntervals()) / double(edges.size());
    found.ofData = !isClockLike(edges);
    found.carrier = found.ofData ? rate : rate / 2;
    found.lowest = cyclesOfLowest / length;
    // Straight lines between edges that lie d apart on average follow a phase to within half a decibel up to a tenth of
    // the rate over d.
    found.highest = found.ofData ? 0.1 * rate / apart : rate / 2;
    if (!(found.lowest < found.highest)) {
        found.reason = "the record is too short for any offset: take a longer one";
        return found;
    }
    std::vector<double> phase = errorsOnGrid(edges);
    takeOutLine(phase);
    for (double &one : phase) one *= turn * found.carrier;
    const auto size = std::int64_t(phase.size());
    const SourcePtr source = makeMemorySource(std::move(phase), edges.unitInterval);
    std::vector<std::size_t> segments;   // lengths, the longest first
    std::vector<std::size_t> segmentsOf; // of each piece, which
    for (double from = found.lowest; from < found.highest;) {
        const double decade = std::pow(10, std::floor(std::log10(from * (1 + 1e-9))) + 1);
        found.pieces.emplace_back();
        found.pieces.back().from = from;
        found.pieces.back().to = std::min(decade, found.highest);
        std::size_t wanted = segmentFor(from / double(finest), window, edges.unitInterval);
        if (wanted == 0 || std::int64_t(wanted) > size) wanted = shortened(std::size_t(size));
        if (segments.empty() || segments.back() != wanted) segments.push_back(wanted);
        segmentsOf.push_back(segments.size() - 1);
        from = found.pieces.back().to;
    }
    onAllCores(std::int64_t(segments.size()), [&](std::int64_t which) {
        SpectrumRule rule;
        rule.window = window;
        rule.length = segments[std::size_t(which)];
        const PowerSpectrum power = powerSpectrum(*source, {0, size}, rule, progress);
        for (std::size_t i = 0; i < segmentsOf.size(); ++i)
            if (std::int64_t(segmentsOf[i]) == which) take(power, found.pieces[i]);
    });
    seekLines(found);
    return found;
}

double levelOfInstants(double carrier, double unitInterval, double rms)
{
    const double phase = turn * carrier * rms;
    return 10 * std::log10(phase * phase * unitInterval);
}

double recordFor(double offset)
{
    return cyclesOfLowest / offset;
}

std::optional<PhaseNoise::Value> PhaseNoise::at(double offset) const
{
    if (!(offset >= lowest && offset <= highest)) return {};
    const auto piece = std::find_if(pieces.begin(), pieces.end(), [&](const Piece &one) { return offset <= one.to; });
    if (piece == pieces.end()) return {};
    constexpr double around = 0.05;
    const double step = piece->power.step, last = double(piece->noise.size() - 1);
    double first = std::ceil(offset * (1 - around) / step), behind = std::floor(offset * (1 + around) / step);
    if (behind < first) first = behind = std::round(offset / step);
    double sum = 0, count = 0;
    for (double k = std::max(1.0, first); k <= std::min(last, behind); ++k) {
        sum += piece->noise[std::size_t(k)];
        ++count;
    }
    if (!(sum > 0)) return {};
    const double independent = std::max(1.0, count / windowNoiseBandwidth(window)) * piece->independent;
    return Value{10 * std::log10(sum / count / 2), 10 / std::log(10.0) / std::sqrt(independent)};
}

double PhaseNoise::integral(double from, double to, double &variance) const
{
    double power = 0;
    for (const Piece &piece : pieces) {
        const double begin = std::max(from, piece.from), end = std::min(to, piece.to), step = piece.power.step;
        if (!(begin < end)) continue;
        for (auto k = std::size_t(std::max(0.0, std::round(begin / step))); k < piece.noise.size(); ++k) {
            // A line stands for half a step to either side.
            const double low = std::max(begin, (double(k) - 0.5) * step),
                         high = std::min(end, (double(k) + 0.5) * step);
            if (low >= end) break;
            const double part = piece.noise[k] * std::max(0.0, high - low);
            power += part;
            variance += part * part * windowNoiseBandwidth(window) / piece.independent;
        }
    }
    return power;
}

bool PhaseNoiseSpan::counts(double line) const
{
    const bool opposite = std::any_of(except.begin(), except.end(), [&](double one) { return meansLine(one, line); });
    return lines != opposite;
}

PhaseNoise::Value PhaseNoise::jitter(const PhaseNoiseSpan &span) const
{
    double variance = 0, power = integral(span.from, span.to, variance);
    for (const Line &line : lines)
        if (line.offset >= span.from && line.offset <= span.to && span.counts(line.offset)) power += line.meanSquare;
    const double rms = std::sqrt(power) / (turn * carrier);
    return {rms, power > 0 ? rms * std::sqrt(variance) / power / 2 : 0};
}

std::vector<PhaseNoise::Point> PhaseNoise::curve(double from, double to, int points) const
{
    std::vector<Point> found;
    from = std::max(from, lowest);
    to = std::min(to, highest);
    if (!(from < to) || pieces.empty()) return found;
    for (int i = 0; i < points; ++i) {
        const double low = from * std::pow(to / from, double(i) / points),
                     high = from * std::pow(to / from, double(i + 1) / points);
        double variance = 0;
        const double level = integral(low, high, variance) / (high - low) / 2;
        if (level > 0) found.push_back({std::sqrt(low * high), 10 * std::log10(level)});
    }
    return found;
}

std::vector<PhaseNoise::Point> PhaseNoise::cumulated(const PhaseNoiseSpan &span, int points) const
{
    std::vector<Point> found;
    const double from = std::max(span.from, lowest), to = std::min(span.to, highest);
    if (!(from < to)) return found;
    double power = 0, before = from;
    auto line = std::find_if(lines.begin(), lines.end(), [&](const Line &one) { return one.offset >= from; });
    for (int i = 0; i <= points; ++i) {
        const double offset = i == points ? to : from * std::pow(to / from, double(i) / points);
        double variance = 0;
        power += integral(before, offset, variance);
        for (; line != lines.end() && line->offset <= offset; ++line)
            if (span.counts(line->offset)) power += line->meanSquare;
        found.push_back({offset, std::sqrt(power) / (turn * carrier)});
        before = offset;
    }
    return found;
}

namespace {

/// What another record's spectrum has at the lines of `first`, whose step differs a little: straight lines between its
/// own.
double densityAt(const PowerSpectrum &other, double frequency)
{
    const double place = std::min(frequency / other.step, double(other.density.size() - 1));
    const auto line = std::min(std::size_t(place), other.density.size() - 2);
    const double share = place - double(line);
    return other.density[line] * (1 - share) + other.density[line + 1] * share;
}

using Piece = PhaseNoise::Piece;

/// Adds a record's spectrum, or the sum of several, to those of its length; line by line, which lie at the same part of
/// the carrier.
void addTo(std::vector<PowerSpectrum> &sums, const PowerSpectrum &one)
{
    constexpr double alike = 0.01; // the rates of captures differ less, the lengths of segments more
    const auto place = std::find_if(sums.begin(), sums.end(),
                                    [&](const PowerSpectrum &sum) { return sum.step > one.step * (1 - alike); });
    if (place == sums.end() || place->step > one.step * (1 + alike)) {
        sums.insert(place, one);
        return;
    }
    const double mine = double(place->segments), its = double(one.segments), both = mine + its;
    place->density.resize(std::min(place->density.size(), one.density.size()));
    for (std::size_t line = 0; line < place->density.size(); ++line)
        place->density[line] = (place->density[line] * mine + one.density[line] * its) / both;
    place->step = (place->step * mine + one.step * its) / both;
    place->segments += one.segments;
    place->leftOut += one.leftOut;
    place->share = std::min(place->share, one.share);
}

/// Their mean, on the lines of the longest.
PowerSpectrum meanOf(const std::vector<PowerSpectrum> &sums)
{
    PowerSpectrum all = sums.front();
    for (auto other = sums.begin() + 1; other != sums.end(); ++other) {
        const double mine = double(all.segments), its = double(other->segments);
        for (std::size_t line = 0; line < all.density.size(); ++line)
            all.density[line] =
                (all.density[line] * mine + densityAt(*other, double(line) * all.step) * its) / (mine + its);
        all.segments += other->segments;
    }
    return all;
}

void addTo(Piece &piece, const Piece &one, double before, double its)
{
    const double both = before + its;
    piece.from = (piece.from * before + one.from * its) / both;
    piece.to = (piece.to * before + one.to * its) / both;
    piece.independent += one.independent;
    if (one.byLength.empty()) addTo(piece.byLength, one.power);
    for (const PowerSpectrum &sum : one.byLength) addTo(piece.byLength, sum);
}

} // namespace

PhaseNoise PhaseNoise::merged(std::span<const PhaseNoise *const> records)
{
    PhaseNoise all;
    std::string reason;
    for (const PhaseNoise *record : records) {
        if (!record->reason.empty()) {
            reason = record->reason;
            continue;
        }
        if (all.pieces.empty()) {
            all = *record;
            for (Piece &piece : all.pieces)
                if (piece.byLength.empty()) addTo(piece.byLength, piece.power);
            continue;
        }
        constexpr double alike = 0.01, sameLength = 1.5;
        const double longer = record->lowest / all.lowest;
        if (std::abs(record->carrier / all.carrier - 1) > alike || record->ofData != all.ofData ||
            longer > sameLength || longer < 1 / sameLength || record->pieces.size() != all.pieces.size()) {
            PhaseNoise none;
            none.reason = "the captures' carriers or lengths are too unlike to be averaged: ask each by itself";
            return none;
        }
        const double before = double(all.records), its = double(record->records);
        all.carrier = (all.carrier * before + record->carrier * its) / (before + its);
        all.lowest = std::max(all.lowest, record->lowest);
        all.highest = std::min(all.highest, record->highest);
        all.edges += record->edges;
        all.records += record->records;
        for (std::size_t i = 0; i < all.pieces.size(); ++i) addTo(all.pieces[i], record->pieces[i], before, its);
    }
    all.reason = all.pieces.empty() ? reason : "";
    if (all.pieces.empty()) return all;
    for (Piece &piece : all.pieces) piece.power = meanOf(piece.byLength);
    all.pieces.front().from = all.lowest;
    all.pieces.back().to = all.highest;
    seekLines(all);
    return all;
}

} // namespace fulvex
