#pragma once

#include "crossing_masks.h"

#include <cstdint>

namespace fulvex {

/// A walk along words of 64 samples, all of them finite: where a level is passed, and which passages were none.
/// An addition is a walk along the bits: what is carried from one to the next is set by a pair of ones, cleared by a
/// pair of zeros, and goes on as it is through unlike ones. So one addition tells on which side of the band each sample
/// was last, and where that changes a passage is confirmed; a second one, whether a passage came before the one before
/// was confirmed, which then was none.
struct PassageWalk {
    bool isAbove;     ///< the level itself
    bool wasAbove;    ///< the band, last
    bool isConfirmed; ///< the last passage of the level
    struct Word {
        std::uint64_t passages; ///< all of them
        std::uint64_t again;    ///< those that show that the one before them was none
    };
    Word next(const CrossingMasks &own)
    {
        const std::uint64_t passages = own.above ^ (own.above << 1 | std::uint64_t(isAbove));
        isAbove = own.above >> 63;
        bool carry = wasAbove;
        const std::uint64_t stays = ~own.atBottom, before = stays ^ own.atTop ^ sumOf(stays, own.atTop, carry),
                            behind = before >> 1 | std::uint64_t(carry) << 63, confirms = before ^ behind;
        wasAbove = carry;
        carry = isConfirmed;
        const std::uint64_t open = ~passages | confirms, confirmed = open ^ confirms ^ sumOf(open, confirms, carry);
        isConfirmed = carry;
        return {passages, passages & ~confirmed};
    }

private:
    /// Of two words and what was carried into it; what is carried out of it.
    static std::uint64_t sumOf(std::uint64_t a, std::uint64_t b, bool &carry)
    {
        std::uint64_t sum;
        bool over = __builtin_add_overflow(a, b, &sum);
        over |= __builtin_add_overflow(sum, std::uint64_t(carry), &sum);
        carry = over;
        return sum;
    }
};

} // namespace fulvex
