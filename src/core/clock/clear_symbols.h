#pragma once

#include <cstddef>
#include <cstdint>
#include <span>

namespace fulvex {

/// Which symbol the signal is at between samples, where that needs no interpolation to tell: for each threshold a bit a
/// sample, 64 a word, set where the signal is at or above it, or below it, all along from this sample to the next. So
/// it is where both lie farther from the threshold than the signal may stray from the straight line: see
/// SymbolMiddles::symbols(). Of the first two samples, the last three and those about a gap no bit is set.
struct ClearWords {
    std::span<std::uint64_t *const> atLeast, below; ///< one a threshold, of as many words as there are
};

/// `bandLimited`: else the signal is the straight line.
void findClear(const double *values, std::size_t words, std::span<const double> thresholds, bool bandLimited,
               const ClearWords &out);
/// The same of codes of 16 and 17 bits; of thresholds the first code that is at least theirs. Of those of 16 bits a bit
/// may be missing where the signal might come to within two codes of a threshold, or to the first or last code.
void findClear(const std::int16_t *codes, std::size_t words, std::span<const std::int32_t> thresholds, bool bandLimited,
               const ClearWords &out);
void findClear(const std::int32_t *codes, std::size_t words, std::span<const std::int32_t> thresholds, bool bandLimited,
               const ClearWords &out);

} // namespace fulvex
