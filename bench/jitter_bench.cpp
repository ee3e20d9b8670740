// The make-up of the jitter of ten million edges: a pattern's part, two lines, what is random, total at 1e-12.
// fulvex-bench-jitter FILE writes what it is of for its twin (int32 place and float64 error of each edge, one behind
// the other), and prints seconds, MB at most, the edges among them, random, periodic, the pattern's extent and total in
// ps.

#include "jitter_budget.h"
#include "peak_memory.h"

#include <chrono>
#include <cmath>
#include <cstdio>
#include <fstream>
#include <numbers>

using namespace fulvex;

namespace {

constexpr double unitInterval = 1e-9, ps = 1e-12;

/// A PRBS of order 9 whose edges are late by the symbols before them, in two sines and normal noise.
JitterEdges makeEdges()
{
    constexpr std::size_t length = 20'000'000;
    JitterEdges edges;
    edges.unitInterval = unitInterval;
    std::uint32_t bits = 0x1ff;
    std::uint64_t seed = 1;
    const auto uniform = [&seed] {
        seed = seed * 6364136223846793005u + 1442695040888963407u;
        return (double(seed >> 11) + 0.5) * 0x1p-53;
    };
    std::vector<std::uint8_t> symbols(length);
    for (std::uint8_t &symbol : symbols) {
        symbol = std::uint8_t((bits >> 8 ^ bits >> 4) & 1);
        bits = bits << 1 | symbol;
    }
    constexpr std::size_t most = length / 2 + length / 50;
    edges.places.reserve(most);
    edges.errors.reserve(most);
    edges.steps.reserve(most);
    edges.edges.reserve(most);
    for (std::size_t n = 4; n < length; ++n) {
        if (symbols[n] == symbols[n - 1]) continue;
        const double turns = 2 * std::numbers::pi * double(n) * unitInterval, rises = symbols[n] ? 1 : -1;
        const double noise = std::sqrt(-2 * std::log(uniform())) * std::cos(2 * std::numbers::pi * uniform());
        edges.places.push_back(std::int32_t(n - 4));
        edges.errors.push_back(ps * (rises * (2.5 + 6 * (2 * symbols[n - 2] - 1) + 3 * (2 * symbols[n - 3] - 1)) +
                                     8 * std::sin(3.7e6 * turns) + 3 * std::sin(91.3e6 * turns + 1) + 2 * noise));
        edges.steps.push_back(symbols[n] ? 1 : 16);
        edges.edges.push_back(std::uint32_t(edges.edges.size()));
    }
    edges.symbols.assign(symbols.begin() + 4, symbols.end());
    return edges;
}

} // namespace

int main(int argc, char **argv)
{
    if (argc != 2) return 2;
    JitterEdges edges = makeEdges();
    {
        std::ofstream file(argv[1], std::ios::binary);
        const auto write = [&](const auto &values) {
            file.write(reinterpret_cast<const char *>(values.data()),
                       std::streamsize(values.size() * sizeof values.front()));
        };
        write(edges.places);
        write(edges.errors);
        if (!file) return 1;
    }
    Progress progress;
    const auto start = std::chrono::steady_clock::now();
    const JitterMakeUp found = makeUpOf(std::move(edges), {}, progress);
    const JitterBudget budget = budgetOf(found, nullptr, 1e-12, {});
    const double seconds = std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count();
    std::printf("%.3f %.0f %.4f %.3f %.3f %.3f\n", seconds, bench::peakMemory(), found.random / ps,
                found.periodic() / ps, found.data.peakToPeak / ps, budget.total / ps);
    return 0;
}
