#pragma once

#include "results.h"

#include <string>
#include <vector>

namespace fulvex {

/// The symbols about some unit intervals of an eye: which pattern is it that does something there?
struct SymbolContext {
    static constexpr std::int64_t beside = 6;
    /// Of each: those before it, itself, those behind it, as "001011 1 010010"; digits and letters from the lowest
    /// level up, ? where there is none.
    std::vector<std::string> each;
    /// The same of nearly all of them (19 in 20): a symbol where these agree, · where they do not. Empty for fewer than
    /// 3, or where none of their neighbours agree.
    std::string common;
};
SymbolContext symbolsAbout(const EyeResult &eye, const std::vector<std::int64_t> &unitIntervals);

/// How places in a record of so many unit intervals lie to each other, in words: all whole multiples of some unit
/// intervals apart, or most of them in a small part of it. Empty for fewer than 4, and where there is nothing to say.
std::string rhythmOf(std::vector<std::int64_t> unitIntervals, std::int64_t all, double unitInterval);

} // namespace fulvex
