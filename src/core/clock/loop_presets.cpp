#include "loop_presets.h"

namespace fulvex {

static constexpr LoopPreset presets[] = {
    {"rate / 1667, order 1", "INCITS T11, MJSQ: the golden loop, a single pole at the signalling rate over 1667", 1, 0, 1667,
     0.7071},
    {"10GBASE-R: 4 MHz, order 1", "IEEE Std 802.3, 52.9.7: corner at most 4 MHz, -20 dB a decade", 1, 4e6, 0, 0.7071},
    {"100GBASE-LR4: 10 MHz, order 1", "IEEE Std 802.3, 88.8.8: corner at most 10 MHz, -20 dB a decade", 1, 10e6, 0,
     0.7071},
};

std::span<const LoopPreset> loopPresets()
{
    return presets;
}

} // namespace fulvex
