// The headline pipeline: two 16-bit legs -> subtract -> edges with hysteresis -> loop of order 2 -> eye counts.
// fulvex-bench-link FILE [linear|instants|document]: prints "seconds samples errors-checksum peak-memory-bytes"; see
// compare.sh. `document`: instants, and the eye interpolated as a document's is.

#include "clock_recovery.h"
#include "crossing_masks.h"
#include "edge_finder.h"
#include "eye_fold.h"
#include "link_record.h"
#include "parallel.h"

#include <chrono>
#include <cmath>
#include <cstdio>
#include <fstream>
#include <string>

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

} // namespace

int main(int argc, char **argv)
{
    const std::string file = argc > 1 ? argv[1] : "link";
    const std::string kind = argc > 2 ? argv[2] : "linear";
    bench::makeLinkRecord(file, 50000000);
    const SourcePtr link = bench::openLinkRecord(file);
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
