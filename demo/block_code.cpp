#include "block_code.h"

#include <bitset>
#include <random>

namespace fulvex::demo {

namespace {

/// abcdei of D0 to D31, and fghj of x.0 to x.7, at a running disparity of -1: first bit highest.
constexpr unsigned sixes[32] = {0b100111, 0b011101, 0b101101, 0b110001, 0b110101, 0b101001, 0b011001, 0b111000,
                                0b111001, 0b100101, 0b010101, 0b110100, 0b001101, 0b101100, 0b011100, 0b010111,
                                0b011011, 0b100011, 0b010011, 0b110010, 0b001011, 0b101010, 0b011010, 0b111010,
                                0b110011, 0b100110, 0b010110, 0b110110, 0b001110, 0b101110, 0b011110, 0b101011};
constexpr unsigned fours[8] = {0b1011, 0b1001, 0b0101, 0b1100, 0b1101, 0b1010, 0b0110, 0b1110};

/// One part of a code group at the present disparity, which it may turn.
void send(std::vector<bool> &bits, unsigned code, unsigned width, bool turns, bool &positive)
{
    const unsigned ones = unsigned(std::bitset<6>(code).count());
    const bool unbalanced = 2 * ones != width;
    if (positive && (unbalanced || turns)) code ^= (1u << width) - 1;
    for (unsigned bit = width; bit-- > 0;) bits.push_back(code >> bit & 1);
    positive ^= unbalanced;
}

} // namespace

std::vector<bool> randomCodeGroups(std::uint64_t seed, std::size_t groups)
{
    std::mt19937_64 random(seed);
    std::vector<bool> bits;
    bool positive = false;
    for (std::size_t group = 0; group < groups; ++group) {
        const unsigned byte = unsigned(random() & 255), x = byte & 31, y = byte >> 5;
        send(bits, sixes[x], 6, x == 7, positive);
        // D.7 takes its other form where five alike would follow each other.
        const bool other = positive ? x == 11 || x == 13 || x == 14 : x == 17 || x == 18 || x == 20;
        send(bits, y == 7 && other ? 0b0111u : fours[y], 4, y == 3, positive);
    }
    return bits;
}

} // namespace fulvex::demo
