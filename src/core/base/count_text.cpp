#include "count_text.h"

#include "number_text.h"

namespace fulvex {

std::string countText(double count)
{
    std::string digits = fixedText(count, 0);
    const std::size_t first = digits.find_first_of("0123456789");
    for (std::size_t at = digits.size(); at > first + 3;) digits.insert(at -= 3, "\u2009");
    return digits;
}

} // namespace fulvex
