#include "field_text.h"

#include "formula.h"
#include "overloaded.h"

#include <algorithm>
#include <charconv>

namespace fulvex {

namespace {

std::string exact(const std::string &text)
{
    return std::to_string(text.size()) + ":" + text; // no text can look like another and what follows it
}
std::string exact(double value)
{
    char buffer[40];
    return std::string(buffer, std::to_chars(buffer, buffer + sizeof buffer, value, std::chars_format::hex).ptr);
}
std::string exact(std::int64_t value)
{
    return std::to_string(value);
}
std::string exact(int value)
{
    return std::to_string(value);
}
std::string exact(bool value)
{
    return value ? "true" : "false";
}
std::string exact(const NumberOrName &value)
{
    return value.index() == 0 ? "#" + exact(std::get<int>(value)) : exact(std::get<std::string>(value));
}
template <typename T>
std::string exact(const std::optional<T> &value)
{
    return value ? "+" + exact(*value) : "-";
}
std::string exact(MaskPoint point)
{
    return exact(point.x) + "/" + exact(point.y);
}
std::string exact(const MaskArea &area);
template <typename T>
std::string exact(const std::vector<T> &values)
{
    std::string text = exact(std::int64_t(values.size())) + "(";
    for (const T &value : values) text += exact(value) + ",";
    return text + ")";
}
std::string exact(const MaskArea &area)
{
    return exact(area.name) + exact(int(area.kind)) + exact(area.points);
}
std::string exact(const Ranges &ranges)
{
    std::string text = exact(std::int64_t(ranges.size())) + "(";
    for (const auto &[id, range] : ranges) text += exact(id) + exact(range.first) + ".." + exact(range.second) + ",";
    return text + ")";
}

std::string exact(const Reasons &reasons)
{
    std::string text = exact(std::int64_t(reasons.size())) + "(";
    for (const auto &[of, why] : reasons) text += exact(of) + exact(why) + ",";
    return text + ")";
}

} // namespace

std::string exactText(const FieldValue &value)
{
    return std::visit(Overloaded{[](const EntryList &) { return std::string(); },
                                 [](const Word &word) { return exact(word.get()); },
                                 [](const auto *plain) { return exact(*plain); }},
                      value);
}

void assign(const FieldValue &value, const FieldValue &from)
{
    std::visit(Overloaded{[](const EntryList &) {}, [&](const Word &word) { word.set(std::get<Word>(from).get()); },
                          [&](auto *plain) { *plain = *std::get<decltype(plain)>(from); }},
               value);
}

std::vector<std::string> idsIn(const Field &field)
{
    if (field.refers == EntryKind::none && !field.formula) return {};
    if (const auto *text = std::get_if<std::string *>(&field.value)) {
        if ((*text)->empty()) return {};
        if (!field.formula) return {**text};
        return field.locals ? Formula::namesIn(**text, *field.locals) : Formula::namesIn(**text);
    }
    if (const auto *list = std::get_if<std::vector<std::string> *>(&field.value)) return **list;
    std::vector<std::string> ids;
    if (const auto *ranges = std::get_if<Ranges *>(&field.value)) {
        for (const auto &[id, range] : **ranges) ids.push_back(id);
    }
    return ids;
}

void renameIn(const Field &field, const std::string &from, const std::string &to)
{
    const std::vector<std::string> ids = idsIn(field);
    if (std::find(ids.begin(), ids.end(), from) == ids.end()) return;
    if (const auto *text = std::get_if<std::string *>(&field.value))
        **text = field.formula ? Formula::renamed(**text, from, to) : to;
    if (const auto *list = std::get_if<std::vector<std::string> *>(&field.value))
        std::replace((*list)->begin(), (*list)->end(), from, to);
    if (const auto *ranges = std::get_if<Ranges *>(&field.value)) {
        auto node = (*ranges)->extract(from);
        node.key() = to;
        (*ranges)->insert(std::move(node));
    }
}

void clearIn(const Field &field, const Field &standard, const std::string &id)
{
    if (const auto *text = std::get_if<std::string *>(&field.value); text && **text == id)
        **text = *std::get<std::string *>(standard.value);
    if (const auto *list = std::get_if<std::vector<std::string> *>(&field.value)) std::erase(**list, id);
    if (const auto *ranges = std::get_if<Ranges *>(&field.value)) (*ranges)->erase(id);
}

} // namespace fulvex
