#include "link_record.h"

#include "atomic_file.h"
#include "capture_reader.h"
#include "channel_source.h"
#include "formula.h"
#include "npy_header.h"

#include <algorithm>
#include <cmath>
#include <cstdio>
#include <cstdlib>
#include <filesystem>
#include <vector>

namespace fulvex::bench {

namespace {

template <typename Sample>
std::string npy(const std::vector<Sample> &samples)
{
    std::string bytes = npyHeader(std::is_same_v<Sample, float> ? "<f4"
                                  : sizeof(Sample) == 1         ? "|i1"
                                                                : "<i2",
                                  std::int64_t(samples.size()));
    bytes.append(reinterpret_cast<const char *>(samples.data()), samples.size() * sizeof(Sample));
    return bytes;
}

/// A file's only column, in V.
SourcePtr openLeg(const std::string &file, double scale)
{
    ImportOptions options;
    options.sampleInterval = 1e-10;
    Progress progress;
    const Capture capture = readCapture(file, options, progress);
    return std::make_shared<ChannelSource>(capture.columns[0], capture.axis, scale, 0, 0);
}

SourcePtr difference(const SourcePtr &p, const SourcePtr &n)
{
    Progress progress;
    return Formula::parse("p - n").evaluate({[&](const std::string &id) { return id == "p" ? p : n; }, {}, {}},
                                            progress);
}

constexpr double volts = 2e-5; ///< a code's

} // namespace

void makeLinkRecord(const std::string &file, std::int64_t samples, int symbols, int samplesPerUi)
{
    if (std::filesystem::path(file).filename().string().starts_with('-')) {
        std::fprintf(stderr, "%s: an option is no name for a record: give FILE, as in build/link\n", file.c_str());
        std::exit(2);
    }
    if (std::filesystem::exists(file + "-n.npy") &&
        std::filesystem::file_size(file + "-n.npy") == std::uintmax_t(samples * 2 + 128))
        return;
    std::uint64_t state = 88172645463325252u;
    const auto uniform = [&] {
        state ^= state << 13;
        state ^= state >> 7;
        state ^= state << 17;
        return double(state >> 11) * 0x1p-53;
    };
    const auto nearlyGaussian = [&] { return uniform() + uniform() + uniform() + uniform() - 2; }; // sigma 0.577
    std::vector<std::int16_t> p(static_cast<std::size_t>(samples)), n(static_cast<std::size_t>(samples));
    double level = -1, target = -1, edge = -10;
    for (std::int64_t k = 0; k < samples; ++k) {
        if (k % samplesPerUi == 0) { // a boundary: the next symbol
            level = target;
            target = 2 * std::floor(uniform() * symbols) / (symbols - 1) - 1;
            edge = double(k) + samplesPerUi / 4.0 * (1.9 + 0.14 * nearlyGaussian());
        }
        const double share = std::clamp((double(k) - edge) / (0.6 * samplesPerUi) + 0.5, 0.0, 1.0);
        const double v = 6000 * (level + (target - level) * (share * share * (3 - 2 * share)));
        p[std::size_t(k)] = std::int16_t(v + 150 * nearlyGaussian());
        n[std::size_t(k)] = std::int16_t(-v + 150 * nearlyGaussian());
    }
    writeFileAtomically(file + "-p.npy", npy(p));
    writeFileAtomically(file + "-n.npy", npy(n));
}

SourcePtr openLinkRecord(const std::string &file)
{
    return difference(openLeg(file + "-p.npy", volts), openLeg(file + "-n.npy", volts));
}

SourcePtr openLinkKind(const std::string &file, const LinkKind &kind)
{
    const std::string name = file + "-" + kind.name;
    const double scale = volts / kind.gain;
    const auto leg = [&](const char *which, const SourcePtr &source) -> SourcePtr {
        const std::string path = name + which + ".npy";
        if (!std::filesystem::exists(path)) {
            std::vector<double> values(std::size_t(source->axis().count));
            source->read(0, values);
            withSampleType(kind.type, [&](auto sample) {
                using Sample = decltype(sample);
                if constexpr (std::is_same_v<Sample, float> || std::is_same_v<Sample, std::int16_t> ||
                              std::is_same_v<Sample, std::int8_t>) {
                    std::vector<Sample> samples(values.size());
                    std::ranges::transform(values, samples.begin(), [&](double v) {
                        return std::is_same_v<Sample, float> ? Sample(v / scale) : Sample(std::round(v / scale));
                    });
                    writeFileAtomically(path, npy(samples));
                }
            });
        }
        return openLeg(path, scale);
    };
    if (!kind.legs) return leg("", openLinkRecord(file));
    return difference(leg("-p", openLeg(file + "-p.npy", volts)), leg("-n", openLeg(file + "-n.npy", volts)));
}

} // namespace fulvex::bench
