#include "phase_noise.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace fulvex {

namespace {

constexpr Window window = Window::hann;
constexpr double turn = 2 * std::numbers::pi;
constexpr std::size_t finest = 128;    ///< lines below the lowest offset of a decade's spectrum
constexpr std::size_t tellsLines = 24; ///< from that one on: before, noise that falls steeply looks like lines

/// Phase on the grid, rad: straight lines between edges, each less the mean of its direction (a duty cycle is no
/// noise), and less the straight line through all.
std::vector<double> phaseOf(const JitterEdges &edges, double carrier)
{
    double mean[2] = {0, 0}, count[2] = {0, 0};
    for (std::size_t i = 0; i < edges.size(); ++i) {
        const bool rising = edges.isRising(i);
        mean[rising] += (edges.errors[i] - mean[rising]) / ++count[rising];
    }
    std::vector<double> phase(edges.unitIntervals() + 1);
    std::size_t next = 0;
    double before = 0;
    std::int32_t at = 0;
    for (std::size_t i = 0; i < edges.size(); ++i) {
        const double value = turn * carrier * (edges.errors[i] - mean[edges.isRising(i)]);
        const std::int32_t place = edges.places[i];
        for (; next <= std::size_t(place); ++next) {
            const double share = i == 0 || place == at ? 1 : double(std::int32_t(next) - at) / double(place - at);
            phase[next] = before + share * (value - before);
        }
        before = value;
        at = place;
    }
    double middle = 0, slope = 0, squares = 0;
    const double half = double(phase.size() - 1) / 2;
    for (const double value : phase) middle += value / double(phase.size());
    for (std::size_t i = 0; i < phase.size(); ++i) {
        slope += (double(i) - half) * phase[i];
        squares += (double(i) - half) * (double(i) - half);
    }
    slope = squares > 0 ? slope / squares : 0;
    for (std::size_t i = 0; i < phase.size(); ++i) phase[i] -= middle + slope * (double(i) - half);
    return phase;
}

/// Takes the lines of a piece out of its noise, and lists them.
void takeOutLines(PhaseNoise::Piece &piece, std::vector<PhaseNoise::Line> &lines)
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

} // namespace

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
    constexpr double nearlyAll = 1.02;
    found.ofData = apart > nearlyAll;
    found.carrier = found.ofData ? rate : rate / 2;
    found.lowest = 4 / length;
    // Straight lines between edges that lie d apart on average follow a phase to within half a decibel up to a tenth of
    // the rate over d.
    found.highest = found.ofData ? 0.1 * rate / apart : rate / 2;
    if (!(found.lowest < found.highest)) {
        found.reason = "the record is too short for any offset: take a longer one";
        return found;
    }
    const std::vector<double> phase = phaseOf(edges, found.carrier);
    const auto size = std::int64_t(phase.size());
    const SourcePtr source = makeMemorySource(phase, edges.unitInterval);
    for (double from = found.lowest; from < found.highest;) {
        const double decade = std::pow(10, std::floor(std::log10(from * (1 + 1e-9))) + 1);
        PhaseNoise::Piece piece;
        piece.from = from;
        piece.to = std::min(decade, found.highest);
        std::size_t wanted = segmentFor(from / double(finest), window, edges.unitInterval);
        if (wanted == 0 || std::int64_t(wanted) > size) wanted = std::size_t(size) / 2 * 2;
        SpectrumRule rule;
        rule.window = window;
        rule.length = wanted;
        piece.power = powerSpectrum(*source, {0, size}, rule, progress);
        piece.independent = std::max(1.0, double(piece.power.segments) * windowIndependence(window));
        takeOutLines(piece, found.lines);
        from = piece.to;
        found.pieces.push_back(std::move(piece));
    }
    std::sort(found.lines.begin(), found.lines.end(),
              [](const PhaseNoise::Line &a, const PhaseNoise::Line &b) { return a.offset < b.offset; });
    return found;
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

PhaseNoise::Value PhaseNoise::jitter(double from, double to, bool withLines) const
{
    double power = 0, variance = 0;
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
    for (const Line &line : lines)
        if (withLines && line.offset >= from && line.offset <= to) power += line.meanSquare;
    const double rms = std::sqrt(power) / (turn * carrier);
    return {rms, power > 0 ? rms * std::sqrt(variance) / power / 2 : 0};
}

} // namespace fulvex
