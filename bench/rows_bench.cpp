// The twenty usual quantities of one channel: fulvex-bench-rows FILE makes FILE (50 million 16-bit samples, a clock of
// 10 million edges, NPY) where it is missing, evaluates a project with these rows, and prints: seconds, peak memory in
// MB beyond the file, edges, mean period, mean rise time, seconds for a twenty-first row and for a changed limit.

#include "atomic_file.h"
#include "engine.h"
#include "npy_header.h"
#include "peak_memory.h"
#include "record_document.h"

#include <chrono>
#include <cmath>
#include <cstdio>
#include <cstdlib>
#include <filesystem>
#include <numbers>

using namespace fulvex;

namespace {

constexpr std::int64_t samples = 50'000'000;

void makeRecord(const std::string &file)
{
    if (std::filesystem::path(file).filename().string().starts_with('-')) {
        std::fprintf(stderr, "%s: an option is no name for a record\n", file.c_str());
        std::exit(2);
    }
    if (std::filesystem::exists(file)) return;
    std::uint64_t state = 88172645463325252u;
    const auto nearlyGaussian = [&] { // sigma 0.577
        double sum = -2;
        for (int i = 0; i < 4; ++i) {
            state ^= state << 13;
            state ^= state >> 7;
            state ^= state << 17;
            sum += double(state >> 11) * 0x1p-53;
        }
        return sum;
    };
    const auto step = [](double t) { return 0.5 + 0.5 * std::sin(std::numbers::pi * std::clamp(t / 3.2, -0.5, 0.5)); };
    std::string bytes = npyHeader("<i2", samples);
    double before = -5, next = 2.5;
    bool high = false; // between them
    for (std::int64_t i = 0; i < samples; ++i) {
        const auto at = double(i);
        if (at > next + 2) { // the transition there is over
            before = next;
            next += 5 + 0.26 * nearlyGaussian();
            high = !high;
        }
        const bool atNext = next - at < at - before;
        const double along = step(at - (atNext ? next : before));
        const double level = atNext == high ? 1 - along : along;
        const auto code = std::int16_t(std::lround(8000 * level + 70 * nearlyGaussian()));
        bytes += char(code & 255);
        bytes += char(code >> 8 & 255);
    }
    writeFileAtomically(file, bytes);
}

Document documentWithRows(const std::string &file)
{
    Document document = documentOf(file, "a");
    document.channels[0].scale = 1e-4;
    for (const char *quantity : {"maximum",
                                 "minimum",
                                 "peak_to_peak",
                                 "mean",
                                 "rms",
                                 "ac_rms",
                                 "high",
                                 "low",
                                 "amplitude",
                                 "rise_time",
                                 "fall_time",
                                 "positive_width",
                                 "negative_width",
                                 "period",
                                 "frequency",
                                 "duty_cycle",
                                 "slew_rate_rising",
                                 "slew_rate_falling",
                                 "edge_count",
                                 "overshoot_rising"}) {
        document.measurements.push_back({.id = quantity, .quantity = quantity, .source = "a"});
    }
    return document;
}

} // namespace

int main(int argc, char **argv)
{
    if (argc != 2) {
        std::fprintf(stderr, "usage: fulvex-bench-rows FILE\n");
        return 2;
    }
    const std::string file = std::filesystem::absolute(argv[1]).string();
    makeRecord(file);
    Document document = documentWithRows(file);
    Engine engine(".");
    Progress progress;
    const auto seconds = [&](Results &results) {
        const auto start = std::chrono::steady_clock::now();
        results = engine.evaluate(document, "/", {}, progress);
        return std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count();
    };
    Results results;
    const double all = seconds(results), memory = bench::peakMemory() - double(std::filesystem::file_size(file)) / 1e6;
    const auto mean = [&](const char *row) { return findEntry(results.rows, row)->statistics.mean.value_or(NAN); };
    std::printf("%.3f %.0f %.0f %.9g %.6g", all, memory, mean("edge_count"), mean("period"), mean("rise_time"));
    document.measurements.push_back(
        {.id = "cycle_to_cycle_jitter", .quantity = "cycle_to_cycle_jitter", .source = "a"});
    std::printf(" %.3f", seconds(results));
    document.measurements[9].limit.max = 2e-9;
    std::printf(" %.4f\n", seconds(results));
    return 0;
}
