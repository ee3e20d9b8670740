#include "limit_text.h"

#include "number_text.h"

#include <initializer_list>
#include <string_view>

namespace fulvex {

namespace {

constexpr std::string_view dash = "—";

/// "450 ps": a limit as it was set, without zeros that nobody wrote.
std::string limitNumber(double value, const SiScale &scale, bool withUnit)
{
    const std::string number = withoutIdleZeros(fixedText(value * scale.factor, 6));
    return withUnit && !scale.unit.empty() ? number + " " + scale.unit : number;
}

std::string_view trimmed(std::string_view text)
{
    while (!text.empty() && text.front() == ' ') text.remove_prefix(1);
    while (!text.empty() && text.back() == ' ') text.remove_suffix(1);
    return text;
}

/// A quantity, a true minus sign as well.
std::optional<double> numberOf(std::string_view text, const std::string &unit)
{
    std::string plain(trimmed(text));
    if (plain.starts_with("−")) plain = "-" + plain.substr(std::string_view("−").size());
    return parseQuantity(plain, unit);
}

bool isBare(std::string_view text)
{
    const std::string_view number = trimmed(text);
    return !number.empty() && (number.back() == '.' || number.back() == numberManner().decimalMark ||
                               (number.back() >= '0' && number.back() <= '9'));
}

/// What stands behind the number: " ps".
std::string_view behindNumber(std::string_view text)
{
    const std::size_t last = text.find_last_of("0123456789");
    return last == std::string_view::npos ? text : text.substr(last + 1);
}

std::optional<LimitEntry> between(std::string_view from, std::string_view to, const std::string &unit)
{
    const std::string first =
        isBare(from) ? std::string(trimmed(from)) + std::string(behindNumber(to)) : std::string(from);
    LimitEntry limit{numberOf(first, unit), numberOf(to, unit)};
    if (!limit.min || !limit.max || *limit.min > *limit.max) return {};
    return limit;
}

} // namespace

std::string limitText(const LimitEntry &limit, const std::string &unit)
{
    if (!limit.isSet()) return std::string(dash);
    const SiScale scale = siScale(limit.max ? *limit.max : *limit.min, unit);
    if (limit.min && limit.max)
        return limitNumber(*limit.min, scale, false) + " … " + limitNumber(*limit.max, scale, true);
    return limit.min ? "> " + limitNumber(*limit.min, scale, true) : "< " + limitNumber(*limit.max, scale, true);
}

std::optional<LimitEntry> parseLimit(const std::string &text, const std::string &unit)
{
    std::string_view rest = trimmed(text);
    if (rest.empty() || rest == dash || rest == "-" || rest == "none") return LimitEntry{};
    for (const std::string_view sign : {"<=", "≤", "<", ">=", "≥", ">"}) {
        if (!rest.starts_with(sign)) continue;
        const auto number = numberOf(rest.substr(sign.size()), unit);
        if (!number) return {};
        return sign.front() == '>' || sign == "≥" ? LimitEntry{number, {}} : LimitEntry{{}, number};
    }
    for (const std::string_view word : {" … ", "…", "...", "..", " to "}) {
        if (const std::size_t at = rest.find(word); at != std::string_view::npos)
            return between(rest.substr(0, at), rest.substr(at + word.size()), unit);
    }
    if (const auto number = numberOf(rest, unit)) return LimitEntry{{}, number};
    return {};
}

} // namespace fulvex
