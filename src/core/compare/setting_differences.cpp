#include "setting_differences.h"

#include "field_text.h"
#include "formula.h"
#include "number_text.h"
#include "overloaded.h"
#include "quantity_table.h"
#include "references.h"
#include "word_list.h"

#include <algorithm>
#include <cmath>
#include <string_view>
#include <tuple>

namespace fulvex {

namespace {

/// With as many digits as it was given.
std::string numberWords(double value, const Field &field, const std::string &unit)
{
    constexpr int mostDigits = 15;
    for (int digits = 3; digits < mostDigits; ++digits) {
        const std::string words = quantityText(field.shown * value, unit, {}, digits);
        const auto read = parseQuantity(words, unit);
        if (read && std::abs(*read - field.shown * value) <= 1e-12 * std::abs(field.shown * value)) return words;
    }
    return quantityText(field.shown * value, unit, {}, mostDigits);
}

std::string channelUnitOf(const Document &document, const std::string &id)
{
    const ChannelEntry *channel = findEntry(document.channels, channelOf(document, id));
    return channel && !channel->unit.empty() ? channel->unit : "V";
}

/// Whether a row's setting means anything to what it measures.
bool isTaken(const Document &document, const std::string &id, const Field &field)
{
    const MeasurementEntry *row = findEntry(document.measurements, id);
    const Quantity *quantity = row ? findQuantity(row->quantity) : nullptr;
    if (!quantity || *field.group) return true;
    const std::string_view key = field.key;
    return key == "quantity" || key == "source" || key == "to" || key == "clock" || key == "eye" ||
           quantity->takes(key);
}

/// Whether two formulas are the same but for what the channels and parameters in them are called; a name that both use
/// is the same thing in both.
bool isSameRenamed(const Field &first, const std::vector<std::string> &ids, const Field &second,
                   const std::vector<std::string> &others)
{
    if (ids.size() != others.size()) return false;
    std::string one = **std::get_if<std::string *>(&first.value), other = **std::get_if<std::string *>(&second.value);
    for (std::size_t i = 0; i < ids.size(); ++i) {
        const bool inBoth =
            std::ranges::find(others, ids[i]) != others.end() || std::ranges::find(ids, others[i]) != ids.end();
        if (inBoth && ids[i] != others[i]) return false;
        const std::string common = "name_" + std::to_string(i) + "_of_both"; // which is in neither
        one = Formula::renamed(one, ids[i], common);
        other = Formula::renamed(other, others[i], common);
    }
    return one == other;
}

/// Whether it stands in an entry's own fields as something that numbers follow from.
bool isSetting(const Field &field, EntryKind kind, Role role = Role::computes)
{
    if (field.role != role || !field.belongs) return false;
    const std::string key = field.key;
    // Which record it is is no setting.
    const bool record =
        kind == EntryKind::capture && !*field.group && (key == "file" || key == "sha256" || key == "bytes");
    return key != "id" && !record && !std::holds_alternative<EntryList>(field.value);
}

} // namespace

std::string wordsOf(const Field &field, const std::string &unit)
{
    const std::string none = *field.none ? field.none : "none";
    const auto word = [&](const std::string &text) -> std::string {
        for (const Choice &choice : field.choices)
            if (text == choice.word && *choice.words) return choice.words;
        return text.empty() ? none : text;
    };
    const auto number = [&](double value) { return numberWords(value, field, unit); };
    return std::visit(
        Overloaded{[&](const std::string *text) { return word(*text); },
                   [&](const Word &text) { return word(text.get()); },
                   [&](const double *value) { return number(*value); },
                   [&](const std::optional<double> *value) { return *value ? number(**value) : none; },
                   [&](const int *value) { return number(*value); },
                   [&](const std::optional<int> *value) { return *value ? number(**value) : none; },
                   [&](const std::optional<std::int64_t> *value) { return *value ? std::to_string(**value) : none; },
                   [&](const bool *value) -> std::string { return *value ? "yes" : "no"; },
                   [&](const std::optional<bool> *value) { return *value ? **value ? "yes" : "no" : none; },
                   [&](const NumberOrName *value) {
                       const auto *name = std::get_if<std::string>(value);
                       return name ? word(*name) : std::to_string(std::get<int>(*value));
                   },
                   [&](const std::optional<std::optional<NumberOrName>> *value) {
                       if (!*value) return none;
                       if (!**value) return std::string("none");
                       const auto *name = std::get_if<std::string>(&***value);
                       return name ? *name : std::to_string(std::get<int>(***value));
                   },
                   [&](const std::vector<std::string> *texts) { return texts->empty() ? none : listed(*texts); },
                   [&](const std::vector<double> *values) { return values->empty() ? none : listed(*values, number); },
                   [&](const Ranges *ranges) {
                       return ranges->empty() ? none : listed(*ranges, [&](const auto &one) {
                           return one.first + " " + number(one.second.first) + " to " + number(one.second.second);
                       });
                   },
                   [&](const Reasons *reasons) {
                       return reasons->empty() ? none : listed(*reasons, [](const auto &one) { return one.first; });
                   },
                   [&](const std::vector<MaskArea> *areas) { return std::to_string(areas->size()) + " areas"; },
                   [&](const EntryList &) { return std::string(); }},
        field.value);
}

std::vector<std::pair<std::string, std::string>> pairsBehind(const Field &first, const Field &second)
{
    const std::vector<std::string> ids = idsIn(first), others = idsIn(second);
    std::vector<std::pair<std::string, std::string>> pairs;
    if (!first.formula) {
        for (std::size_t i = 0; ids.size() == others.size() && i < ids.size(); ++i)
            pairs.emplace_back(ids[i], others[i]);
        return pairs;
    }
    std::vector<std::string> left, leftOther;
    for (const std::string &id : ids)
        if (std::ranges::find(others, id) != others.end())
            pairs.emplace_back(id, id);
        else
            left.push_back(id);
    std::ranges::copy_if(others, std::back_inserter(leftOther),
                         [&](const std::string &id) { return std::ranges::find(ids, id) == ids.end(); });
    for (std::size_t i = 0; left.size() == leftOther.size() && i < left.size(); ++i)
        pairs.emplace_back(left[i], leftOther[i]);
    return pairs;
}

SettingDifferences::Side::Side(const Document &from) : document(withDefaultLevels(from)), entries(document) {}

SettingDifferences::SettingDifferences(const Document &first, const Document &second) : m_first(first), m_second(second)
{
}

std::string SettingDifferences::unitOf(const Side &side, const std::string &id, const Field &field) const
{
    const std::string unit = field.unit;
    if (const ParameterEntry *parameter = findEntry(side.document.parameters, id)) return parameter->unit;
    if (unit == levelsUnit) {
        const MeasurementEntry *row = findEntry(side.document.measurements, id);
        const LevelsEntry levels = side.document.levelsOf(row ? row->levels : id);
        if (levels.kind == "percent") return "%";
    } else if (unit == rowUnit) {
        const MeasurementEntry *row = findEntry(side.document.measurements, id);
        const Quantity *quantity = row ? findQuantity(row->quantity) : nullptr;
        if (quantity && quantity->unit) return quantity->unit;
        if (quantity && *quantity->per) return channelUnitOf(side.document, id) + quantity->per;
    } else if (unit != channelUnit) {
        return unit;
    }
    return channelUnitOf(side.document, id);
}

std::string wholeKeyOf(const Field &field)
{
    return (*field.group ? std::string(field.group) + "." : std::string()) + field.key;
}

std::size_t SettingDifferences::note(const Pair &pair, EntryKind kind, const Field &field, std::string first,
                                     std::string second)
{
    const std::string key = wholeKeyOf(field), &of = pair.first;
    const auto known = std::ranges::find_if(m_found, [&](const SettingDifference &one) {
        return one.kind == kind && one.of == of && one.key == key && one.first == first && one.second == second;
    });
    if (known != m_found.end()) {
        if (std::ranges::find(known->entries, pair) == known->entries.end()) known->entries.push_back(pair);
        return std::size_t(known - m_found.begin());
    }
    std::string setting = *field.words ? field.words : field.key;
    std::ranges::replace(setting, '_', ' ');
    m_found.push_back({kind, of, key, std::move(setting), std::move(first), std::move(second), false, {}, {pair}});
    return m_found.size() - 1;
}

std::vector<std::size_t> SettingDifferences::differencesOf(const Pair &pair, std::vector<Pair> &seen)
{
    if (std::ranges::find(seen, pair) != seen.end()) return {};
    seen.push_back(pair);
    const EntryKind kind = m_first.entries.kindOf(pair.first);
    if (kind != m_second.entries.kindOf(pair.second)) return {};
    const std::vector<Field> first = m_first.entries.fieldsOf(pair.first),
                             second = m_second.entries.fieldsOf(pair.second);
    std::vector<std::size_t> found;
    for (std::size_t at = 0; at < std::min(first.size(), second.size()); ++at) { // of one kind they are the same
        const Field &field = first[at], *other = &second[at];
        if (std::string_view(other->key) != field.key || std::string_view(other->group) != field.group) continue;
        const bool here = isSetting(field, kind) && isTaken(m_first.document, pair.first, field),
                   there = isSetting(*other, kind) && isTaken(m_second.document, pair.second, *other);
        if (!here && !there) continue;
        const std::vector<std::string> ids = here ? idsIn(field) : std::vector<std::string>(),
                                       others = there ? idsIn(*other) : std::vector<std::string>();
        const bool alike = here == there && exactText(field.value) == exactText(other->value);
        const std::vector<Pair> behind = here && there ? pairsBehind(field, *other) : std::vector<Pair>();
        // What refers to as many is compared by what that is; of formulas the words count, but not the names.
        const bool refers = !ids.empty() && ids.size() == others.size() && behind.size() == ids.size() &&
                            (!field.formula || isSameRenamed(field, ids, *other, others));
        if (!alike && !refers) {
            found.push_back(note(pair, kind, field, wordsIn(m_first, pair.first, field, here),
                                 wordsIn(m_second, pair.second, *other, there)));
        }
        for (const Pair &one : behind)
            for (const std::size_t difference : differencesOf(one, seen)) found.push_back(difference);
    }
    return found;
}

bool SettingDifferences::add(const std::string &first, const std::string &second, const std::string &row)
{
    std::vector<Pair> seen;
    std::vector<std::size_t> differences = differencesOf({first, second}, seen);
    // What is kept out of a row refers to it, not the other way round.
    std::vector<std::pair<double, double>> out[2];
    for (const auto &[side, id, spans] :
         {std::tuple(&m_first, &first, &out[0]), std::tuple(&m_second, &second, &out[1])}) {
        for (const KeptOutEntry &entry : side->document.keptOut)
            if (std::ranges::find(entry.of, *id) != entry.of.end()) spans->emplace_back(entry.start, entry.stop);
        std::ranges::sort(*spans);
    }
    if (out[0] != out[1]) {
        const auto words = [](std::size_t count) {
            return count == 0 ? std::string("none") : std::to_string(count) + (count == 1 ? " span" : " spans");
        };
        differences.push_back(note({first, second}, EntryKind::measurement, {.key = keptOutKey, .value = Word{}},
                                   words(out[0].size()), words(out[1].size())));
    }
    give(differences, row);
    give(limitsOf({first, second}), row);
    return !differences.empty();
}

void SettingDifferences::give(const std::vector<std::size_t> &differences, const std::string &row)
{
    for (const std::size_t one : differences) {
        std::vector<std::string> &rows = m_found[one].rows;
        if (std::ranges::find(rows, row) == rows.end()) rows.push_back(row);
    }
}

std::string SettingDifferences::wordsIn(const Side &side, const std::string &id, const Field &field, bool belongs) const
{
    return belongs ? wordsOf(field, unitOf(side, id, field)) : "does not apply";
}

std::vector<std::size_t> SettingDifferences::limitsOf(const Pair &pair)
{
    const EntryKind kind = m_first.entries.kindOf(pair.first);
    if (kind != m_second.entries.kindOf(pair.second)) return {};
    const std::vector<Field> first = m_first.entries.fieldsOf(pair.first),
                             second = m_second.entries.fieldsOf(pair.second);
    std::vector<std::size_t> found;
    for (std::size_t at = 0; at < std::min(first.size(), second.size()); ++at) {
        if (!isSetting(first[at], kind, Role::judges) || !isSetting(second[at], kind, Role::judges)) continue;
        if (exactText(first[at].value) == exactText(second[at].value)) continue;
        found.push_back(note(pair, kind, first[at], wordsIn(m_first, pair.first, first[at], true),
                             wordsIn(m_second, pair.second, second[at], true)));
        m_found[found.back()].judges = true;
    }
    return found;
}

} // namespace fulvex
