#include "quantity_table.h"

namespace fulvex {

namespace {

constexpr Quantity table[] = {
    {"phase_noise_at", "phase noise", "dBc/Hz", Needs::source, nullptr, "clock"},
    {"integrated_jitter", "integrated jitter", "s", Needs::source, nullptr, "clock"},
};

} // namespace

QuantityGroup phaseNoiseQuantities()
{
    return {"phase noise", table};
}

} // namespace fulvex
