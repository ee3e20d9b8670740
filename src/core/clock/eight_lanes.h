#pragma once

#include <cstddef>
#include <cstdint>
#include <cstring>

namespace fulvex {

// For plain loops of eight sums or states side by side, since one alone waits for itself; what the compiler makes of
// arrays is slower. Eight whatever the machine's vectors are, so that every machine computes in the same order.
typedef double Eight __attribute__((vector_size(64)));
constexpr std::size_t eight = 8;

inline Eight eightOf(const std::int32_t *numbers)
{
    typedef std::int32_t EightNumbers __attribute__((vector_size(32)));
    EightNumbers some;
    std::memcpy(&some, numbers, sizeof some);
    return __builtin_convertvector(some, Eight);
}

inline Eight eightOf(const double *values)
{
    Eight some;
    std::memcpy(&some, values, sizeof some);
    return some;
}

inline double sumOf(const Eight &all)
{
    return ((all[0] + all[1]) + (all[2] + all[3])) + ((all[4] + all[5]) + (all[6] + all[7]));
}

} // namespace fulvex
