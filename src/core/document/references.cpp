#include "references.h"

#include "field_text.h"

#include <algorithm>
#include <set>

namespace fulvex {

namespace {

/// Whether an entry cannot be without what is gone.
bool goesToo(const EntryList &list, std::size_t i, const std::set<std::string> &gone)
{
    for (const Field &field : list.fields(i)) {
        if (field.lost == Lost::fieldIsCleared) continue;
        const std::vector<std::string> ids = idsIn(field);
        const auto isGone = [&](const std::string &id) { return gone.contains(id); };
        const bool several = std::holds_alternative<std::vector<std::string> *>(field.value);
        if (std::holds_alternative<Ranges *>(field.value) || ids.empty()) continue;
        if (several ? std::all_of(ids.begin(), ids.end(), isGone) : std::any_of(ids.begin(), ids.end(), isGone))
            return true;
    }
    return false;
}

/// Erases what is gone in the lists among these fields and in those within them, and all places where it was referred
/// to. `standard`: the same fields as they are made.
void sweep(const std::vector<Field> &fields, const std::vector<Field> &standard, const std::set<std::string> &gone)
{
    for (std::size_t k = 0; k < fields.size(); ++k) {
        if (const auto *list = std::get_if<EntryList>(&fields[k].value)) {
            list->erase([&](std::size_t i) { return gone.contains(list->id(i)); });
            const std::vector<Field> made = list->standard();
            for (std::size_t i = 0; i < list->size(); ++i) sweep(list->fields(i), made, gone);
        } else if (!fields[k].formula) {
            for (const std::string &id : idsIn(fields[k]))
                if (gone.contains(id)) clearIn(fields[k], standard[k], id);
        }
    }
}

} // namespace

void removeWithDependents(Document &document, const std::string &id)
{
    std::set<std::string> gone{id};
    for (std::size_t before = 0; before != gone.size();) {
        before = gone.size();
        forEachEntry(document, [&](const EntryList &list, std::size_t i, const std::string &) {
            if (!gone.contains(list.id(i)) && goesToo(list, i, gone)) gone.insert(list.id(i));
        });
    }
    const Document made;
    sweep(fieldsOf(document), fieldsOf(made), gone);
}

std::string renameEntry(Document &document, const std::string &id, const std::string &wish)
{
    std::string *own = nullptr;
    forEachEntry(document, [&](const EntryList &list, std::size_t i, const std::string &) {
        if (list.id(i) == id) own = &list.id(i);
    });
    if (!own) return id;
    own->clear(); // its own name is free
    const std::string fresh = freeId(document, wish);
    *own = fresh;
    forEachEntry(document, [&](const EntryList &list, std::size_t i, const std::string &) {
        for (const Field &field : list.fields(i)) renameIn(field, id, fresh);
    });
    for (const Field &field : fieldsOf(document)) renameIn(field, id, fresh);
    return fresh;
}

std::vector<std::string> usersOf(const Document &document, const std::string &id)
{
    std::vector<std::string> users;
    forEachEntry(document, [&](const EntryList &list, std::size_t i, const std::string &) {
        for (const Field &field : list.fields(i)) {
            const std::vector<std::string> ids = idsIn(field);
            if (std::find(ids.begin(), ids.end(), id) == ids.end()) continue;
            users.push_back(list.id(i));
            return;
        }
    });
    return users;
}

std::string channelOf(const Document &document, const std::string &id)
{
    if (findEntry(document.channels, id)) return id;
    if (findEntry(document.levels, id)) { // those of the first that uses them
        const std::vector<std::string> users = usersOf(document, id);
        return users.empty() ? std::string() : channelOf(document, users.front());
    }
    for (const Field &field : fieldsOf(document, id)) {
        const auto *held = std::get_if<std::string *>(&field.value);
        if (!held || (*held)->empty()) continue;
        if (field.refers == EntryKind::channel) return **held;
        if (field.refers == EntryKind::clock || field.refers == EntryKind::eye ||
            field.refers == EntryKind::measurement)
            return channelOf(document, **held);
    }
    return {};
}

std::set<std::string> allBehind(const EntryIndex &entries, const std::string &id)
{
    std::set<std::string> found{id};
    std::vector<std::string> open{id};
    while (!open.empty()) {
        const std::string next = open.back();
        open.pop_back();
        for (const Field &field : entries.fieldsOf(next)) {
            if (field.role != Role::computes || !field.belongs) continue;
            for (const std::string &used : idsIn(field))
                if (found.insert(used).second) open.push_back(used);
        }
    }
    return found;
}

Document onlyBehind(Document document, std::span<const std::string> ids)
{
    std::set<std::string> wanted;
    {
        const EntryIndex entries(document);
        for (const std::string &id : ids) wanted.merge(allBehind(entries, id));
    }
    for (const Field &field : fieldsOf(document))
        if (const auto *list = std::get_if<EntryList>(&field.value))
            list->erase([&](std::size_t i) { return !wanted.contains(list->id(i)); });
    return document;
}

std::set<std::string> channelsUnderMasks(const Document &document)
{
    std::set<std::string> channels;
    for (const MaskEntry &mask : document.masks) {
        if (!mask.source.empty()) channels.insert(mask.source);
        if (const EyeEntry *eye = findEntry(document.eyes, mask.eye)) channels.insert(eye->source);
    }
    return channels;
}

std::optional<std::pair<std::string, std::string>> legsOf(const Document &document, const ChannelEntry &entry)
{
    if (entry.formula.empty()) return {};
    std::string bare;
    for (const char c : entry.formula) {
        if (c != ' ') bare += c;
    }
    const std::size_t minus = bare.find('-');
    if (minus == std::string::npos) return {};
    const ChannelEntry *first = findEntry(document.channels, bare.substr(0, minus));
    const ChannelEntry *second = findEntry(document.channels, bare.substr(minus + 1));
    if (!first || !second || !first->formula.empty() || !second->formula.empty()) return {};
    return std::pair(first->id, second->id);
}

} // namespace fulvex
