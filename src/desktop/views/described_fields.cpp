#include "described_fields.h"

#include "axis_painter.h"
#include "quantity_table.h"
#include "references.h"

namespace fulvex {

namespace {

/// A field of one entry, found anew in whatever the document is when it is asked.
struct Place {
    std::string entry, group, key;

    std::optional<Field> in(const Document &document) const
    {
        for (const Field &field : entry.empty() ? fieldsOf(document) : fieldsOf(document, entry)) {
            if (field.key == key && field.group == group) return field;
        }
        return {};
    }
    QString objectName() const { return text(group.empty() ? key : group + "_" + key); }
};

std::string wordOf(const FieldValue &value)
{
    if (auto *plain = std::get_if<std::string *>(&value)) return **plain;
    if (auto *word = std::get_if<Word>(&value)) return word->get();
    if (auto *number = std::get_if<int *>(&value)) return std::to_string(**number);
    return {};
}

void setWord(const FieldValue &value, const std::string &to)
{
    if (auto *plain = std::get_if<std::string *>(&value)) **plain = to;
    if (auto *word = std::get_if<Word>(&value)) word->set(to);
    if (auto *number = std::get_if<int *>(&value)) **number = std::stoi(to);
}

std::optional<double> numberOf(const Field &field)
{
    std::optional<double> number;
    if (auto *plain = std::get_if<double *>(&field.value)) number = **plain;
    if (auto *optional = std::get_if<std::optional<double> *>(&field.value)) number = **optional;
    if (number) *number *= field.shown;
    return number;
}

void setNumber(const Field &field, std::optional<double> to)
{
    if (to) *to /= field.shown;
    if (auto *plain = std::get_if<double *>(&field.value); plain && to) **plain = *to;
    if (auto *optional = std::get_if<std::optional<double> *>(&field.value)) **optional = to;
}

/// The channel whose unit an entry's values have.
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
        if (field.refers == EntryKind::clock || field.refers == EntryKind::eye) return channelOf(document, **held);
    }
    return {};
}

/// Adds one field, by the type of its value.
class FieldMaker {
public:
    FieldMaker(InspectorForm &form, Workbench &bench, const std::string &id, const Field &field)
        : m_form(form), m_bench(bench), m_field(field), m_place{id, field.group, field.key},
          m_words(form.tr(field.words))
    {
    }
    void make()
    {
        if (std::string_view(m_field.key) == "id") return name();
        if (m_field.refers != EntryKind::none || !m_field.choices.empty()) return choice(choices());
        if (std::holds_alternative<std::string *>(m_field.value)) return words();
        if (std::holds_alternative<int *>(m_field.value)) return choice(counts());
        number();
        if (m_field.slideFrom > 0) slider();
    }

private:
    void name()
    {
        m_form.textField(
            m_words, m_place.objectName(), [id = text(m_place.entry)](const Document &) { return id; },
            [bench = &m_bench, id = m_place.entry](Document &document, const QString &wish) {
                const std::string fresh = renameEntry(document, id, wish.toStdString());
                QMetaObject::invokeMethod( // once the document is changed
                    bench,
                    [bench, fresh, id] {
                        if (bench->selection().id == id) bench->select({bench->selection().kind, fresh});
                    },
                    Qt::QueuedConnection);
            });
    }
    void words()
    {
        m_form.textField(
            m_words, m_place.objectName(),
            [place = m_place](const Document &document) {
                const auto field = place.in(document);
                return field ? text(wordOf(field->value)) : QString();
            },
            [place = m_place](Document &document, const QString &typed) {
                if (const auto field = place.in(document)) setWord(field->value, typed.trimmed().toStdString());
            },
            m_form.tr(m_field.none));
    }
    void choice(const Choices &offered)
    {
        m_form.choiceField(
            m_words, m_place.objectName(), offered,
            [place = m_place](const Document &document) {
                const auto field = place.in(document);
                return field ? wordOf(field->value) : std::string();
            },
            [place = m_place](Document &document, const std::string &word) {
                if (const auto field = place.in(document)) setWord(field->value, word);
            });
    }
    void number()
    {
        const bool optional = std::holds_alternative<std::optional<double> *>(m_field.value);
        m_form.quantityField(
            m_words, m_place.objectName(), unit(), optional ? std::optional(m_form.tr(m_field.none)) : std::nullopt,
            [place = m_place](const Document &document) {
                const auto field = place.in(document);
                return field ? numberOf(*field) : std::nullopt;
            },
            [place = m_place](Document &document, std::optional<double> value) {
                if (const auto field = place.in(document)) setNumber(*field, value);
            });
    }
    void slider()
    {
        m_form.decadeSlider(
            m_place.objectName() + "Slider", m_place.entry, m_field.slideFrom, m_field.slideTo,
            [place = m_place](const Document &document) {
                const auto field = place.in(document);
                return field ? numberOf(*field).value_or(0) : 0;
            },
            [place = m_place](Document &document, double value) {
                if (const auto field = place.in(document)) setNumber(*field, value);
            });
    }
    std::function<std::string()> unit() const
    {
        if (std::string_view(m_field.unit) == channelUnit)
            return [bench = &m_bench, id = m_place.entry] { return bench->unitOf(channelOf(bench->document(), id)); };
        if (std::string_view(m_field.unit) == rowUnit)
            return [bench = &m_bench, id = m_place.entry] { return rowsUnit(*bench, id); };
        return [unit = std::string(m_field.unit)] { return unit; };
    }
    Choices choices() const
    {
        Choices offered;
        if (*m_field.none) offered.emplace_back(m_form.tr(m_field.none), "");
        for (const Choice &one : m_field.choices) {
            if (*one.words)
                offered.emplace_back(m_form.tr(one.words), one.word);
            else if (wordOf(m_field.value) == one.word) // as a project may have it
                offered.emplace_back(one.word, one.word);
        }
        if (m_field.refers == EntryKind::levels && !findEntry(m_bench.document().levels, "default"))
            offered.emplace_back("default", "default");
        forEachEntry(m_bench.document(), [&](const EntryList &list, std::size_t i, const std::string &) {
            if (list.kind() == m_field.refers) offered.emplace_back(text(list.id(i)), list.id(i));
        });
        return offered;
    }
    Choices counts() const
    {
        Choices offered;
        const int last = int(std::min(m_field.most, m_field.least + 15)), now = *std::get<int *>(m_field.value);
        for (int count = int(m_field.least); count <= last; ++count)
            offered.emplace_back(QString::number(count), std::to_string(count));
        if (now > last) offered.emplace_back(QString::number(now), std::to_string(now)); // as a project may have it
        return offered;
    }
    InspectorForm &m_form;
    Workbench &m_bench;
    const Field &m_field;
    Place m_place;
    QString m_words;
};

} // namespace

std::string rowsUnit(const Workbench &bench, const std::string &id)
{
    const MeasurementEntry *entry = findEntry(bench.document().measurements, id);
    const Quantity *quantity = entry ? findQuantity(entry->quantity) : nullptr;
    if (!quantity) return {};
    return quantity->unit ? quantity->unit : bench.unitOf(channelOf(bench.document(), id)) + quantity->per;
}

void addDescribedFields(InspectorForm &form, Workbench &bench, const std::string &id,
                        const std::function<bool(const Field &)> &wanted)
{
    for (const Field &field : id.empty() ? fieldsOf(bench.document()) : fieldsOf(bench.document(), id)) {
        if (*field.words && field.belongs && (!wanted || wanted(field))) FieldMaker(form, bench, id, field).make();
    }
}

} // namespace fulvex
