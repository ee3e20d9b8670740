#include "node_bytes.h"

#include "amplitude_survey.h"
#include "clock_symbols.h"
#include "jitter_make_up.h"
#include "phase_noise.h"
#include "power_spectrum.h"
#include "results.h"
#include "symbol_errors.h"
#include "transition_finder.h"

namespace fulvex {

namespace {

template <typename Element, typename Allocator>
std::size_t held(const std::vector<Element, Allocator> &elements)
{
    return sizeof elements + elements.capacity() * sizeof(Element);
}

} // namespace

std::size_t bytesOf(const AmplitudeSurvey &survey)
{
    std::size_t bytes = sizeof survey + held(survey.histogram.bins);
    for (const AmplitudeSurvey::Stretch &stretch : survey.stretches)
        bytes += sizeof stretch + held(stretch.histogram.bins);
    return bytes;
}

std::size_t bytesOf(const Capture &capture)
{
    std::size_t bytes = sizeof capture;
    for (const Waveform &column : capture.columns) {
        bytes += sizeof column;
        if (!column.mapping) bytes += std::size_t(column.count) * sampleSize(column.type);
    }
    return bytes;
}

std::size_t bytesOf(const Clock &clock)
{
    return clock.map.bytes();
}

std::size_t bytesOf(const ClockSymbols &symbols)
{
    return held(symbols.symbols);
}

std::size_t bytesOf(const SymbolErrors &errors)
{
    return held(errors.at) + held(errors.by);
}

std::size_t bytesOf(const EdgeList &edges)
{
    return held(edges.positions) + held(edges.flags) + held(edges.steps);
}

std::size_t bytesOf(const EyeErrorRatio &ratios)
{
    std::size_t bytes = 0;
    for (const EyeCounts &symbol : ratios.symbols) bytes += held(symbol.counts);
    return bytes;
}

std::size_t bytesOf(const EyeFold &fold)
{
    return held(fold.picture.counts) + held(fold.curves.counts.counts) + held(fold.parts);
}

std::size_t bytesOf(const JitterEdges &edges)
{
    return held(edges.places) + held(edges.errors) + held(edges.steps) + held(edges.symbols) + held(edges.edges);
}

std::size_t bytesOf(const JitterMakeUp &jitter)
{
    return bytesOf(jitter.edges) + held(jitter.data.groups) + held(jitter.data.of) + held(jitter.lines) +
           held(jitter.rest);
}

std::size_t bytesOf(const MaskResult &result)
{
    return held(result.failures) + held(result.worst) + held(result.spread.counts);
}

std::size_t bytesOf(const PhaseNoise &noise)
{
    std::size_t bytes = held(noise.lines);
    for (const PhaseNoise::Piece &piece : noise.pieces) bytes += bytesOf(piece.power) + held(piece.noise);
    return bytes;
}

std::size_t bytesOf(const PowerSpectrum &spectrum)
{
    return sizeof spectrum + spectrum.density.capacity() * sizeof(double) * (1 + spectrum.parts.size());
}

std::size_t bytesOf(const Spectrum &spectrum)
{
    return bytesOf(spectrum.power) + held(spectrum.lines);
}

std::size_t bytesOf(const Spectrogram &gram)
{
    return held(gram.densities);
}

std::size_t bytesOf(const TransferFunction &transfer)
{
    return held(transfer.inputPower) + held(transfer.outputPower) + held(transfer.crossPower);
}

std::size_t bytesOf(const Autocorrelation &correlation)
{
    return held(correlation.coefficients);
}

std::size_t bytesOf(const Pyramid &pyramid)
{
    return pyramid.bytes();
}

std::size_t bytesOf(const Row &row)
{
    return sizeof row + held(row.provenance) + (row.measured ? row.measured->population.ownBytes() : 0);
}

std::size_t bytesOf(const SymbolTiming &timing)
{
    return held(timing.numbers);
}

std::size_t bytesOf(const Transitions &transitions)
{
    return held(transitions.starts) + held(transitions.durations) + held(transitions.rising);
}

std::size_t bytesOf(const TransitionLists &lists)
{
    return bytesOf(lists.rising) + bytesOf(lists.falling) + held(lists.order);
}

std::size_t bytesOf(const std::shared_ptr<const SampleSource> &source)
{
    return sizeof source + (source ? source->heldBytes() : 0);
}

std::size_t bytesOf(const std::string &text)
{
    return sizeof text + text.capacity();
}

std::size_t bytesOf(const std::vector<Finding> &findings)
{
    return held(findings);
}

} // namespace fulvex
