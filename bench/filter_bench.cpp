// Formulas over a record: fulvex-bench-filter FILE makes FILE (20 million 64-bit floats) where it is missing and writes
// its FIR's taps beside it, then makes and reads all of a recursive low pass of order 4, a FIR of some 500 taps and a
// formula sample by sample, from memory. Prints a line each: the seconds, and the result's rms, which the SciPy twin
// must give too.

#include "capture_reader.h"
#include "channel_source.h"
#include "formula.h"
#include "npy_header.h"
#include "parallel.h"
#include "power_spectrum.h"
#include "windowed_taps.h"

#include <algorithm>
#include <chrono>
#include <cmath>
#include <cstdio>
#include <filesystem>
#include <fstream>

using namespace fulvex;

namespace {

void makeRecord(const std::string &file)
{
    if (std::filesystem::exists(file)) return;
    constexpr std::int64_t samples = 20'000'000;
    std::vector<double> values;
    std::uint64_t state = 1;
    for (std::int64_t i = 0; i < samples; ++i) {
        state = state * 6364136223846793005u + 1442695040888963407u;
        values.push_back(std::sin(double(i) * 0.01) + double(state >> 40) / double(1 << 24));
    }
    std::ofstream out(file, std::ios::binary);
    out << npyHeader("<f8", samples);
    out.write(reinterpret_cast<const char *>(values.data()), std::streamsize(values.size() * sizeof values[0]));
}

/// Reads all of it block by block, on all cores.
void readAll(const SampleSource &source, Progress &progress)
{
    struct Nothing {};
    inChunks<Nothing>({0, source.axis().count}, defaultChunk, progress, [&](SampleRange mine, Nothing &) {
        forBlocks(source, mine, progress, [](std::int64_t, std::span<const double>) {});
    });
}

} // namespace

int main(int argc, char **argv)
{
    if (argc != 2) {
        std::fprintf(stderr, "usage: fulvex-bench-filter FILE\n");
        return 2;
    }
    const std::string file = std::filesystem::absolute(argv[1]).string();
    makeRecord(file);
    Progress progress;
    ImportOptions import;
    import.sampleInterval = 1;
    const Capture capture = readCapture(file, import, progress);
    std::vector<double> values(std::size_t(capture.axis.count));
    ChannelSource(capture.columns[0], capture.axis, 1, 0, 0).read(0, values);
    const SourcePtr x = makeMemorySource(values, 1);
    const std::vector<double> taps = windowedTaps(FilterPass::low, 0.02, 0, 0.02 / 3);
    std::ofstream out(file + ".taps", std::ios::binary);
    out << npyHeader("<f8", std::int64_t(taps.size()));
    out.write(reinterpret_cast<const char *>(taps.data()), std::streamsize(taps.size() * sizeof taps[0]));
    out.close();
    for (const char *formula :
         {"lowpass(x, 0.02, 4)", "lowpass(x, 0.02, 3, fir)", "choose(x > 0, sqrt(abs(x)), 2 * x - x * x)"}) {
        double best = 1e9;
        SourcePtr made;
        for (int run = 0; run < 3; ++run) {
            const auto start = std::chrono::steady_clock::now();
            made = Formula::parse(formula).evaluate({[&](const std::string &) { return x; }, {}, {}}, progress);
            readAll(*made, progress);
            best = std::min(best, std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count());
        }
        std::vector<double> result(values.size());
        made->read(0, result);
        double squares = 0;
        for (const double v : result) squares += v * v;
        std::printf("%.4f %.9g\n", best, std::sqrt(squares / double(result.size())));
    }
    double best = 1e9, power = 0;
    for (int run = 0; run < 3; ++run) {
        const auto start = std::chrono::steady_clock::now();
        const PowerSpectrum spectrum = powerSpectrum(*x, {0, x->axis().count}, {{Window::hann, 16384}}, progress);
        best = std::min(best, std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count());
        power = spectrum.power(0, spectrum.density.size());
    }
    std::printf("%.4f %.9g\n", best, std::sqrt(power));
    return 0;
}
