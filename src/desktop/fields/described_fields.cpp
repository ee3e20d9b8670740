#include "described_fields.h"

#include "axis_painter.h"
#include "entry_kinds.h"
#include "quantity_table.h"
#include "references.h"
#include "trace_figure.h"

#include <algorithm>
#include <cmath>

namespace fulvex {

namespace {

/// A field of one entry, found anew in whatever the document is when it is asked.
struct Place {
    std::string entry, group, key;
    std::vector<std::string> others = {}; ///< that are set with it
    std::size_t type = 0;                 ///< of its value: "to" is a channel, or a frequency

    std::optional<Field> in(const Document &document) const { return of(document, entry); }
    /// Calls set(field) for the entry's and the others'.
    template <typename Set>
    void each(const Document &document, const Set &set) const
    {
        if (const auto field = of(document, entry)) set(*field);
        for (const std::string &other : others) {
            if (const auto field = of(document, other)) set(*field);
        }
    }
    std::optional<Field> of(const Document &document, const std::string &id) const
    {
        for (const Field &field : id.empty() ? fieldsOf(document) : fieldsOf(document, id)) {
            if (field.key == key && field.group == group && field.value.index() == type) return field;
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

std::optional<double> numberOf(const Field &field)
{
    std::optional<double> number;
    if (auto *plain = std::get_if<double *>(&field.value)) number = **plain;
    if (auto *optional = std::get_if<std::optional<double> *>(&field.value)) number = **optional;
    if (auto *count = std::get_if<std::optional<int> *>(&field.value); count && **count) number = ***count;
    if (number) *number *= field.shown;
    return number;
}

void setNumber(const Field &field, std::optional<double> to)
{
    if (to) *to /= field.shown;
    if (auto *plain = std::get_if<double *>(&field.value); plain && to) **plain = *to;
    if (auto *optional = std::get_if<std::optional<double> *>(&field.value)) **optional = to;
    if (auto *count = std::get_if<std::optional<int> *>(&field.value))
        **count = to ? std::optional(int(std::clamp(std::round(*to), -2e9, 2e9))) : std::nullopt;
}

/// Words that no id can be: regions that are made as they are chosen.
constexpr const char *inView = "#view", *betweenMarkers = "#markers ";

/// Markers at moments that follow on each other: their places in the document.
std::vector<std::pair<std::size_t, std::size_t>> markerPairs(const Document &document)
{
    std::vector<std::size_t> timed;
    for (std::size_t i = 0; i < document.markers.size(); ++i) {
        if (document.markers[i].time) timed.push_back(i);
    }
    std::vector<std::pair<std::size_t, std::size_t>> pairs;
    for (std::size_t i = 1; i < timed.size(); ++i) {
        if (*document.markers[timed[i - 1]].time != *document.markers[timed[i]].time)
            pairs.emplace_back(timed[i - 1], timed[i]);
    }
    return pairs;
}

void offerRegions(InspectorForm &form, const Workbench &bench, Choices &offered)
{
    offered.emplace_back(form.tr("what is in view, as a region"), inView);
    const auto pairs = markerPairs(bench.document());
    const std::vector<MarkerEntry> &markers = bench.document().markers;
    const auto letter = [&](std::size_t marker) { return markerLetter(markers, markers[marker]); };
    for (std::size_t i = 0; i < pairs.size(); ++i)
        offered.emplace_back(form.tr("between markers %1 and %2").arg(letter(pairs[i].first), letter(pairs[i].second)),
                             betweenMarkers + std::to_string(i));
}

/// The id that a choice of a region means; one that is to be made is made, or found where there is the same.
std::string regionMade(Document &document, const Workbench &bench, const std::string &word)
{
    RegionEntry region;
    if (word == inView) {
        region = {"in_view", bench.viewFrom(), bench.viewTo()};
    } else if (word.starts_with(betweenMarkers)) {
        const auto pairs = markerPairs(document);
        const auto at = std::size_t(std::stoul(word.substr(std::string(betweenMarkers).size())));
        if (at >= pairs.size()) return {};
        const double a = *document.markers[pairs[at].first].time, b = *document.markers[pairs[at].second].time;
        region = {"between_" + document.markers[pairs[at].first].id + "_" + document.markers[pairs[at].second].id,
                  std::min(a, b), std::max(a, b)};
    } else {
        return word;
    }
    for (const RegionEntry &known : document.regions) {
        if (known.start == region.start && known.stop == region.stop) return known.id;
    }
    region.id = freeId(document, region.id);
    document.regions.push_back(region);
    return region.id;
}

/// Where a choice makes a field needed that names another entry, it names the first that the entry does not name yet.
void fillNeeded(Document &document, const std::string &id)
{
    const std::vector<Field> fields = fieldsOf(document, id);
    std::vector<std::string> named{id};
    for (const Field &field : fields) {
        if (field.refers != EntryKind::none) named.push_back(wordOf(field.value));
    }
    for (const Field &field : fields) {
        if (!field.belongs || !field.needed || field.refers == EntryKind::none || !wordOf(field.value).empty())
            continue;
        std::string first;
        forEachEntry(document, [&](const EntryList &list, std::size_t i, const std::string &) {
            const bool fits = list.kind() == field.refers && first.empty();
            if (fits && std::find(named.begin(), named.end(), list.id(i)) == named.end()) first = list.id(i);
        });
        setWord(field.value, first);
    }
}

/// Adds one field, by the type of its value.
class FieldMaker {
public:
    FieldMaker(InspectorForm &form, Workbench &bench, const std::string &id, const Field &field,
               const std::vector<std::string> &others)
        : m_form(form), m_bench(bench),
          m_field(field), m_place{id, field.group, field.key, others, field.value.index()},
          m_words(form.tr(field.words))
    {
    }
    void make()
    {
        if (std::string_view(m_field.key) == "id") return name();
        if (m_field.refers != EntryKind::none || !m_field.choices.empty()) return choice(choices());
        if (std::holds_alternative<std::string *>(m_field.value)) return words();
        if (std::holds_alternative<int *>(m_field.value)) return choice(counts());
        if (std::holds_alternative<bool *>(m_field.value)) return toggle();
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
                place.each(document, [&](const Field &field) { setWord(field.value, typed.trimmed().toStdString()); });
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
            [bench = &m_bench, place = m_place](Document &document, const std::string &word) {
                const std::string meant = regionMade(document, *bench, word);
                place.each(document, [&](const Field &field) { setWord(field.value, meant); });
                fillNeeded(document, place.entry);
            });
    }
    void number()
    {
        const bool optional = std::holds_alternative<std::optional<double> *>(m_field.value) ||
                              std::holds_alternative<std::optional<int> *>(m_field.value);
        m_form.quantityField(
            m_words, m_place.objectName(), unit(), optional ? std::optional(m_form.tr(m_field.none)) : std::nullopt,
            [place = m_place](const Document &document) {
                const auto field = place.in(document);
                return field ? numberOf(*field) : std::nullopt;
            },
            [place = m_place](Document &document, std::optional<double> value) {
                place.each(document, [&](const Field &field) { setNumber(field, value); });
            });
    }
    void toggle()
    {
        m_form.toggleField(
            m_words, m_place.objectName(),
            [place = m_place](const Document &document) {
                const auto field = place.in(document);
                return field && **std::get_if<bool *>(&field->value);
            },
            [place = m_place](Document &document, bool on) {
                place.each(document, [&](const Field &field) { **std::get_if<bool *>(&field.value) = on; });
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
                place.each(document, [&](const Field &field) { setNumber(field, value); });
            });
    }
    std::function<std::string()> unit() const
    {
        if (std::string_view(m_field.unit) == channelUnit)
            return [bench = &m_bench, id = m_place.entry] { return bench->unitOf(channelOf(bench->document(), id)); };
        if (std::string_view(m_field.unit) == levelsUnit) // of the set that the row goes by
            return [bench = &m_bench, id = m_place.entry]() -> std::string {
                const MeasurementEntry *row = findEntry(bench->document().measurements, id);
                const bool percent = !row || bench->document().levelsOf(row->levels).kind == "percent";
                return percent ? "%" : bench->unitOf(channelOf(bench->document(), id));
            };
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
        if (m_field.refers == EntryKind::region) offerRegions(m_form, m_bench, offered);
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

void setWord(const FieldValue &value, const std::string &to)
{
    if (auto *plain = std::get_if<std::string *>(&value)) **plain = to;
    if (auto *word = std::get_if<Word>(&value)) word->set(to);
    if (auto *number = std::get_if<int *>(&value)) **number = std::stoi(to);
}

std::string rowsUnit(const Workbench &bench, const std::string &id)
{
    const MarkerEntry *marker = findEntry(bench.document().markers, id);
    const std::string &row = marker ? marker->row : id;
    const MeasurementEntry *entry = findEntry(bench.document().measurements, row);
    const Quantity *quantity = entry ? findQuantity(entry->quantity) : nullptr;
    if (!quantity) return {};
    return quantity->unit ? quantity->unit : bench.unitOf(channelOf(bench.document(), row)) + quantity->per;
}

void addDescribedFields(InspectorForm &form, Workbench &bench, const std::string &id,
                        const std::function<bool(const Field &)> &wanted, const std::vector<std::string> &others)
{
    form.explain(kindWord(EntryIndex(bench.document()).kindOf(id)));
    for (const Field &field : id.empty() ? fieldsOf(bench.document()) : fieldsOf(bench.document(), id)) {
        if (*field.words && field.belongs && (!wanted || wanted(field)))
            FieldMaker(form, bench, id, field, others).make();
    }
}

} // namespace fulvex
