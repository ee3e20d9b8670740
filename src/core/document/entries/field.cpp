#include "field.h"

#include <algorithm>
#include <cctype>

namespace fulvex {

bool isId(const std::string &text)
{
    const auto inner = [](unsigned char c) { return std::islower(c) || std::isdigit(c) || c == '_'; };
    return !text.empty() && std::islower(static_cast<unsigned char>(text[0])) &&
           std::all_of(text.begin(), text.end(), inner);
}

std::vector<Field> EntryList::fields(std::size_t i) const
{
    return m_access->fields(i);
}

std::vector<Field> EntryList::standard() const
{
    return m_access->standard();
}

bool EntryList::holdsLists() const
{
    const std::vector<Field> fields = standard();
    return std::any_of(fields.begin(), fields.end(),
                       [](const Field &field) { return std::holds_alternative<EntryList>(field.value); });
}

Field timeField(const char *key, const char *words, FieldValue value)
{
    return {.key = key,
            .words = words,
            .unit = "s",
            .least = -farthestMoment,
            .most = farthestMoment,
            .wrong = "is no moment",
            .mend = "give s, up to 1e12 before or after 0",
            .value = std::move(value)};
}

Field momentField(const char *key, const char *words, FieldValue value)
{
    Field field = timeField(key, words, std::move(value));
    field.moment = true;
    return field;
}

Field idField(std::string &id)
{
    return {.key = "id", .words = "name", .role = Role::names, .always = true, .value = &id};
}

} // namespace fulvex
