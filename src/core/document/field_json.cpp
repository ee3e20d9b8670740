#include "field_json.h"

#include "error.h"
#include "field_text.h"
#include "json_text.h"
#include "word_list.h"

#include <algorithm>
#include <nlohmann/json.hpp>

namespace fulvex {

using Json = nlohmann::ordered_json;

namespace {

/// One member of an object into one field, by the field's type.
class MemberReader {
public:
    MemberReader(JsonReader &in, const Field &field) : m_in(in), m_field(field) {}

    void operator()(std::string *value) const { m_in.read(m_field.key, *value); }
    void operator()(double *value) const { m_in.read(m_field.key, *value); }
    void operator()(int *value) const { m_in.read(m_field.key, *value); }
    void operator()(bool *value) const { m_in.read(m_field.key, *value); }
    void operator()(std::optional<double> *value) const { m_in.read(m_field.key, *value); }
    void operator()(std::optional<int> *value) const { m_in.read(m_field.key, *value); }
    void operator()(std::optional<bool> *value) const { m_in.read(m_field.key, *value); }
    void operator()(std::optional<std::int64_t> *value) const
    {
        std::optional<double> number;
        m_in.read(m_field.key, number);
        if (!number) return;
        if (!(*number >= m_field.least && *number <= std::min(m_field.most, 9e15)))
            throw Error(m_in.where(m_field.key), m_field.wrong, m_field.mend);
        *value = std::int64_t(*number);
    }
    void operator()(NumberOrName *value) const
    {
        if (!m_in.has(m_field.key)) return;
        if (m_in.raw(m_field.key).is_string()) {
            *value = m_in.raw(m_field.key).get<std::string>();
        } else {
            int number = 0;
            m_in.read(m_field.key, number);
            *value = number;
        }
    }
    void operator()(std::optional<std::optional<NumberOrName>> *value) const
    {
        if (!m_in.mentions(m_field.key)) return;
        value->emplace();
        if (!m_in.has(m_field.key)) return; // null: there is none
        (*value)->emplace();
        operator()(&***value);
    }
    void operator()(std::vector<std::string> *value) const
    {
        if (!m_in.has(m_field.key)) return;
        const Json &given = m_in.raw(m_field.key);
        if (!given.is_array() && !(m_field.single && given.is_string()))
            throw Error(where(), m_field.single ? "is neither a name nor a list of names" : "is no list",
                        m_field.single ? "write \"ch1\" or [\"ch1\", …]" : "write [\"id\", …]");
        for (const Json &name : given.is_array() ? given : Json::array({given})) {
            if (!name.is_string())
                throw Error(where(), m_field.single ? "is neither a name nor a list of names" : "holds what is no id",
                            m_field.single ? "write \"ch1\" or [\"ch1\", …]" : "write [\"id\", …]");
            value->push_back(name.get<std::string>());
        }
    }
    void operator()(std::vector<double> *value) const
    {
        if (!m_in.has(m_field.key)) return;
        if (!isNumbers(m_in.raw(m_field.key))) throw Error(where(), "is no list of numbers", "write [1, 1, …]");
        for (const Json &one : m_in.raw(m_field.key)) value->push_back(one.get<double>());
    }
    void operator()(Ranges *value) const
    {
        if (!m_in.has(m_field.key)) return;
        const Json &ranges = m_in.raw(m_field.key);
        if (!ranges.is_object()) throw Error(where(), "is no object", "write {\"channel\": [low, high]}");
        for (const auto &[id, range] : ranges.items()) {
            if (!isNumbers(range) || range.size() != 2)
                throw Error(where() + "." + id, "is no list of 2 numbers", "write [low, high]");
            (*value)[id] = {range[0].get<double>(), range[1].get<double>()};
        }
    }
    void operator()(Reasons *value) const
    {
        if (!m_in.has(m_field.key)) return;
        const Json &reasons = m_in.raw(m_field.key);
        const auto isText = [](const Json &one) { return one.is_string(); };
        if (!reasons.is_object() || !std::all_of(reasons.begin(), reasons.end(), isText))
            throw Error(where(), "is no object of texts", "write {\"name\": \"reason\"}");
        for (const auto &[of, why] : reasons.items()) (*value)[of] = why.get<std::string>();
    }
    void operator()(std::vector<MaskArea> *value) const
    {
        if (m_in.has(m_field.key)) *value = readAreas(m_in.raw(m_field.key), where());
    }
    void operator()(const Word &word) const
    {
        std::optional<std::string> text;
        m_in.read(m_field.key, text);
        if (!text) return;
        const bool known = m_field.choices.empty() || isChoice(*text);
        // What is known by another name as well is not among the words to choose from.
        if (word.set(*text) && (known || isChoice(word.get()))) return;
        throw Error(where(), *m_field.wrong ? m_field.wrong : "\"" + *text + "\" is not known",
                    m_field.choices.empty() ? m_field.mend : "use " + listed(m_field.choices, &Choice::word));
    }
    void operator()(const EntryList &list) const
    {
        m_in.each(m_field.key, [&](JsonReader &item) {
            list.add();
            const std::size_t last = list.size() - 1;
            list.id(last).clear();
            readFields(item, list.fields(last));
        });
    }

private:
    std::string where() const { return m_in.where(m_field.key); }
    bool isChoice(const std::string &word) const
    {
        return std::any_of(m_field.choices.begin(), m_field.choices.end(),
                           [&](const Choice &choice) { return word == choice.word; });
    }
    static bool isNumbers(const Json &list)
    {
        return list.is_array() &&
               std::all_of(list.begin(), list.end(), [](const Json &one) { return one.is_number(); });
    }
    JsonReader &m_in;
    const Field &m_field;
};

Json jsonOf(const NumberOrName &value)
{
    return value.index() == 0 ? Json(std::get<int>(value)) : Json(std::get<std::string>(value));
}

struct MemberWriter {
    bool single;
    Json operator()(const std::optional<std::optional<NumberOrName>> *value) const
    {
        return *value && **value ? jsonOf(***value) : Json();
    }
    template <typename T>
    Json operator()(const std::optional<T> *value) const
    {
        return *value ? Json(**value) : Json();
    }
    Json operator()(const NumberOrName *value) const { return jsonOf(*value); }
    Json operator()(const std::vector<std::string> *value) const
    {
        return single && value->size() == 1 ? Json(value->front()) : Json(*value);
    }
    Json operator()(const Ranges *value) const
    {
        Json ranges = Json::object();
        for (const auto &[id, range] : *value) ranges[id] = Json::array({range.first, range.second});
        return ranges;
    }
    Json operator()(const std::vector<MaskArea> *value) const { return areasJson(*value); }
    Json operator()(const Word &word) const { return word.get().empty() ? Json() : Json(word.get()); }
    Json operator()(const EntryList &list) const
    {
        Json items = Json::array();
        for (std::size_t i = 0; i < list.size(); ++i) items.push_back(fieldsJson(list.fields(i), list.standard()));
        return items;
    }
    template <typename T>
    Json operator()(const T *value) const
    {
        return *value;
    }
};

/// Whether two fields of one key hold values of different types, and the member is of the other's.
bool isOfAnother(const Field &field, const std::vector<Field> &fields, const Json &member)
{
    const bool shared =
        std::count_if(fields.begin(), fields.end(), [&](const Field &other) {
            return std::string_view(other.key) == field.key && std::string_view(other.group) == field.group;
        }) > 1;
    return shared && member.is_number() == std::holds_alternative<std::string *>(field.value);
}

} // namespace

void readFields(JsonReader &in, const std::vector<Field> &fields)
{
    for (std::size_t i = 0; i < fields.size(); ++i) {
        const std::string group = fields[i].group;
        if (group.empty()) {
            if (!in.has(fields[i].key) || !isOfAnother(fields[i], fields, in.raw(fields[i].key)))
                std::visit(MemberReader(in, fields[i]), fields[i].value);
            continue;
        }
        if (i > 0 && fields[i - 1].group == group) continue; // read with the first of them
        if (!in.has(group.c_str())) continue;
        JsonReader inner(in.raw(group.c_str()), in.where(group));
        for (const Field &field : fields) {
            if (field.group == group) std::visit(MemberReader(inner, field), field.value);
        }
        inner.finish();
    }
}

Json fieldsJson(const std::vector<Field> &fields, const std::vector<Field> &standard)
{
    Json json = Json::object();
    for (std::size_t i = 0; i < fields.size(); ++i) {
        const Field &field = fields[i];
        const auto *list = std::get_if<EntryList>(&field.value);
        const bool same = list ? list->size() == 0 : exactText(field.value) == exactText(standard[i].value);
        if (same && !(field.always && field.belongs)) continue;
        Json &object = *field.group ? json[field.group] : json;
        object[field.key] = std::visit(MemberWriter{field.single}, field.value);
    }
    return json;
}

std::string fieldsText(const char *kind, const std::vector<Field> &fields, const std::vector<Field> &standard)
{
    Json json = {{kind, 1}};
    json.update(fieldsJson(fields, standard));
    return jsonText(json) + "\n";
}

void readFieldsText(const std::string &text, const std::string &name, const char *kind, const std::string &what,
                    const std::vector<Field> &fields)
{
    const Json json = parseJson(text, name);
    try {
        JsonReader in(json, "");
        in.readVersion(kind, what);
        readFields(in, fields);
        in.finish();
    } catch (const Error &error) {
        throw error.within(name);
    }
}

} // namespace fulvex
