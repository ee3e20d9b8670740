#include "document.h"
#include "error.h"
#include "field_text.h"
#include "fields_check.h"
#include "formula_check.h"
#include "number_text.h"
#include "word_list.h"

#include <algorithm>
#include <cctype>
#include <cmath>
#include <unordered_map>

namespace fulvex {

namespace {

/// `where()`: the path, which is put together where there is something to say.
template <typename Where>
void needsShort(std::size_t bytes, std::size_t most, const Where &where)
{
    if (bytes > most)
        throw Error(where(), "has " + std::to_string(bytes) + " bytes",
                    "at most " + std::to_string(most) + " are read here: shorten it");
}

template <typename Where>
void needsAtMost(std::size_t count, std::size_t most, const Where &where)
{
    if (count > most)
        throw Error(where(),
                    "holds " + std::to_string(count) + ", more than the " + std::to_string(most) + " that are read",
                    "split the project");
}

/// All ids of a document, by what they belong to: found at once however many there are.
class Ids {
public:
    explicit Ids(const Document &document)
    {
        forEachEntry(document, [this](const EntryList &list, std::size_t i, const std::string &where) {
            add(list.kind(), list.id(i), where);
        });
        if (!m_ids.contains("default")) m_known[EntryKind::levels].insert(0, "\"default\", ");
        for (const Field &field : fieldsOf(document)) {
            if (const auto *list = std::get_if<EntryList>(&field.value))
                m_words[list->kind()] = {list->word(), field.key};
        }
    }
    bool has(EntryKind kind, const std::string &id) const
    {
        const auto found = m_ids.find(id);
        return (found != m_ids.end() && found->second.kind == kind) || (kind == EntryKind::levels && id == "default");
    }
    /// "no clock has the id …; use "a" or "b"".
    template <typename Where>
    void needs(EntryKind kind, const std::string &id, const Where &where) const
    {
        if (has(kind, id)) return;
        const auto &[word, list] = m_words.at(kind);
        const auto found = m_known.find(kind);
        std::string known = found == m_known.end() ? std::string() : found->second;
        if (known.ends_with(", ")) known.resize(known.size() - 2);
        const std::string add = "add it to \"" + list + "\"";
        if (id.empty()) throw Error(where(), "names no " + word, known.empty() ? add : "use " + known);
        throw Error(where(), "no " + word + " has the id \"" + id + "\"",
                    known.empty() ? add : "use " + known + ", or " + add);
    }

private:
    void add(EntryKind kind, const std::string &id, const std::string &where)
    {
        if (!isId(id))
            throw Error(where + ".id", "\"" + id.substr(0, 100) + "\" is no id",
                        "use small letters, digits and _, starting with a letter");
        const auto [other, fresh] = m_ids.emplace(id, Place{kind, where});
        if (!fresh)
            throw Error(where + ".id", "\"" + id + "\" is taken by " + other->second.where,
                        "give each entry an id of its own");
        constexpr int shown = 20;
        if (const int count = ++m_counts[kind]; count <= shown)
            m_known[kind] += "\"" + id + "\", ";
        else if (count == shown + 1)
            m_known[kind] += "…";
    }
    struct Place {
        EntryKind kind;
        std::string where;
    };
    std::unordered_map<std::string, Place> m_ids;
    std::unordered_map<EntryKind, std::string> m_known;
    std::unordered_map<EntryKind, int> m_counts;
    std::unordered_map<EntryKind, std::pair<std::string, std::string>> m_words; ///< one of them, the list
};

/// One field's value against what its description allows.
class FieldCheck {
public:
    FieldCheck(const Field &field, const std::string &entry, const Ids &ids)
        : m_field(field), m_where{field, entry}, m_ids(ids)
    {
    }
    void operator()(const std::string *value) const { text(*value); }
    void operator()(const Word &word) const { text(word.get()); }
    void operator()(const double *value) const { number(*value); }
    void operator()(const int *value) const { number(*value); }
    void operator()(const bool *) const {}
    template <typename T>
    void operator()(const std::optional<T> *value) const
    {
        if (*value) operator()(&**value);
    }
    void operator()(const std::int64_t *value) const { number(double(*value)); }
    void operator()(const NumberOrName *value) const
    {
        if (const int *index = std::get_if<int>(value)) number(*index);
        if (const auto *name = std::get_if<std::string>(value)) needsShort(name->size(), 4096, m_where);
    }
    void operator()(const std::vector<std::string> *value) const
    {
        needsAtMost(value->size(), m_field.letters, m_where);
        for (const std::string &one : *value) choice(one);
        if (m_field.refers == EntryKind::none || m_field.refers == EntryKind::any) return; // tiles do without
        for (const std::string &id : *value) m_ids.needs(m_field.refers, id, m_where);
    }
    void operator()(const std::vector<double> *value) const
    {
        needsAtMost(value->size(), m_field.letters, m_where);
        for (const double one : *value) number(one);
    }
    void operator()(const Ranges *value) const
    {
        needsAtMost(value->size(), m_field.letters, m_where);
        for (const auto &[id, range] : *value) {
            if (!(range.first < range.second)) throw Error(m_where() + "." + id, "does not rise", "give [low, high]");
        }
    }
    void operator()(const Reasons *value) const
    {
        needsAtMost(value->size(), m_field.letters, m_where);
        for (const auto &[of, why] : *value) {
            constexpr std::size_t mostLetters = 4096;
            needsShort(std::max(of.size(), why.size()), mostLetters, m_where);
            if (why.empty()) throw Error(m_where() + "." + of, m_field.wrong, m_field.mend);
        }
    }
    void operator()(const std::vector<MaskArea> *) const {} // looked at with what they are measured in
    void operator()(const EntryList &) const {}

private:
    void text(const std::string &value) const
    {
        needsShort(value.size(), m_field.letters, m_where);
        if (m_field.refers != EntryKind::none) {
            if (!value.empty() || m_field.needed) m_ids.needs(m_field.refers, value, m_where);
            return;
        }
        if (value.empty() && m_field.needed) throw Error(m_where(), m_field.wrong, m_field.mend);
        if (!value.empty()) choice(value);
    }
    void choice(const std::string &value) const
    {
        const auto &choices = m_field.choices;
        const auto isIt = [&](const Choice &choice) { return value == choice.word; };
        if (choices.empty() || std::any_of(choices.begin(), choices.end(), isIt)) return;
        throw Error(m_where(), "\"" + value.substr(0, 100) + "\" is not known",
                    "use " + listed(choices, &Choice::word));
    }
    void number(double value) const
    {
        const double least = m_field.least, most = m_field.most;
        if ((m_field.above ? value > least : value >= least) && value <= most) return;
        if (*m_field.wrong) throw Error(m_where(), m_field.wrong, m_field.mend);
        if (std::isinf(most))
            throw Error(m_where(), m_field.above ? "must be greater than 0" : "must not be below " + shown(least),
                        *m_field.mend ? m_field.mend : std::string("give it in ") + m_field.unit);
        throw Error(m_where(), "is not within " + shown(least) + " … " + shown(most), m_field.mend);
    }
    static std::string shown(double value)
    {
        constexpr int finest = 6; // decimals
        return withoutIdleZeros(fixedText(value, finest));
    }
    struct Where {
        const Field &field;
        const std::string &entry;
        std::string operator()() const
        {
            const std::string group = *field.group ? std::string(field.group) + "." : std::string();
            return (entry.empty() ? entry : entry + ".") + group + field.key;
        }
    };
    const Field &m_field;
    Where m_where;
    const Ids &m_ids;
};

/// Lists that are longer than anybody would make them, before anything else is looked at in them.
void checkSizes(const std::vector<Field> &fields, const std::string &path)
{
    for (const Field &field : fields) {
        const auto *list = std::get_if<EntryList>(&field.value);
        if (!list) continue;
        needsAtMost(list->size(), list->most(), [&] { return path + field.key; });
        const bool nested = list->holdsLists();
        for (std::size_t i = 0; i < list->size(); ++i) {
            const auto where = [&] { return path + field.key + "[" + std::to_string(i) + "]"; };
            needsShort(list->id(i).size(), 200, [&] { return where() + ".id"; });
            if (nested) checkSizes(list->fields(i), where() + ".");
        }
    }
}

void checkValues(const std::vector<Field> &fields, const std::string &where, const Ids &ids)
{
    for (const Field &field : fields) {
        if (field.belongs) std::visit(FieldCheck(field, where, ids), field.value);
        const auto *list = std::get_if<EntryList>(&field.value);
        for (std::size_t i = 0; list && i < list->size(); ++i)
            checkValues(list->fields(i),
                        (where.empty() ? where : where + ".") + field.key + "[" + std::to_string(i) + "]", ids);
    }
}

} // namespace

void checkFields(const std::vector<Field> &fields)
{
    checkSizes(fields, "");
    checkValues(fields, "", Ids(Document()));
}

void validate(const Document &document)
{
    const std::vector<Field> own = fieldsOf(document);
    checkSizes(own, "");
    const Ids ids(document);
    const auto check = [&](const Field &field, const std::string &where) {
        if (field.belongs) std::visit(FieldCheck(field, where, ids), field.value);
    };
    for (const Field &field : own) check(field, "");
    forEachEntry(document, [&](const EntryList &list, std::size_t i, const std::string &where) {
        for (const Field &field : list.fields(i)) check(field, where);
        list.check(i, where);
    });
    checkFormulas(document);
}

} // namespace fulvex
