// fulvex-calibrate [RUNS]: prints docs/accuracy.md.

#include "calibration.h"

#include <cstdio>
#include <cstdlib>

int main(int argc, char **argv)
{
    const int runs = argc > 1 ? std::atoi(argv[1]) : 200;
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
    return 0;
}
