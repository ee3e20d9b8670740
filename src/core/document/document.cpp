#include "document.h"

#include "field_text.h"

#include <algorithm>
#include <cctype>
#include <set>

namespace fulvex {

Document::Document() = default;
Document::~Document() = default;
Document::Document(const Document &) = default;
Document::Document(Document &&) noexcept = default;
Document &Document::operator=(const Document &other)
{
    return *this = Document(other); // half as much code as assigning every list within its room
}
Document &Document::operator=(Document &&) noexcept = default;
bool Document::operator==(const Document &) const = default;

LevelsEntry Document::levelsOf(const std::string &id) const
{
    const LevelsEntry *entry = findEntry(levels, id);
    return entry ? *entry : LevelsEntry{};
}

Document withDefaultLevels(Document document)
{
    if (!findEntry(document.levels, "default")) document.levels.push_back(document.levelsOf("default"));
    return document;
}

std::vector<Field> fieldsOf(Document &d)
{
    const auto words = [](const char *key, const char *group, const char *label, std::size_t letters,
                          std::string &value) {
        return Field{
            .key = key, .group = group, .words = label, .role = Role::words, .letters = letters, .value = &value};
    };
    const auto list = [](const char *key, EntryList entries, Role role = Role::computes) {
        return Field{.key = key, .role = role, .value = std::move(entries)};
    };
    Field title = words("title", "", "title", 1000, d.title);
    title.always = true;
    std::vector<Field> fields{
        title,
        words("name", "device", "device", 1000, d.device.name),
        words("serial", "device", "serial", 1000, d.device.serial),
        words("comment", "device", "comment", 20000, d.device.comment),
        timeField("time_origin", "", &d.timeOrigin),
        list("captures", {EntryKind::capture, "capture", 5000, d.captures}),
        list("channels", {EntryKind::channel, "channel", 5000, d.channels}),
        list("parameters", {EntryKind::parameter, "parameter", 5000, d.parameters}),
        list("functions", {EntryKind::function, "function", 1000, d.functions}),
        list("programs", {EntryKind::program, "program", 1000, d.programs}),
        list("regions", {EntryKind::region, "region", 5000, d.regions}),
        list("levels", {EntryKind::levels, "levels", 1000, d.levels}),
        list("clocks", {EntryKind::clock, "clock", 1000, d.clocks}),
        list("eyes", {EntryKind::eye, "eye", 1000, d.eyes}),
        list("masks", {EntryKind::mask, "mask", 1000, d.masks}),
        list("measurements", {EntryKind::measurement, "measurement", 5000, d.measurements}),
        list("spectra", {EntryKind::spectrum, "spectrum", 1000, d.spectra}),
        list("budgets", {EntryKind::budget, "jitter budget", 1000, d.budgets}),
        list("phase_noise", {EntryKind::phaseNoise, "phase noise", 1000, d.phaseNoise}),
        list("comparisons", {EntryKind::comparison, "comparison", 100, d.comparisons}, Role::looks),
        list("plans", {EntryKind::plan, "plan", 100, d.plans}, Role::looks),
        list("attempts", {EntryKind::attempt, "attempt", 5000, d.attempts}, Role::looks),
        list("kept_out", {EntryKind::keptOut, "span kept out", 5000, d.keptOut}),
        list("notes", {EntryKind::note, "note", 5000, d.notes}, Role::looks),
        list("markers", {EntryKind::marker, "marker", 1000, d.markers}, Role::looks),
        list("sheets", {EntryKind::sheet, "sheet", 500, d.sheets}, Role::looks),
    };
    const std::vector<Field> report = fieldsOf(d.report);
    fields.insert(fields.end(), report.begin(), report.end());
    return fields;
}

std::vector<Field> fieldsOf(const Document &document)
{
    return fieldsOf(const_cast<Document &>(document));
}

static void forEachIn(const std::vector<Field> &fields, const std::string &path,
                      const std::function<void(const EntryList &, std::size_t, const std::string &)> &use)
{
    for (const Field &field : fields) {
        const auto *list = std::get_if<EntryList>(&field.value);
        if (!list) continue;
        const bool nested = list->holdsLists();
        for (std::size_t i = 0; i < list->size(); ++i) {
            const std::string where = path + field.key + "[" + std::to_string(i) + "]";
            use(*list, i, where);
            if (nested) forEachIn(list->fields(i), where + ".", use);
        }
    }
}

void forEachEntry(const Document &document,
                  const std::function<void(const EntryList &, std::size_t, const std::string &)> &use)
{
    forEachIn(fieldsOf(document), "", use);
}

std::vector<Field> fieldsOf(const Document &document, const std::string &id)
{
    std::vector<Field> fields;
    forEachEntry(document, [&](const EntryList &list, std::size_t i, const std::string &) {
        if (list.id(i) == id) fields = list.fields(i);
    });
    return fields;
}

std::vector<Field> fieldsOf(Document &document, const std::string &id)
{
    return fieldsOf(std::as_const(document), id);
}

EntryIndex::EntryIndex(const Document &document)
{
    forEachEntry(document, [this](const EntryList &list, std::size_t i, const std::string &) {
        m_places.emplace(list.id(i), std::pair(list, i));
    });
}

EntryKind EntryIndex::kindOf(const std::string &id) const
{
    const auto place = m_places.find(id);
    return place == m_places.end() ? EntryKind::none : place->second.first.kind();
}

std::vector<Field> EntryIndex::fieldsOf(const std::string &id) const
{
    const auto place = m_places.find(id);
    return place == m_places.end() ? std::vector<Field>() : place->second.first.fields(place->second.second);
}

static std::set<std::string> takenIds(const Document &document)
{
    std::set<std::string> taken;
    forEachEntry(document,
                 [&](const EntryList &list, std::size_t i, const std::string &) { taken.insert(list.id(i)); });
    return taken;
}

const MaskEntry *maskOn(const Document &document, const std::string &eye)
{
    for (const MaskEntry &mask : document.masks)
        if (!eye.empty() && mask.eye == eye) return &mask;
    const EyeEntry *entry = findEntry(document.eyes, eye);
    if (!entry || !entry->atEdges() || entry->levels != "default" || entry->triggeredBy() != entry->source)
        return nullptr;
    for (const MaskEntry &mask : document.masks)
        if (mask.eye.empty() && mask.source == entry->source &&
            (mask.edge.empty() ? "rising" : mask.edge) == entry->each)
            return &mask;
    return nullptr;
}

std::string freeId(const Document &document, const std::string &wish)
{
    std::string id;
    for (const char c : wish.substr(0, 60)) {
        const auto u = static_cast<unsigned char>(c);
        if (std::isalnum(u) && u < 128)
            id += char(std::tolower(u));
        else if (!id.empty() && id.back() != '_')
            id += '_';
    }
    while (!id.empty() && id.back() == '_') id.pop_back();
    if (id.empty() || !std::islower(static_cast<unsigned char>(id[0]))) id = "x" + id;
    const std::set<std::string> taken = takenIds(document);
    std::string free = id;
    for (int number = 2; taken.contains(free); ++number) free = id + std::to_string(number);
    return free;
}

void nameTiles(Document &document)
{
    bool all = true;
    for (const SheetEntry &sheet : document.sheets) {
        for (const TileEntry &tile : sheet.tiles) all &= !tile.id.empty();
    }
    if (all) return;
    std::set<std::string> taken = takenIds(document);
    std::size_t number = 1;
    for (SheetEntry &sheet : document.sheets) {
        for (TileEntry &tile : sheet.tiles) {
            while (tile.id.empty()) {
                const std::string free = "tile" + std::to_string(number++);
                if (taken.insert(free).second) tile.id = free;
            }
        }
    }
}

void moveTimeOrigin(Document &document, double origin)
{
    const double by = document.timeOrigin - origin; // what lies at t from the old one lies at t + by from the new
    document.timeOrigin = origin;
    forEachEntry(document, [by](const EntryList &list, std::size_t i, const std::string &) {
        for (const Field &field : list.fields(i)) {
            if (!field.moment) continue;
            if (auto *time = std::get_if<double *>(&field.value)) **time += by;
            if (auto *time = std::get_if<std::optional<double> *>(&field.value); time && **time) ***time += by;
        }
    });
}

static bool counts(const Field &field, Alike alike)
{
    return field.belongs && (field.role == Role::computes || (field.role == Role::names && alike != Alike::numbers) ||
                             (field.role == Role::judges && alike == Alike::results));
}

std::string computingText(const std::vector<Field> &fields, Alike alike)
{
    std::string text;
    for (const Field &field : fields) {
        if (!counts(field, alike)) continue;
        text += std::string(field.group) + "." + field.key + "=";
        if (const auto *list = std::get_if<EntryList>(&field.value)) {
            for (std::size_t i = 0; i < list->size(); ++i) text += "{" + computingText(list->fields(i), alike) + "}";
        } else {
            text += exactText(field.value);
        }
        text += '\x1f';
    }
    return text;
}

bool sameComputation(const Document &a, const Document &b)
{
    const std::vector<Field> first = fieldsOf(a), second = fieldsOf(b);
    for (std::size_t f = 0; f < first.size(); ++f) {
        if (!counts(first[f], Alike::results)) continue;
        const auto *list = std::get_if<EntryList>(&first[f].value), *other = std::get_if<EntryList>(&second[f].value);
        if (!list && exactText(first[f].value) != exactText(second[f].value)) return false;
        if (!list) continue;
        if (list->size() != other->size()) return false;
        for (std::size_t i = 0; i < list->size(); ++i) { // of a thousand entries a change leaves most as they were
            if (!list->equals(i, *other, i) &&
                computingText(list->fields(i), Alike::results) != computingText(other->fields(i), Alike::results))
                return false;
        }
    }
    return true;
}

} // namespace fulvex
