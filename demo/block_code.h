#pragma once

#include <cstdint>
#include <vector>

namespace fulvex::demo {

/// Bits of random data bytes in the 8B/10B transmission code, in the order they are sent: no run longer than five, and
/// as many ones as zeroes over any code group or two. Source: IEEE Std 802.3, clause 36.2.4, tables 36-1.
std::vector<bool> randomCodeGroups(std::uint64_t seed, std::size_t groups);

} // namespace fulvex::demo
