// Masks of 64 samples against the plain loop, in cache and out of it.

#include "edge_scanner.h"

#include <benchmark/benchmark.h>

using namespace fulvex;

namespace {

std::vector<double> noisySquare(std::int64_t count, int samplesPerPeriod)
{
    std::uint64_t state = 1;
    std::vector<double> volts;
    for (std::int64_t i = 0; i < count; ++i) {
        state = state * 6364136223846793005u + 1442695040888963407u;
        volts.push_back((i % samplesPerPeriod < samplesPerPeriod / 2 ? -1.0 : 1.0) +
                        (double(state >> 33) * 0x1p-31 - 0.5) * 0.2);
    }
    return volts;
}

template <bool plainly>
void edgesOfNoisySquare(benchmark::State &state)
{
    const auto volts = noisySquare(state.range(0), 32);
    EdgeList found;
    for (auto _ : state) {
        found.positions.clear();
        found.flags.clear();
        EdgeScanner scanner({0, -0.4, 0.4}, 0);
        plainly ? scanner.feedPlainly(volts, found) : scanner.feed(volts, found);
        benchmark::DoNotOptimize(found.positions.data());
    }
    if (found.size() != volts.size() / 16 - 1) state.SkipWithError("wrong number of edges");
    state.SetItemsProcessed(state.iterations() * state.range(0));
}

} // namespace

BENCHMARK(edgesOfNoisySquare<false>)->Arg(1 << 12)->Arg(1 << 22);
BENCHMARK(edgesOfNoisySquare<true>)->Arg(1 << 12)->Arg(1 << 22);
