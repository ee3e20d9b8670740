#include "transfer_function.h"

#include "parallel.h"

#include <cmath>
#include <limits>
#include <numbers>

namespace fulvex {

namespace {

struct Sums {
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
    transfer.step = 1 / (input.axis().interval * double(rule.length));
    transfer.noiseBandwidth = windowNoiseBandwidth(rule.window);
    transfer.share = segments.share();
    if (segments.count() == 0) return transfer;
    const auto parts = std::int64_t(std::clamp<std::size_t>((std::size_t(1) << 22) / rule.length, 1, 16));
    const std::int64_t each = (segments.count() + parts - 1) / parts;
    const auto sums = inChunks<Sums>({0, segments.count()}, each, progress, [&](SampleRange mine, Sums &part) {
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
    for (const Sums &part : sums) {
        transfer.segments += part.segments;
        transfer.leftOut += part.leftOut;
    }
    if (transfer.segments == 0) return transfer;
    transfer.inputPower.resize(segments.lines());
    transfer.outputPower.resize(segments.lines());
    transfer.crossPower.resize(segments.lines());
    for (std::size_t line = 0; line < segments.lines(); ++line) {
        const double scale = segments.densityScale(line, input.axis().interval) / double(transfer.segments);
        for (const Sums &part : sums) {
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
    if (segments < 2) return 1;
    return 1 - std::pow(0.05, 1 / double(segments - 1));
}

double TransferFunction::relativeUncertainty(std::size_t line) const
{
    const double coherent = coherence(line);
    if (!(coherent > 0)) return std::numeric_limits<double>::infinity();
    return std::sqrt((1 - coherent) / (2 * coherent * double(segments)));
}

double TransferFunction::delay() const
{
    std::complex<double> turned = 0;
    const double least = coherenceByChance();
    for (std::size_t line = 2; line < size(); ++line) {
        const double before = coherence(line - 1), here = coherence(line);
        if (before <= least || here <= least) continue;
        const std::complex<double> turn = std::conj(response(line - 1)) * response(line);
        if (const double length = std::abs(turn); length > 0) turned += before * here * turn / length;
    }
    return -std::arg(turned) / (2 * std::numbers::pi * step);
}

} // namespace fulvex
