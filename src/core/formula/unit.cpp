#include "unit.h"

#include <algorithm>
#include <array>
#include <charconv>
#include <cmath>
#include <utility>

namespace fulvex {

namespace {

struct Named {
    const char *name;
    std::array<std::pair<const char *, int>, 3> of; ///< words and powers
};

constexpr Named named[] = {{"W", {{{"V", 1}, {"A", 1}}}},
                           {"Ω", {{{"V", 1}, {"A", -1}}}},
                           {"S", {{{"A", 1}, {"V", -1}}}},
                           {"Hz", {{{"s", -1}}}},
                           {"C", {{{"A", 1}, {"s", 1}}}}};

/// Takes a power off the end of a word ("²", "³", "^2.5"); in halves.
int takePower(std::string &word)
{
    constexpr std::pair<std::string_view, int> marks[] = {{"²", 4}, {"³", 6}};
    for (const auto &[mark, halves] : marks) {
        if (word.size() <= mark.size() || !std::string_view(word).ends_with(mark)) continue;
        word.resize(word.size() - mark.size());
        return halves;
    }
    const std::size_t sign = word.find('^');
    double power = 0;
    if (sign == 0 || sign == word.npos) return 2;
    const auto [end, failure] = std::from_chars(word.data() + sign + 1, word.data() + word.size(), power);
    if (failure != std::errc() || end != word.data() + word.size() || !(std::abs(power) < 100)) return 2;
    word.resize(sign);
    return int(std::lround(2 * power));
}

std::string powerText(const std::string &word, int halves)
{
    if (halves == 2) return word;
    if (halves == 4) return word + "²";
    if (halves == 6) return word + "³";
    return word + "^" + std::to_string(halves / 2) + (halves % 2 ? ".5" : "");
}

} // namespace

Unit::Unit(std::string_view text)
{
    int side = 1; // behind a "/": -1
    while (!text.empty()) {
        const std::size_t end = std::min({text.find('/'), text.find("·"), text.size()});
        std::string word(text.substr(0, end));
        const int power = side * takePower(word);
        const auto known =
            std::find_if(std::begin(named), std::end(named), [&](const Named &n) { return word == n.name; });
        if (known == std::end(named)) {
            if (!word.empty() && word != "1") add(word, power);
        } else {
            for (const auto &[part, of] : known->of)
                if (part) add(part, of * power);
        }
        if (end == text.size()) return;
        const bool divided = text[end] == '/';
        if (divided) side = -1;
        text.remove_prefix(end + (divided ? 1 : std::string_view("·").size()));
    }
}

void Unit::add(const std::string &word, int halves)
{
    if ((m_halves[word] += halves) == 0) m_halves.erase(word);
}

Unit Unit::times(const Unit &other) const
{
    Unit product = *this;
    for (const auto &[word, halves] : other.m_halves) product.add(word, halves);
    return product;
}

Unit Unit::over(const Unit &other) const
{
    return times(other.toThe(-1));
}

Unit Unit::toThe(double power) const
{
    Unit result;
    for (const auto &[word, halves] : m_halves) result.add(word, int(std::lround(halves * power)));
    return result;
}

std::string Unit::text() const
{
    for (const Named &one : named)
        if (*this == Unit(one.name)) return one.name;
    std::string above, below;
    for (const auto &[word, halves] : m_halves) {
        std::string &side = halves > 0 ? above : below;
        side += (side.empty() ? "" : "·") + powerText(word, std::abs(halves));
    }
    if (below.empty()) return above;
    return (above.empty() ? "1" : above) + "/" + below; // what stands behind "/" is all below it
}

} // namespace fulvex
