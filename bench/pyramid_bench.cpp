// The pyramid of 16-bit integers in memory, and beside it the same machine's plain reading of the same memory, on all
// cores: what the pyramid may cost at most is twice the reading.

#include "channel_source.h"
#include "parallel.h"
#include "pyramid.h"
#include "widest_vectors.h"

#include <benchmark/benchmark.h>
#include <numeric>

using namespace fulvex;

namespace {

const std::vector<std::int16_t> &record()
{
    static const auto made = [] {
        std::vector<std::int16_t> values(std::size_t(1) << 28);
        std::uint32_t state = 1;
        for (std::int16_t &v : values) v = std::int16_t((state = state * 1664525u + 1013904223u) >> 16);
        return values;
    }();
    return made;
}

FULVEX_WIDEST_VECTORS std::uint64_t sumOf(const std::uint64_t *words, std::size_t count)
{
    std::uint64_t sum = 0;
    for (std::size_t i = 0; i < count; ++i) sum += words[i];
    return sum;
}

void readingMemory(benchmark::State &state)
{
    const auto *words = reinterpret_cast<const std::uint64_t *>(record().data());
    const auto count = std::int64_t(record().size() / 4);
    Progress progress;
    for (auto _ : state) {
        const auto sums = inChunks<std::uint64_t>({0, count}, defaultChunk, progress, [&](SampleRange mine, auto &sum) {
            sum = sumOf(words + mine.first, std::size_t(mine.size()));
        });
        benchmark::DoNotOptimize(std::accumulate(sums.begin(), sums.end(), std::uint64_t(0)));
    }
    state.SetBytesProcessed(state.iterations() * std::int64_t(record().size() * 2));
}

void pyramidOfIntegers(benchmark::State &state)
{
    Waveform waveform;
    waveform.type = SampleType::i16;
    waveform.stride = 2;
    waveform.data = reinterpret_cast<const std::byte *>(record().data());
    waveform.count = std::int64_t(record().size());
    const ChannelSource source(waveform, {0, 1e-9, 0}, 1e-3, 0, 0);
    Progress progress;
    for (auto _ : state) {
        const Pyramid pyramid = Pyramid::build(source, progress);
        if (pyramid.whole().low != -32.768f) state.SkipWithError("wrong minimum");
    }
    state.SetBytesProcessed(state.iterations() * std::int64_t(record().size() * 2));
}

} // namespace

BENCHMARK(readingMemory)->UseRealTime()->Unit(benchmark::kMillisecond);
BENCHMARK(pyramidOfIntegers)->UseRealTime()->Unit(benchmark::kMillisecond);
