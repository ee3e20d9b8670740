// Writes the captures of the Brackwater demo and the truth about them into a folder: see demo/README.md.

#include "amplifier_signal.h"
#include "atomic_file.h"
#include "block_code.h"
#include "error.h"
#include "latch_signal.h"
#include "level_bus_signal.h"
#include "link_signal.h"
#include "npy_header.h"
#include "reference_clock_signal.h"

#include <charconv>
#include <cstdio>
#include <filesystem>
#include <nlohmann/json.hpp>

using fulvex::demo::LinkCapture;
using fulvex::demo::LinkImpairments;

namespace {

/// A NumPy array of shape (samples, columns), little-endian 16-bit integers.
std::string npyBytes(const std::vector<const std::vector<std::int16_t> *> &columns)
{
    const std::size_t samples = columns.front()->size();
    std::string bytes = fulvex::npyHeader("<i2", std::int64_t(samples), std::int64_t(columns.size()));
    for (std::size_t i = 0; i < samples; ++i) {
        for (const auto *column : columns) {
            bytes += char((*column)[i] & 255);
            bytes += char((*column)[i] >> 8 & 255);
        }
    }
    return bytes;
}

void append(std::string &text, double value, std::chars_format format, int precision)
{
    char buffer[64];
    text.append(buffer, std::to_chars(buffer, buffer + sizeof buffer, value, format, precision).ptr);
}

/// The same samples as a text table in V.
std::string tableText(const LinkCapture &capture, double sampleRate)
{
    std::string text = "# Brackwater tide station, camera link (invented)\nTime (s),P (V),N (V)\n";
    for (std::size_t i = 0; i < capture.p.size(); ++i) {
        append(text, double(i) / sampleRate, std::chars_format::scientific, 9);
        for (const std::int16_t code : {capture.p[i], capture.n[i]}) {
            text += ',';
            append(text, code * capture.lsb, std::chars_format::fixed, 7);
        }
        text += '\n';
    }
    return text;
}

std::string truthText(const LinkImpairments &is, const LinkCapture &capture)
{
    const nlohmann::ordered_json truth{{"sample_interval", 1 / is.sampleRate},
                                       {"samples", is.samples},
                                       {"scale", capture.lsb},
                                       {"seed", is.seed},
                                       {"symbol_rate", is.symbolRate},
                                       {"pattern_bits", 511},
                                       {"amplitude", 2 * is.amplitude},
                                       {"edge_sigma", is.edgeSigma},
                                       {"tail_share", is.tailShare},
                                       {"tail_time", is.tailTime},
                                       {"leg_skew", is.legSkew},
                                       {"random_jitter_rms", is.randomJitter},
                                       {"ripple_frequency", is.rippleFrequency},
                                       {"ripple_jitter_pp", 2 * is.ripplePeak},
                                       {"wander_frequency", is.wanderFrequency},
                                       {"wander_pp", 2 * is.wanderPeak},
                                       {"leg_noise_rms", is.legNoise},
                                       {"dented_bit", capture.dentedBit},
                                       {"dent_time", capture.dentTime},
                                       {"dent_depth", capture.dentedBit < 0 ? 0 : is.dentDepth}};
    return truth.dump(2) + "\n";
}

void write(const std::filesystem::path &folder, const std::string &name, const LinkImpairments &is)
{
    const LinkCapture capture = fulvex::demo::makeLink(is);
    fulvex::writeFileAtomically(folder / (name + ".npy"), npyBytes({&capture.p, &capture.n}));
    fulvex::writeFileAtomically(folder / (name + ".csv"), tableText(capture, is.sampleRate));
    fulvex::writeFileAtomically(folder / (name + ".truth.json"), truthText(is, capture));
}

void writeLatch(const std::filesystem::path &folder)
{
    const fulvex::demo::LatchDrive is;
    const fulvex::demo::LatchCapture capture = fulvex::demo::makeLatch(is);
    const nlohmann::ordered_json truth{{"sample_interval", 1 / is.sampleRate},
                                       {"samples", is.samples},
                                       {"scale", is.lsb},
                                       {"seed", is.seed},
                                       {"high", is.high},
                                       {"low", 0},
                                       {"resonance", is.resonance},
                                       {"damping", is.damping},
                                       {"overshoot_percent", 100 * is.overshoot()},
                                       {"rise_time", is.riseTime()},
                                       {"widths", is.widths},
                                       {"pulses", capture.pulses},
                                       {"runts", capture.runtTimes},
                                       {"noise_rms", is.noise}};
    fulvex::writeFileAtomically(folder / "gate-latch.npy", npyBytes({&capture.codes}));
    fulvex::writeFileAtomically(folder / "gate-latch.truth.json", truth.dump(2) + "\n");
}

void writeAmplifier(const std::filesystem::path &folder)
{
    const fulvex::demo::AmplifierTest is;
    const fulvex::demo::AmplifierCapture capture = fulvex::demo::makeAmplifier(is);
    const nlohmann::ordered_json truth{{"sample_interval", 1 / is.sampleRate},
                                       {"samples", is.samples},
                                       {"input_scale", is.inputLsb},
                                       {"output_scale", is.outputLsb},
                                       {"seed", is.seed},
                                       {"frequency", is.tone},
                                       {"input_peak", is.inputPeak},
                                       {"gain", is.gain},
                                       {"delay", is.delay},
                                       {"phase_degrees", 360 * is.tone * is.delay},
                                       {"input_noise_rms", is.inputNoise},
                                       {"output_noise_rms", is.outputNoise}};
    fulvex::writeFileAtomically(folder / "hydrophone-amp.npy", npyBytes({&capture.input, &capture.output}));
    fulvex::writeFileAtomically(folder / "hydrophone-amp.truth.json", truth.dump(2) + "\n");
}

void writeLevelBus(const std::filesystem::path &folder)
{
    const fulvex::demo::LevelBus is;
    const fulvex::demo::LevelBusCapture capture = fulvex::demo::makeLevelBus(is);
    const nlohmann::ordered_json truth{{"sample_interval", 1 / is.sampleRate},
                                       {"samples", is.samples},
                                       {"scale", is.lsb},
                                       {"seed", is.seed},
                                       {"symbol_rate", is.symbolRate},
                                       {"four_levels", is.four},
                                       {"three_levels", is.three},
                                       {"edge_sigma", is.edgeSigma},
                                       {"random_jitter_rms", is.randomJitter},
                                       {"wander_frequency", is.wanderFrequency},
                                       {"wander_pp", 2 * is.wanderPeak},
                                       {"noise_rms", is.noise}};
    fulvex::writeFileAtomically(folder / "level-bus.npy", npyBytes({&capture.clock, &capture.four, &capture.three}));
    fulvex::writeFileAtomically(folder / "level-bus.truth.json", truth.dump(2) + "\n");
}

void writeReferenceClock(const std::filesystem::path &folder)
{
    const fulvex::demo::ReferenceClock is;
    const std::vector<std::int16_t> codes = fulvex::demo::makeReferenceClock(is);
    nlohmann::ordered_json truth{{"sample_interval", 1 / is.sampleRate},
                                 {"samples", is.samples},
                                 {"scale", is.lsb},
                                 {"seed", is.seed},
                                 {"frequency", is.frequency},
                                 {"white_jitter_rms", is.whiteJitter},
                                 {"walk_rms", is.walk},
                                 {"ripple_frequency", is.rippleFrequency},
                                 {"ripple_jitter_pp", 2 * is.ripplePeak},
                                 {"ripple_dbc", is.lineLevel()},
                                 {"noise_rms", is.noise}};
    for (const double offset : {1e4, 1e5, 1e6, 1e7})
        truth["phase_noise"].push_back({{"offset", offset}, {"level", is.levelAt(offset)}});
    fulvex::writeFileAtomically(folder / "reference-clock.npy", npyBytes({&codes}));
    fulvex::writeFileAtomically(folder / "reference-clock.truth.json", truth.dump(2) + "\n");
}

/// Legs alone, without a text table: what the acceptance plans ask for.
void writeLegs(const std::filesystem::path &file, const LinkImpairments &is)
{
    const LinkCapture capture = fulvex::demo::makeLink(is);
    std::filesystem::create_directories(file.parent_path());
    fulvex::writeFileAtomically(file, npyBytes({&capture.p, &capture.n}));
    std::filesystem::path truth = file;
    fulvex::writeFileAtomically(truth.replace_extension(".truth.json"), truthText(is, capture));
}

/// The camera after its board was changed, as the acceptance plan wants it: an idle word of ten symbols, then pictures
/// cold and warm.
void writeAcceptance(const std::filesystem::path &folder, const LinkImpairments &after)
{
    LinkImpairments idle = after;
    idle.seed = 21;
    idle.bit = [](std::int64_t n) { return 0b1100100101u >> ((n % 10 + 10) % 10) & 1u; };
    writeLegs(folder / "idle.npy", idle);
    LinkImpairments cold = after;
    cold.seed = 31;
    cold.ripplePeak = 1.1e-12;
    writeLegs(folder / "cold.npy", cold);
    LinkImpairments warm = cold;
    warm.seed = 41;
    warm.edgeSigma *= 1.03;
    warm.randomJitter *= 1.238;
    warm.amplitude *= 0.95;
    writeLegs(folder / "warm.npy", warm);
    LinkImpairments dented = cold; // a board that was overlooked
    dented.seed = 51;
    dented.dentedBit = 40007;
    writeLegs(folder / "cold-dented.npy", dented);
}

/// A driver of IEEE Std 802.3, clause 47, in three test modes: one that keeps all of it, one with too much swing, and
/// a supply that shakes its edges.
void writeDriver(const std::filesystem::path &folder)
{
    LinkImpairments good;
    good.sampleRate = 40e9;
    good.samples = 600'000;
    good.symbolRate = 3.125e9 * (1 + 12e-6);
    good.firstBoundary = 0.1e-9;
    good.amplitude = 0.56;
    good.edgeSigma = 48e-12;
    good.tailShare = 0.04;
    good.tailTime = 0.12e-9;
    good.legSkew = 0;
    good.randomJitter = 2.2e-12;
    good.rippleFrequency = 7.3e6;
    good.ripplePeak = 2e-12;
    good.wanderFrequency = 60e3;
    good.wanderPeak = 40e-12;
    good.legNoise = 0.002;
    good.fullScale = 0.5;
    good.dentedBit = -1;
    LinkImpairments bad = good;
    bad.amplitude = 0.86;
    bad.ripplePeak = 46e-12;
    const std::vector<bool> data = fulvex::demo::randomCodeGroups(7, 40'000);
    const std::pair<const char *, std::function<bool(std::int64_t)>> modes[] = {
        {"high-frequency", [](std::int64_t n) { return (n & 1) == 0; }},
        {"low-frequency", [](std::int64_t n) { return (n % 10 + 10) % 10 < 5; }},
        {"data", [&](std::int64_t n) {
             const auto length = std::int64_t(data.size());
             return bool(data[std::size_t((n % length + length) % length)]);
         }}};
    std::uint64_t seed = 61;
    for (const auto &[mode, bit] : modes) {
        for (LinkImpairments *device : {&good, &bad}) {
            device->seed = seed += 10;
            device->bit = bit;
            writeLegs(folder / (std::string(device == &good ? "good-" : "bad-") + mode + ".npy"), *device);
        }
    }
}

} // namespace

int main(int argc, char **argv)
{
    if (argc != 2) {
        std::fprintf(stderr, "usage: fulvex-make-demo FOLDER\n");
        return 2;
    }
    try {
        const std::filesystem::path folder = argv[1];
        std::filesystem::create_directories(folder);
        const LinkImpairments before;
        write(folder, "camera-link", before);
        LinkImpairments after = before; // the board was changed: filtered supply, equal traces, better oscillator
        after.seed = 11;
        after.ripplePeak = 0.6e-12;
        after.wanderPeak = 60e-12;
        after.legSkew = 3e-12;
        after.dentedBit = -1;
        write(folder, "camera-link-fixed", after);
        writeAcceptance(folder / "acceptance", after);
        writeDriver(folder / "driver");
        writeLatch(folder);
        writeAmplifier(folder);
        writeLevelBus(folder);
        writeReferenceClock(folder);
    } catch (const std::exception &error) {
        std::fprintf(stderr, "%s\n", error.what());
        return 2;
    }
    return 0;
}
