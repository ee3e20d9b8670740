#include "field_typing.h"

#include "number_text.h"
#include "overloaded.h"

#include <QString>

namespace fulvex {

static std::string numberText(double value, const std::string &unit)
{
    const SiScale scale = siScale(value, unit);
    const std::string digits = typedNumber(value * scale.factor);
    return scale.unit.empty() ? digits : digits + " " + scale.unit;
}

std::string typedText(const Field &field, const std::string &unit)
{
    return std::visit(
        Overloaded{[](std::string *value) { return *value; }, [](const Word &word) { return word.get(); },
                   [&](double *value) { return numberText(*value, unit); },
                   [&](std::optional<double> *value) { return *value ? numberText(**value, unit) : std::string(); },
                   [](int *value) { return std::to_string(*value); },
                   [](std::optional<int> *value) { return *value ? std::to_string(**value) : std::string(); },
                   [](const auto &) { return std::string(); }},
        field.value);
}

bool takeTyped(const Field &field, const std::string &unit, const std::string &typed)
{
    const auto whole = [&] {
        bool is = false;
        const int value = QString::fromStdString(typed).toInt(&is);
        return is ? std::optional(value) : std::nullopt;
    };
    return std::visit(Overloaded{[&](std::string *value) {
                                     *value = typed;
                                     return true;
                                 },
                                 [&](const Word &word) { return word.set(typed); },
                                 [&](double *value) {
                                     const auto number = parseQuantity(typed, unit);
                                     if (number) *value = *number;
                                     return number.has_value();
                                 },
                                 [&](std::optional<double> *value) {
                                     const auto number = parseQuantity(typed, unit);
                                     if (number || typed.empty()) *value = number;
                                     return number.has_value() || typed.empty();
                                 },
                                 [&](int *value) {
                                     const auto number = whole();
                                     if (number) *value = *number;
                                     return number.has_value();
                                 },
                                 [&](std::optional<int> *value) {
                                     const auto number = whole();
                                     if (number || typed.empty()) *value = number;
                                     return number.has_value() || typed.empty();
                                 },
                                 [](const auto &) { return false; }},
                      field.value);
}

} // namespace fulvex
