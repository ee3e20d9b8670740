// The headline pipeline: two 16-bit legs -> subtract -> edges with hysteresis -> loop of order 2 -> eye counts.
// fulvex-bench-link FILE [linear|instants|document]: prints "seconds samples edges rms counted peak-memory-bytes
// instruction-set"; see compare.sh. `document`: instants, and the eye interpolated as a document's is.
// fulvex-bench-link FILE plain: beside the plain version, by turns, nine times each: "seconds plain-seconds read
// increments" (medians; what the machine can do, samples/s), and fails where the two do not give the same.

#include "clock_recovery.h"
#include "crossing_masks.h"
#include "edge_finder.h"
#include "eye_fold.h"
#include "link_record.h"
#include "machine_bounds.h"
#include "parallel.h"
#include "plain_link.h"

#include <algorithm>
#include <chrono>
#include <cmath>
#include <cstdio>
#include <cstdlib>
#include <fstream>
#include <string>
#include <vector>

using namespace fulvex;

namespace {

/// Peak resident memory, mapped file pages included, as the kernel counts it.
long long peakBytes()
{
    std::ifstream status("/proc/self/status");
    for (std::string line; std::getline(status, line);) {
        if (line.starts_with("VmHWM:")) return std::stoll(line.substr(6)) * 1024;
    }
    return 0;
}

struct Outcome {
    std::size_t edges;
    double rms;
    std::uint64_t counted;
};

Outcome pipeline(const SourcePtr &link, EdgeInterpolation interpolation, bool fine)
{
    Progress progress;
    const SampleRange all{0, link->axis().count};
    ReferenceLevels levels{{-0.24, 0.24, 0, 0}, -0.192, 0, 0.192, 0.048};
    auto edges = std::make_shared<EdgeList>(findEdges(*link, all, levels, interpolation, progress));
    auto timing = std::make_shared<SymbolTiming>(findSymbolTiming(*edges, 4.0, progress));
    const Clock clock = loopClock(edges, timing, link->axis(), {}, {2, 1.5e6, 0.7071, false}, progress);
    const int points = fine ? automaticInterpolation(clock.map.period()) : 1;
    const EyeFold fold = foldEye(
        link, clock.map, {{0}, -0.36, 0.36, clock.map.firstSettled(), clock.map.unitIntervals(), points}, progress);
    double squares = 0;
    std::size_t settled = 0;
    while (settled < edges->size() && clock.edges.numberOf(settled) < clock.map.firstSettled()) ++settled;
    const SampleRange used{std::int64_t(settled), std::int64_t(edges->size())};
    for (const double part : inChunks<double>(used, 1 << 16, progress, [&](SampleRange mine, double &sum) {
             std::vector<double> late(std::size_t(mine.size()));
             clock.edges.lateness(clock.map, std::size_t(mine.first), late);
             for (const double error : late) sum += error * error;
         }))
        squares += part;
    std::uint64_t counted = 0;
    for (const std::uint64_t count : fold.picture.counts) counted += count;
    return {edges->size(), std::sqrt(squares / double(used.size())), counted};
}

/// By turns in one process, so that a machine that changes its speed changes both.
int besidePlain(const SourcePtr &link, const std::string &file)
{
    std::vector<double> ours, plains;
    for (int run = 0; run < 9; ++run) {
        const auto timed = [](auto &&work) {
            const auto start = std::chrono::steady_clock::now();
            work();
            return std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count();
        };
        Outcome outcome{};
        ours.push_back(timed([&] { outcome = pipeline(link, EdgeInterpolation::linear, false); }));
        plains.push_back(timed([&] {
            std::vector<double> values(std::size_t(link->axis().count));
            link->read(0, values);
            const test::PlainLink plain(values, {.bottom = -0.024, .top = 0.024});
            if (plain.edges.size() != outcome.edges || std::abs(plain.settledRms - outcome.rms) > 1e-6 ||
                std::abs(double(plain.fold.samples) - double(outcome.counted)) > 10) {
                std::fprintf(stderr, "the plain version gives something else: %zu edges, %.7f UI, %lld samples\n",
                             plain.edges.size(), plain.settledRms, static_cast<long long>(plain.fold.samples));
                std::exit(1);
            }
        }));
    }
    const auto median = [](std::vector<double> all) {
        std::nth_element(all.begin(), all.begin() + 4, all.end());
        return all[4];
    };
    const bench::MachineBounds bounds = bench::machineBounds(file);
    std::printf("%.4f %.4f %.3e %.3e\n", median(ours), median(plains), bounds.read, bounds.increment);
    return 0;
}

} // namespace

int main(int argc, char **argv)
{
    const std::string file = argc > 1 ? argv[1] : "link";
    const std::string kind = argc > 2 ? argv[2] : "linear";
    bench::makeLinkRecord(file, 50000000);
    const SourcePtr link = bench::openLinkRecord(file);
    if (kind == "plain") return besidePlain(link, file);
    double best = 1e9;
    Outcome outcome{};
    for (int run = 0; run < 3; ++run) {
        const auto start = std::chrono::steady_clock::now();
        outcome = pipeline(link, kind == "linear" ? EdgeInterpolation::linear : EdgeInterpolation::instants,
                           kind == "document");
        best = std::min(best, std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count());
    }
    std::printf("%.4f %lld %zu %.6f %llu %lld %s\n", best, static_cast<long long>(link->axis().count), outcome.edges,
                outcome.rms, static_cast<unsigned long long>(outcome.counted), peakBytes(), crossingMasksTarget());
}
