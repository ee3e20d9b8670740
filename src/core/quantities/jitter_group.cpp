#include "quantity_table.h"

namespace fulvex {

namespace {

constexpr Quantity table[] = {
    {"random_jitter", "random jitter", "s", Needs::clock, nullptr},
    {"deterministic_jitter", "deterministic jitter", "s", Needs::clock, nullptr},
    {"deterministic_jitter_pp", "deterministic jitter, pp", "s", Needs::clock, nullptr},
    {"periodic_jitter", "periodic jitter", "s", Needs::clock, nullptr},
    {"data_dependent_jitter", "data-dependent jitter", "s", Needs::clock, nullptr},
    {"duty_cycle_distortion", "duty-cycle distortion", "s", Needs::clock, nullptr},
    {"bounded_uncorrelated_jitter", "bounded uncorrelated jitter", "s", Needs::clock, nullptr},
    {"total_jitter", "total jitter", "s", Needs::clock, nullptr},
    {"eye_opening", "eye opening", "s", Needs::clock, nullptr},
};

} // namespace

QuantityGroup jitterQuantities()
{
    return {"jitter make-up", table};
}

} // namespace fulvex
