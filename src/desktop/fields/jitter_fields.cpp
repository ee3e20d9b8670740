#include "jitter_fields.h"

#include "axis_painter.h"

namespace fulvex {

namespace {

struct Settings {
    std::optional<bool> *data;
    NumberOrName *pattern;
};

std::optional<Settings> settingsOf(Document &document, const std::string &id)
{
    if (BudgetEntry *budget = findEntry(document.budgets, id)) return Settings{&budget->data, &budget->pattern};
    if (MeasurementEntry *row = findEntry(document.measurements, id)) return Settings{&row->data, &row->pattern};
    return {};
}

/// To look at only.
std::optional<Settings> settingsOf(const Document &document, const std::string &id)
{
    return settingsOf(const_cast<Document &>(document), id);
}

} // namespace

void addJitterFields(InspectorForm &form, const std::string &id)
{
    form.choiceField(
        QObject::tr("transitions"), "jitterData",
        {{QObject::tr("as they look"), ""}, {QObject::tr("of data"), "data"}, {QObject::tr("of a clock"), "clock"}},
        [id](const Document &document) -> std::string {
            const auto settings = settingsOf(document, id);
            return !settings || !*settings->data ? "" : **settings->data ? "data" : "clock";
        },
        [id](Document &document, const std::string &word) {
            if (const auto settings = settingsOf(document, id))
                *settings->data = word.empty() ? std::nullopt : std::optional(word == "data");
        });
    form.textField(
        QObject::tr("pattern, UI"), "jitterPattern",
        [id](const Document &document) {
            const auto settings = settingsOf(document, id);
            if (!settings) return QString();
            const int *length = std::get_if<int>(settings->pattern);
            return length ? QString::number(*length) : text(std::get<std::string>(*settings->pattern));
        },
        [id](Document &document, const QString &typed) {
            const auto settings = settingsOf(document, id);
            if (!settings) return;
            bool isLength = false;
            const int length = typed.trimmed().toInt(&isLength);
            if (isLength)
                *settings->pattern = length;
            else
                *settings->pattern = typed.trimmed().isEmpty() ? std::string("auto") : typed.trimmed().toStdString();
        },
        QObject::tr("auto, none, or its length"));
}

} // namespace fulvex
