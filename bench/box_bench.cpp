// The unit intervals behind a cell of an eye, on a record that is given: how long they take to find, beside reading the
// record once on all cores.

#include "core_clock.h"
#include "eye_box.h"
#include "link_record.h"
#include "parallel.h"

#include <chrono>
#include <cstdio>

using namespace fulvex;

namespace {

double secondsFor(const std::function<void()> &work)
{
    std::vector<double> times;
    for (int i = 0; i < 5; ++i) {
        const auto start = std::chrono::steady_clock::now();
        work();
        times.push_back(std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count());
    }
    std::nth_element(times.begin(), times.begin() + 2, times.end());
    return times[2];
}

} // namespace

int main(int argc, char **argv)
{
    const SourcePtr link = bench::openLinkRecord(argc > 1 ? argv[1] : "link");
    Progress progress;
    const UnitIntervalMap map(link->axis(), 0.4, 4.0001);
    EyeRule rule;
    rule.last = map.unitIntervals();
    rule.interpolation = automaticInterpolation(map.period());
    struct Sum {
        double sum = 0;
        void merge(const Sum &later) { sum += later.sum; }
    };
    std::printf("core clock %.2f GHz\n", bench::coreClock());
    double kept = 0;
    const double reading = secondsFor([&] {
        kept += inChunksMerged<Sum>({0, link->axis().count}, defaultChunk, progress, [&](SampleRange mine, Sum &part) {
                    forBlocks(*link, mine, progress, [&](std::int64_t, std::span<const double> values) {
                        for (const double value : values) part.sum += value;
                    });
                }).sum;
    });
    for (const EyeBox &box :
         {EyeBox{0.49, 0.51, 0.1, 0.12}, EyeBox{0.45, 0.55, -10, 10}, EyeBox{-0.1, 0.1, -0.01, 0.01}}) {
        EyePasses found;
        const double asking = secondsFor([&] { found = passesThrough(link, map, rule, box, 1000, progress); });
        std::printf(
            "box %.2f … %.2f UI, %.2f … %.2f: %.3f s for %.0f million samples, %lld pass; %.1f times reading them\n",
            box.fromPhase, box.toPhase, box.low, box.high, asking, double(link->axis().count) / 1e6,
            static_cast<long long>(found.count), asking / reading);
    }
    return kept == 0.123; // so that reading is not left out
}
