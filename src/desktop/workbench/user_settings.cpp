#include "user_settings.h"

#include "document_json.h"
#include "error.h"
#include "number_text.h"
#include "user_folders.h"

#include <QLocale>
#include <QSettings>
#include <cmath>

namespace fulvex {

namespace {

/// Each setting once: its key, and where it stands.
template <typename Each>
void eachSetting(UserSettings &settings, const Each &each)
{
    each("dark", settings.dark);
    each("levels/low", settings.levels.low);
    each("levels/mid", settings.levels.mid);
    each("levels/high", settings.levels.high);
    each("levels/states", settings.levels.states);
    each("loop/order", settings.loopOrder);
    each("loop/divider", settings.loopDivider);
    each("loop/damping", settings.loopDamping);
    each("report/paper", settings.report.paper);
    each("report/author", settings.report.author);
    each("report/place", settings.report.place);
    each("report/logo", settings.report.logo);
    each("cache/folder", settings.cache);
    each("cache/gigabytes", settings.cacheGigabytes);
}

template <typename Value>
void take(const QVariant &from, Value &value)
{
    if constexpr (std::is_same_v<Value, std::string>)
        value = from.toString().toStdString();
    else
        value = from.value<Value>();
}

QVariant kept(const std::string &value)
{
    return QString::fromStdString(value);
}

template <typename Value>
QVariant kept(const Value &value)
{
    return value;
}

bool makesSense(const UserSettings &settings)
{
    try {
        (void)parseDocument(documentText(newDocument(settings)), "settings");
    } catch (const Error &) {
        return false;
    }
    const auto within = [](double value, double least, double most) { return value >= least && value <= most; };
    return (settings.loopOrder == 1 || settings.loopOrder == 2) && within(settings.loopDivider, 10, 1e9) &&
           within(settings.loopDamping, 0.1, 10) && within(settings.cacheGigabytes, 0.1, 1e5) &&
           (!settings.timeExponent || within(*settings.timeExponent, -15, 0));
}

} // namespace

UserSettings userSettings()
{
    UserSettings settings;
    const QSettings file;
    eachSetting(settings, [&](const char *key, auto &value) {
        if (const QVariant found = file.value(QString("settings/") + key); found.isValid()) take(found, value);
    });
    if (const QVariant exponent = file.value("settings/time_exponent"); exponent.isValid())
        settings.timeExponent = exponent.toInt();
    return makesSense(settings) ? settings : UserSettings();
}

void keepUserSettings(const UserSettings &settings)
{
    QSettings file;
    UserSettings now = settings, shipped;
    std::vector<QVariant> before;
    eachSetting(shipped, [&](const char *, auto &value) { before.push_back(kept(value)); });
    std::size_t place = 0;
    eachSetting(now, [&](const char *key, auto &value) {
        const QString name = QString("settings/") + key;
        kept(value) == before[place++] ? file.remove(name) : file.setValue(name, kept(value));
    });
    settings.timeExponent ? file.setValue("settings/time_exponent", *settings.timeExponent)
                          : file.remove("settings/time_exponent");
}

void applyUserSettings(const UserSettings &settings)
{
    const QString mark = QLocale().decimalPoint();
    setNumberManner({mark == "," ? ',' : '.', settings.timeExponent});
    showNumbersHere();
    setCache(settings.cache.toStdString(), std::uintmax_t(settings.cacheGigabytes * 1e9));
}

Document newDocument(const UserSettings &settings)
{
    Document document;
    if (settings.levels != LevelsEntry()) document.levels.push_back(settings.levels);
    document.report = settings.report;
    return document;
}

} // namespace fulvex
