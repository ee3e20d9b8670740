#include "shift_register.h"

#include "symbol_middles.h"

namespace fulvex {

Foretold foretold(std::span<const std::uint8_t> bits, const ShiftRegister &by)
{
    Foretold all;
    int since = 0; // known ones in a row
    for (std::size_t i = 0; i < bits.size(); ++i) {
        since = bits[i] == unknownSymbol ? 0 : since + 1;
        if (since <= by.order) continue;
        ++all.known;
        all.right += by.holdsAt(bits, i);
    }
    return all;
}

} // namespace fulvex
