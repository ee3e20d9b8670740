#include "transfer_function.h"

#include "parallel.h"
#include "turn.h"

#include <cmath>
#include <limits>

namespace fulvex {

namespace {

struct CrossSums {
    std::int64_t segments = 0, leftOut = 0;
    std::vector<double> input, output;
    std::vector<std::complex<double>> cross;
    void reach(std::size_t lines)
    {
        input.resize(lines);
        output.resize(lines);
        cross.resize(lines);
    }
};

} // namespace

TransferFunction transferFunction(const SampleSource &input, const SampleSource &output, SampleRange range,
                                  const SegmentRule &rule, Progress &progress)
{
    const Segments segments(range, rule);
    TransferFunction transfer;
    transfer.window = rule.window;
    transfer.step = 1 / (input.axis().interval * double(rule.length));
    transfer.noiseBandwidth = windowNoiseBandwidth(rule.window);
    transfer.share = segments.share();
    if (segments.count() == 0) return transfer;
    const auto parts = std::int64_t(std::clamp<std::size_t>((std::size_t(1) << 22) / rule.length, 1, 16));
    const std::int64_t each = (segments.count() + parts - 1) / parts;
    const auto sums =
        inChunks<CrossSums>({0, segments.count()}, each, progress, [&](SampleRange mine, CrossSums &part) {
            FourierBuffer in({}, segments.length()), out({}, segments.length());
            for (std::int64_t k = mine.first; k < mine.last; ++k) {
                progress.advance(0);
                if (!segments.transform(input, k, in) || !segments.transform(output, k, out)) {
                    ++part.leftOut;
                    continue;
                }
                part.reach(segments.lines());
                for (std::size_t line = 0; line < segments.lines(); ++line) {
                    part.input[line] += std::norm(in.lines()[line]);
                    part.output[line] += std::norm(out.lines()[line]);
                    part.cross[line] += std::conj(in.lines()[line]) * out.lines()[line];
                }
                ++part.segments;
            }
            input.release(segments.samples(mine));
            output.release(segments.samples(mine));
        });
    for (const CrossSums &part : sums) {
        transfer.segments += part.segments;
        transfer.leftOut += part.leftOut;
    }
    if (transfer.segments == 0) return transfer;
    transfer.inputPower.resize(segments.lines());
    transfer.outputPower.resize(segments.lines());
    transfer.crossPower.resize(segments.lines());
    for (std::size_t line = 0; line < segments.lines(); ++line) {
        const double scale = segments.densityScale(line, input.axis().interval) / double(transfer.segments);
        for (const CrossSums &part : sums) {
            if (part.segments == 0) continue;
            transfer.inputPower[line] += scale * part.input[line];
            transfer.outputPower[line] += scale * part.output[line];
            transfer.crossPower[line] += scale * part.cross[line];
        }
    }
    return transfer;
}

std::complex<double> TransferFunction::response(std::size_t line) const
{
    return crossPower[line] / inputPower[line];
}

double TransferFunction::coherence(std::size_t line) const
{
    const double both = inputPower[line] * outputPower[line];
    return both > 0 ? std::min(1.0, std::norm(crossPower[line]) / both) : 0;
}

double TransferFunction::coherenceByChance() const
{
    const double independent = windowIndependence(window) * double(segments);
    if (independent < 2) return 1;
    return 1 - std::pow(0.05 / double(size()), 1 / (independent - 1));
}

double TransferFunction::relativeUncertainty(std::size_t line) const
{
    const double coherent = coherence(line);
    if (!(coherent > 0)) return std::numeric_limits<double>::infinity();
    return std::sqrt((1 - coherent) / (2 * coherent * double(segments)));
}

TransferFunction::Delay TransferFunction::delay() const
{
    const double least = coherenceByChance();
    std::vector<std::size_t> lines; // that cohere
    double power = 0, squares = 0;
    for (std::size_t line = 1; line + 1 < size(); ++line) {
        if (coherence(line) <= least) continue;
        lines.push_back(line);
        power += inputPower[line];
        squares += inputPower[line] * inputPower[line];
    }
    // As many lines as share the power: a tone's are those of its lobe, however far its side lobes cohere.
    if (!(power * power > 8 * noiseBandwidth * squares)) return {0, std::numeric_limits<double>::infinity()};
    std::complex<double> turned = 0;
    for (std::size_t k = 1; k < lines.size(); ++k) {
        if (lines[k] != lines[k - 1] + 1) continue;
        const std::complex<double> between = std::conj(response(lines[k - 1])) * response(lines[k]);
        const double weight = coherence(lines[k - 1]) * coherence(lines[k]), length = std::abs(between);
        if (length > 0) turned += weight * between / length;
    }
    const double rough = -std::arg(turned) / (turn * step);
    // A line through the phases that are left, each as certain as it is.
    const auto left = [&](std::size_t line) {
        return response(line) * std::polar(1.0, turn * rough * step * double(line));
    };
    std::complex<double> middle = 0;
    double weights = 0, centre = 0;
    const auto weightOf = [&](std::size_t line) { return 1 / std::max(1e-12, std::pow(relativeUncertainty(line), 2)); };
    for (const std::size_t line : lines) {
        const double weight = weightOf(line), length = std::abs(left(line));
        if (length > 0) middle += weight * left(line) / length;
        weights += weight;
        centre += weight * double(line);
    }
    Delay delay{rough, std::numeric_limits<double>::infinity()};
    if (lines.size() < 3) return delay;
    centre /= weights;
    double spread = 0, slope = 0;
    for (const std::size_t line : lines) {
        const double weight = weightOf(line), away = double(line) - centre;
        spread += weight * away * away;
        slope += weight * away * std::arg(left(line) * std::conj(middle));
    }
    delay.seconds = rough - slope / spread / (turn * step);
    double misfit = 0;
    for (const std::size_t line : lines) {
        const double off = std::arg(left(line) * std::conj(middle)) - slope / spread * (double(line) - centre);
        misfit += weightOf(line) * off * off;
    }
    // Under the window neighbours are alike; a phase that is no straight line is told less well than its noise allows.
    const double likely = noiseBandwidth * std::max(1.0, misfit / double(lines.size() - 2));
    delay.uncertainty = std::sqrt(likely / spread) / (turn * step);
    return delay;
}

} // namespace fulvex
