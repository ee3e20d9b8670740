#pragma once

#include "axis_painter.h"
#include "document.h"

#include <QString>
#include <optional>
#include <string>
#include <utility>
#include <vector>

namespace fulvex {

/// What an InspectorForm needs to show and change one member of one entry of the document.

using Choices = std::vector<std::pair<QString, std::string>>;

template <typename Entry>
Choices idsOf(const std::vector<Entry> &entries)
{
    Choices choices;
    for (const Entry &entry : entries) choices.emplace_back(text(entry.id), entry.id);
    return choices;
}

/// Getter and setter of a member of the entry with an id.
template <typename Entry, typename Member>
auto getMember(std::vector<Entry> Document::*list, const std::string &id, Member Entry::*member)
{
    return [=](const Document &document) {
        const Entry *entry = findEntry(document.*list, id);
        return entry ? entry->*member : Member{};
    };
}

template <typename Value, typename Entry, typename Member>
auto setMember(std::vector<Entry> Document::*list, const std::string &id, Member Entry::*member)
{
    return [=](Document &document, const Value &value) {
        if (Entry *entry = findEntry(document.*list, id)) entry->*member = value;
    };
}

template <typename Entry>
auto textOf(std::vector<Entry> Document::*list, const std::string &id, std::string Entry::*member)
{
    return [get = getMember(list, id, member)](const Document &document) { return text(get(document)); };
}

template <typename Entry>
auto setText(std::vector<Entry> Document::*list, const std::string &id, std::string Entry::*member)
{
    return [set = setMember<std::string>(list, id, member)](Document &document, const QString &words) {
        set(document, words.trimmed().toStdString());
    };
}

template <typename Entry>
auto numberOf(std::vector<Entry> Document::*list, const std::string &id, double Entry::*member)
{
    return
        [get = getMember(list, id, member)](const Document &document) { return std::optional<double>(get(document)); };
}

template <typename Entry>
auto setNumber(std::vector<Entry> Document::*list, const std::string &id, double Entry::*member)
{
    return [set = setMember<double>(list, id, member)](Document &document, std::optional<double> value) {
        if (value) set(document, *value);
    };
}

} // namespace fulvex
