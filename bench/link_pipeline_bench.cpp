// The headline pipeline: two 16-bit legs -> subtract -> edges with hysteresis -> loop of order 2 -> eye counts.
// fulvex-bench-link FILE [linear|instants|document]: prints "seconds samples edges rms counted peak-memory-bytes
// instruction-set"; see compare.sh. `document`: instants, and the eye interpolated as a document's is.
// fulvex-bench-link FILE plain: beside the plain version, by turns, nine times each: "seconds plain-seconds read
// increments" (medians; what the machine can do, samples/s), and fails where the two do not give the same.
// fulvex-bench-link FILE kinds [NAME]: beside the plain version for each kind of samples: "name seconds plain-seconds".
// fulvex-bench-link FILE rates: the same for each number of samples a unit interval, 5 million unit intervals at most.
// fulvex-bench-link FILE levels: FILE-3, as long and of three levels, by turns with it: "seconds of two, of three, of
// the plain version of two".

#include "amplitude_survey.h"
#include "clock_recovery.h"
#include "crossing_masks.h"
#include "edge_finder.h"
#include "eight_lanes.h"
#include "eye_fold.h"
#include "freed_memory.h"
#include "link_record.h"
#include "machine_bounds.h"
#include "parallel.h"
#include "plain_link.h"
#include "raw_vector.h"
#include "symbol_edges.h"

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

/// From edges on, with symbols told apart at the thresholds.
Outcome eyeOf(const SourcePtr &link, EdgeList found, const std::vector<double> &thresholds, bool fine,
              double samplesPerUi = 4)
{
    Progress progress;
    auto edges = std::make_shared<EdgeList>(std::move(found));
    auto timing = std::make_shared<SymbolTiming>(findSymbolTiming(*edges, samplesPerUi, progress));
    const Clock clock = loopClock(edges, timing, link->axis(), {}, {2, 1.5e6, 0.7071, false}, progress);
    const int points = fine ? automaticInterpolation(clock.map.period()) : 1;
    const EyeFold fold =
        foldEye(link, clock.map, {thresholds, -0.36, 0.36, clock.map.firstSettled(), clock.map.unitIntervals(), points},
                progress);
    double squares = 0;
    std::size_t settled = 0;
    while (settled < edges->size() && clock.edges.numberOf(settled) < clock.map.firstSettled()) ++settled;
    const SampleRange used{std::int64_t(settled), std::int64_t(edges->size())};
    for (const double part : inChunks<double>(used, 1 << 16, progress, [&](SampleRange mine, double &sum) {
             RawVector<double> late(std::size_t(mine.size()));
             clock.edges.lateness(clock.map, std::size_t(mine.first), late);
             Eight squared{};
             std::size_t i = 0;
             for (; i + eight <= late.size(); i += eight) {
                 const Eight some = eightOf(late.data() + i);
                 squared += some * some;
             }
             sum = sumOf(squared);
             for (; i < late.size(); ++i) sum += late[i] * late[i];
         }))
        squares += part;
    std::uint64_t counted = 0;
    for (const std::uint64_t count : fold.picture.counts) counted += count;
    return {edges->size(), std::sqrt(squares / double(used.size())), counted};
}

Outcome pipeline(const SourcePtr &link, EdgeInterpolation interpolation, bool fine, double samplesPerUi = 4)
{
    Progress progress;
    ReferenceLevels levels{{-0.24, 0.24}, -0.192, 0, 0.192, 0.048};
    return eyeOf(link, findEdges(*link, {0, link->axis().count}, levels, interpolation, progress), {0}, fine,
                 samplesPerUi);
}

double seconds(const auto &work)
{
    const auto start = std::chrono::steady_clock::now();
    work();
    return std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count();
}

constexpr int turns = 9;

double median(std::vector<double> all)
{
    std::nth_element(all.begin(), all.begin() + turns / 2, all.end());
    return all[turns / 2];
}

/// The plain version. Ends the program where it does not give what the pipeline gave.
void plainly(const SourcePtr &link, const Outcome &outcome, double samplesPerUi = 4)
{
    std::vector<double> values(std::size_t(link->axis().count));
    link->read(0, values);
    const test::PlainLink plain(values, {.bottom = -0.024, .top = 0.024, .period = samplesPerUi});
    if (plain.edges.size() != outcome.edges || std::abs(plain.settledRms - outcome.rms) > 1e-6 ||
        std::abs(double(plain.fold.samples) - double(outcome.counted)) > 10) {
        std::fprintf(stderr, "the plain version gives something else: %zu edges, %.7f UI, %lld samples\n",
                     plain.edges.size(), plain.settledRms, static_cast<long long>(plain.fold.samples));
        std::exit(1);
    }
}

struct Beside {
    double ours, plain; ///< s, medians
};

/// By turns in one process, so that a machine that changes its speed changes both.
Beside besidePlain(const SourcePtr &link, double samplesPerUi = 4)
{
    std::vector<double> ours, plains;
    for (int run = 0; run < turns; ++run) {
        Outcome outcome{};
        ours.push_back(seconds([&] { outcome = pipeline(link, EdgeInterpolation::linear, false, samplesPerUi); }));
        plains.push_back(seconds([&] { plainly(link, outcome, samplesPerUi); }));
    }
    return {median(ours), median(plains)};
}

/// By turns as well.
int besideThreeLevels(const SourcePtr &link, const SourcePtr &three)
{
    Progress progress;
    const SampleRange all{0, three->axis().count};
    const AmplitudeHistogram samples = surveyAmplitudes(*three, all, progress, false).histogram;
    std::vector<double> ofTwo, ofThree, plains;
    for (int turn = 0; turn < turns; ++turn) {
        Outcome two{};
        ofTwo.push_back(seconds([&] { two = pipeline(link, EdgeInterpolation::linear, false); }));
        ofThree.push_back(seconds([&] {
            SymbolEdges found = findSymbolEdges(three, all, samples, {}, 4.0, EdgeInterpolation::linear, progress);
            const Outcome outcome = eyeOf(three, std::move(found.edges), found.levels.thresholds, false);
            const double share = double(outcome.edges) / (double(all.size()) / 4); // two of three boundaries
            if (std::abs(share - 2.0 / 3) > 0.002 || !(std::abs(outcome.rms - 0.02) < 0.01)) {
                std::fprintf(stderr, "three levels give %zu edges, %.5f UI rms\n", outcome.edges, outcome.rms);
                std::exit(1);
            }
        }));
        plains.push_back(seconds([&] { plainly(link, two); }));
    }
    std::printf("%.4f %.4f %.4f\n", median(ofTwo), median(ofThree), median(plains));
    return 0;
}

} // namespace

int main(int argc, char **argv)
{
    keepFreedMemory(); // as the programs do
    const std::string file = argc > 1 ? argv[1] : "link";
    const std::string kind = argc > 2 ? argv[2] : "linear";
    bench::makeLinkRecord(file, 50000000);
    const SourcePtr link = bench::openLinkRecord(file);
    if (kind == "plain") {
        const Beside beside = besidePlain(link);
        const bench::MachineBounds bounds = bench::machineBounds(file);
        std::printf("%.4f %.4f %.3e %.3e\n", beside.ours, beside.plain, bounds.read, bounds.increment);
        return 0;
    }
    if (kind == "kinds") {
        for (const bench::LinkKind &one : bench::linkKinds) {
            if (argc > 3 && argv[3] != std::string(one.name)) continue;
            const Beside beside = besidePlain(bench::openLinkKind(file, one));
            std::printf("%s %.4f %.4f\n", one.name, beside.ours, beside.plain);
        }
        return 0;
    }
    if (kind == "rates") {
        for (const int samplesPerUi : {4, 8, 16, 40}) {
            const std::string name = file + "-" + std::to_string(samplesPerUi);
            bench::makeLinkRecord(name, std::min(50'000'000, 5'000'000 * samplesPerUi), 2, samplesPerUi);
            const SourcePtr some = bench::openLinkRecord(name);
            const auto [ours, plain] = besidePlain(some, samplesPerUi);
            std::printf("%d %.3g %.4f %.4f\n", samplesPerUi, double(some->axis().count) / ours, ours, plain);
        }
        return 0;
    }
    if (kind == "levels") {
        bench::makeLinkRecord(file + "-3", 50000000, 3);
        return besideThreeLevels(link, bench::openLinkRecord(file + "-3"));
    }
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
