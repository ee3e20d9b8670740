#pragma once

#include <cstddef>
#include <memory>
#include <string>
#include <vector>

namespace fulvex {

struct AmplitudeSurvey;
struct Autocorrelation;
struct Clock;
struct ClockSymbols;
class Pyramid;
class SampleSource;
struct PhaseNoise;
struct PowerSpectrum;
struct Capture;
struct EdgeList;
struct EyeErrorRatio;
struct EyeFold;
struct Finding;
struct JitterEdges;
struct JitterMakeUp;
struct MaskResult;
struct Row;
struct Spectrogram;
struct Spectrum;
struct SymbolErrors;
struct SymbolTiming;
struct TransferFunction;
struct Transitions;
struct TransitionLists;

/// Memory that a node takes by itself, roughly: what it shares with others counts where it is a node of its own, and
/// mapped files not at all. A kind of node with large parts has a line here.
std::size_t bytesOf(const AmplitudeSurvey &);
std::size_t bytesOf(const Autocorrelation &);
std::size_t bytesOf(const Capture &);
std::size_t bytesOf(const Clock &);
std::size_t bytesOf(const ClockSymbols &);
std::size_t bytesOf(const EdgeList &);
std::size_t bytesOf(const EyeErrorRatio &);
std::size_t bytesOf(const EyeFold &);
std::size_t bytesOf(const JitterEdges &);
std::size_t bytesOf(const JitterMakeUp &);
std::size_t bytesOf(const MaskResult &);
std::size_t bytesOf(const PhaseNoise &);
std::size_t bytesOf(const PowerSpectrum &);
std::size_t bytesOf(const Pyramid &);
std::size_t bytesOf(const Row &);
std::size_t bytesOf(const Spectrogram &);
std::size_t bytesOf(const Spectrum &);
std::size_t bytesOf(const SymbolErrors &);
std::size_t bytesOf(const SymbolTiming &);
std::size_t bytesOf(const TransferFunction &);
std::size_t bytesOf(const Transitions &);
std::size_t bytesOf(const TransitionLists &);
std::size_t bytesOf(const std::shared_ptr<const SampleSource> &);
std::size_t bytesOf(const std::string &);
std::size_t bytesOf(const std::vector<Finding> &);
template <typename Small>
std::size_t bytesOf(const Small &small)
{
    return sizeof small;
}

} // namespace fulvex
