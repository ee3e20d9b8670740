#include "machine_bounds.h"

#include "core_loop.h"
#include "mapped_file.h"

#include <algorithm>
#include <chrono>
#include <cstdint>
#include <cstring>
#include <thread>
#include <vector>

namespace fulvex::bench {

namespace {

template <typename Work>
double bestSeconds(Work &&work)
{
    double best = 1e9;
    for (int run = 0; run < 5; ++run) {
        const auto start = std::chrono::steady_clock::now();
        work();
        best = std::min(best, std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count());
    }
    return best;
}

volatile std::uint64_t seen; ///< so that nothing is left out

} // namespace

MachineBounds machineBounds(const std::string &record)
{
    const auto p = MappedFile::open(record + "-p.npy"), n = MappedFile::open(record + "-n.npy");
    constexpr std::size_t piece = 1 << 20; // bytes
    const std::size_t bytes = std::min(p->bytes().size(), n->bytes().size()), pieces = bytes / piece;
    const double read = bestSeconds([&] {
        onAllCores(std::int64_t(pieces), [&](std::int64_t index) {
            std::uint64_t sum[8] = {};
            for (const MappedFile *file : {p.get(), n.get()}) {
                const std::byte *from = file->bytes().data() + std::size_t(index) * piece;
                for (std::size_t at = 0; at < piece; at += sizeof sum) {
                    std::uint64_t words[8];
                    std::memcpy(words, from + at, sizeof words);
                    for (int k = 0; k < 8; ++k) sum[k] += words[k];
                }
            }
            seen = sum[0] + sum[1] + sum[2] + sum[3] + sum[4] + sum[5] + sum[6] + sum[7];
        });
    });

    constexpr std::size_t cells = 1 << 16, hits = 1 << 19;
    std::vector<std::uint32_t> places(hits);
    std::uint64_t state = 88172645463325252u;
    for (std::size_t i = 0; i < hits; ++i) {
        state ^= state << 13;
        state ^= state >> 7;
        state ^= state << 17;
        const auto row = (state >> 20 & 7) ? (state >> 30 & 1 ? 208u : 40u) + std::uint32_t(state >> 40 & 7)
                                           : std::uint32_t(state >> 40 & 255); // an edge now and then
        places[i] = row * 256 + std::uint32_t(i % 4) * 64 + std::uint32_t(state >> 50 & 63);
    }
    const auto cores = std::max(1u, std::thread::hardware_concurrency());
    constexpr int rounds = 64;
    const double increments = bestSeconds([&] {
        onAllCores(cores, [&](std::int64_t) {
            std::vector<std::uint32_t> counts(cells);
            for (int round = 0; round < rounds; ++round)
                for (const std::uint32_t place : places) ++counts[place];
            seen = counts[12345];
        });
    });
    return {double(pieces * piece / 2) / read, double(cores) * rounds * double(hits) / increments};
}

} // namespace fulvex::bench
