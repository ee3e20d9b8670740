// Writes the captures of the Brackwater demo and the truth about them into a folder: see demo/README.md.

#include "atomic_file.h"
#include "error.h"
#include "link_signal.h"
#include "npy_header.h"

#include <charconv>
#include <cstdio>
#include <filesystem>
#include <nlohmann/json.hpp>

using fulvex::demo::LinkCapture;
using fulvex::demo::LinkImpairments;

namespace {

/// A NumPy array of shape (samples, 2), little-endian 16-bit integers.
std::string npyBytes(const LinkCapture &capture)
{
    std::string bytes = fulvex::npyHeader("<i2", std::int64_t(capture.p.size()), 2);
    for (std::size_t i = 0; i < capture.p.size(); ++i) {
        for (const std::int16_t code : {capture.p[i], capture.n[i]}) {
            bytes += char(code & 255);
            bytes += char(code >> 8 & 255);
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
    fulvex::writeFileAtomically(folder / (name + ".npy"), npyBytes(capture));
    fulvex::writeFileAtomically(folder / (name + ".csv"), tableText(capture, is.sampleRate));
    fulvex::writeFileAtomically(folder / (name + ".truth.json"), truthText(is, capture));
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
    } catch (const std::exception &error) {
        std::fprintf(stderr, "%s\n", error.what());
        return 2;
    }
    return 0;
}
