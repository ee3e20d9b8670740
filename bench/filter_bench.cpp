// A low pass of order 4 over a record: fulvex-bench-filter FILE makes FILE (20 million 64-bit floats) where it is
// missing, filters all of it from memory, and prints the seconds for finding where each piece begins and for reading
// the result, and the result's rms, which the SciPy twin must give too.

#include "capture_reader.h"
#include "channel_source.h"
#include "formula.h"
#include "npy_header.h"
#include "parallel.h"

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
    double best = 1e9, making = 0;
    SourcePtr made;
    for (int run = 0; run < 3; ++run) {
        const auto now = [] { return std::chrono::steady_clock::now(); };
        const auto start = now();
        made =
            Formula::parse("lowpass(x, 0.02, 4)").evaluate({[&](const std::string &) { return x; }, {}, {}}, progress);
        const auto known = now();
        readAll(*made, progress);
        const double all = std::chrono::duration<double>(now() - start).count();
        if (all > best) continue;
        best = all;
        making = std::chrono::duration<double>(known - start).count();
    }
    made->read(0, values);
    double squares = 0;
    for (const double v : values) squares += v * v;
    std::printf("%.4f %.4f %.9g\n", best, making, std::sqrt(squares / double(values.size())));
    return 0;
}
