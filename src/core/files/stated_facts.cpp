#include "stated_facts.h"

#include "number_text.h"
#include "plain_text.h"

#include <algorithm>
#include <cctype>
#include <cmath>

namespace fulvex {

namespace {

std::string_view trimmed(std::string_view text)
{
    while (!text.empty() && (std::isspace(static_cast<unsigned char>(text.front())) || text.front() == '"'))
        text.remove_prefix(1);
    while (!text.empty() &&
           (std::isspace(static_cast<unsigned char>(text.back())) || text.back() == '\0' || text.back() == '"'))
        text.remove_suffix(1);
    return text;
}

/// Letters alone, small: "Probe Atten." is probeatten.
std::string bareWord(std::string_view text)
{
    std::string word;
    for (const char c : text)
        if (std::isalpha(static_cast<unsigned char>(c))) word += char(std::tolower(static_cast<unsigned char>(c)));
    return word;
}

} // namespace

void addStated(std::vector<StatedFact> &stated, std::string_view what, std::string_view value)
{
    constexpr std::size_t longestWhat = 80, longestValue = 300;
    StatedFact fact{std::string(trimmed(what)), std::string(trimmed(value))};
    if (fact.what.empty() || fact.value.empty() || fact.what.size() > longestWhat || stated.size() >= StatedFact::most)
        return;
    if (fact.value.size() > longestValue) fact.value = fact.value.substr(0, longestValue) + "…";
    fact = {shownText(fact.what), shownText(fact.value)};
    if (std::find(stated.begin(), stated.end(), fact) == stated.end()) stated.push_back(std::move(fact));
}

std::optional<double> statedProbeFactor(const StatedFact &fact)
{
    const std::string word = bareWord(fact.what);
    const bool ofProbe = word.starts_with("probe") &&
                         (word == "probe" || word.find("atten") != word.npos || word.find("factor") != word.npos ||
                          word.find("ratio") != word.npos || word.find("scale") != word.npos);
    if (!ofProbe && word != "attenuation") return {};
    std::string_view digits = trimmed(fact.value);
    if (digits.ends_with(":1"))
        digits.remove_suffix(2);
    else if (digits.ends_with('x') || digits.ends_with('X'))
        digits.remove_suffix(1);
    else if (digits.starts_with('x') || digits.starts_with('X'))
        digits.remove_prefix(1);
    const auto factor = parseQuantity(trimmed(digits), "");
    return factor && *factor >= 1e-3 && *factor <= 1e6 ? factor : std::nullopt;
}

} // namespace fulvex
