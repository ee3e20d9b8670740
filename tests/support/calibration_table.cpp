// fulvex-calibrate [RUNS [SEED]]: prints docs/accuracy.md; with a seed what it says of jitter alone, of other cases.

#include "calibration.h"
#include "jitter_grid.h"

#include <algorithm>
#include <cmath>
#include <cstdio>
#include <cstdlib>
#include <map>

namespace {

void printJitter(const char *title, const std::vector<fulvex::test::JitterCase> &cases)
{
    struct Sum {
        int told = 0, good = 0, held = 0;
        double worst = 0; // off, in goals
    };
    std::map<std::string, Sum> sums;
    for (const auto &one : cases) {
        for (const auto &part : one.parts) {
            if (!part.counts) continue;
            Sum &sum = sums[part.quantity];
            ++sum.told;
            sum.good += part.good();
            sum.held += part.held();
            sum.worst = std::max(sum.worst, std::abs(part.found - part.truth) / part.goal);
        }
    }
    std::printf("\n### %s\n\n| part | cases | within its goal | truth within ± 2 u | worst, in goals "
                "|\n|---|---|---|---|---|\n",
                title);
    for (const auto &[quantity, sum] : sums)
        std::printf("| %s | %d | %d | %.0f %% | %.2f |\n", quantity.c_str(), sum.told, sum.good,
                    100.0 * sum.held / sum.told, sum.worst);
    std::printf("\nCases that miss a goal, in ps:\n\n");
    for (const auto &one : cases)
        for (const auto &part : one.parts)
            if (!part.good())
                std::printf("- %s: is %.3f, found %.3f ± %.3f; %s\n", part.quantity, part.truth * 1e12,
                            part.found * 1e12, part.uncertainty * 1e12, one.what.c_str());
}

void printUncertainties(int runs)
{
    std::printf(
        "# How true the uncertainties are\n\n"
        "Made by `./dev accuracy`: each signal is simulated %d times with other noise and measured as a project "
        "would; what is true of it is known from how it was made. Right is about 95 %%. Noise is independent from "
        "sample to sample, or each value is 0.97 (0.9) of the one before. Pulses: 400 of 0.2 to 1 V, ramps of 32 "
        "samples, 4 mV rms, instants off by 0.3 samples rms; two of them, where noise says what no scatter can; bursts "
        "of four, each fifth left out; their answer, smaller, slower and 40 samples later. Sines: 60000 samples, "
        "201.37 a period, 4 mV rms. Data: 3000 unit intervals of 12.3 samples, 20 mV rms; with jitter, 24.6 samples, "
        "0.01 UI rms, no noise. `u` is the standard uncertainty of the mean, in the quantity's unit.\n\n",
        runs);
    std::printf("| quantity | signal | truth within ± 2 u | stray, rms | u told, rms |\n|---|---|---|---|---|\n");
    for (const auto &one : fulvex::test::calibrations(runs))
        std::printf("| `%s` | %s | %.1f %% | %.3g | %.3g |\n", one.quantity.c_str(), one.signal.c_str(),
                    100 * one.share(), one.stray, one.uncertainty);
}

void printJitter(int runs, std::uint64_t seed)
{
    std::printf(
        "\n## Jitter taken apart\n\n"
        "Cases drawn by chance over all that a capture may hold; what is true of each part is known from how it was "
        "made, of totals by numerical convolution. Goals: random 3 %% (by tails 10 %%), lines 5 %% or 0.2 ps, data 3 "
        "%% or 0.3 ps, total at 1e-12 5 %%. In a third of the cases something bounded hides that is neither line nor "
        "data: there the tails tell random and total.\n");
    printJitter("Edges whose jitter is known", fulvex::test::jitterGrid(runs, seed));
    printJitter("Samples, 3.2 to 50 a unit interval", fulvex::test::sampledJitterGrid(runs / 4, seed));
}

} // namespace

int main(int argc, char **argv)
{
    const int runs = argc > 1 ? std::atoi(argv[1]) : 200;
    const std::uint64_t seed = argc > 2 ? std::strtoull(argv[2], nullptr, 10) : 1;
    if (argc <= 2) printUncertainties(runs);
    printJitter(runs, seed);
    return 0;
}
