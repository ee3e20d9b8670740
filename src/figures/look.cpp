#include "look.h"

#include "program_folders.h"

#include <QFontDatabase>
#include <algorithm>
#include <cmath>
#include <filesystem>

namespace fulvex {

/// Inter where the system or the program brings it, else the system's sans.
static QString familyOfAll()
{
    if (!QFontDatabase::hasFamily("Inter")) {
        std::error_code missing;
        for (const auto &file : std::filesystem::directory_iterator(shareFolder() / "fonts", missing))
            QFontDatabase::addApplicationFont(QString::fromStdString(file.path().string()));
    }
    return QFontDatabase::hasFamily("Inter") ? QString("Inter")
                                             : QFontDatabase::systemFont(QFontDatabase::GeneralFont).family();
}

const Look &Look::light()
{
    static const Look look{QColor("#F6F3EC"),
                           QColor("#F1EDE4"),
                           QColor("#FBF9F4"),
                           QColor("#23282D"),
                           QColor("#68635A"),
                           QColor("#D9D3C7"),
                           QColor("#B4631E"),
                           QColor("#EFE2D0"),
                           QColor("#4A6A2E"),
                           QColor("#A8452F"),
                           false};
    return look;
}

const Look &Look::onPaper()
{
    static const Look look = [] {
        Look made = light();
        made.plainLetters = true;
        return made;
    }();
    return look;
}

const Look &Look::darkLook()
{
    static const Look look{QColor("#22211E"),
                           QColor("#292825"),
                           QColor("#1D1C1A"),
                           QColor("#E9E4D9"),
                           QColor("#A59E91"),
                           QColor("#45423C"),
                           QColor("#D98A45"),
                           QColor("#3F2E1D"),
                           QColor("#9BBF78"),
                           QColor("#E0826B"),
                           true};
    return look;
}

QColor Look::trace(int index) const
{
    static const QColor onPaper[] = {QColor("#3A5F8A"), QColor("#A8452F"), QColor("#5B7B3A"), QColor("#7B4A79"),
                                     QColor("#2B7F7C"), QColor("#9A7416"), QColor("#5E6B75"), QColor("#B25A7C")};
    const QColor tone = onPaper[((index % 8) + 8) % 8];
    if (!dark) return tone;
    const auto mixed = [](int a, int b) { return (55 * a + 45 * b) / 100; }; // towards the dark theme's ink, not louder
    return QColor(mixed(tone.red(), ink.red()), mixed(tone.green(), ink.green()), mixed(tone.blue(), ink.blue()));
}

static double lightness(const QColor &colour)
{
    const auto linear = [](double part) {
        return part <= 0.03928 ? part / 12.92 : std::pow((part + 0.055) / 1.055, 2.4);
    };
    return 0.2126 * linear(colour.redF()) + 0.7152 * linear(colour.greenF()) + 0.0722 * linear(colour.blueF());
}

double contrast(const QColor &a, const QColor &b)
{
    const double first = lightness(a), second = lightness(b);
    return (std::max(first, second) + 0.05) / (std::min(first, second) + 0.05);
}

QColor Look::words(const QColor &tone) const
{
    QColor mixed = tone;
    for (int share = 0; share <= 100 && std::min(contrast(mixed, panel), contrast(mixed, accentWash)) < leastContrast;
         share += 5) {
        const auto mix = [&](int from, int to) { return from + (to - from) * share / 100; };
        mixed = QColor(mix(tone.red(), ink.red()), mix(tone.green(), ink.green()), mix(tone.blue(), ink.blue()));
    }
    return mixed;
}

QColor Look::density(double share) const
{
    // Three stops of falling lightness: tile, fulvous, ink. Mixed in linear steps of each, which keeps lightness
    // monotone.
    share = std::clamp(share, 0.0, 1.0);
    const QColor stops[3] = {tile, accent, dark ? QColor("#FFF1DE") : QColor("#2A1608")};
    const int lower = share < 0.55 ? 0 : 1;
    const double t = lower == 0 ? share / 0.55 : (share - 0.55) / 0.45;
    const auto mix = [&](int a, int b) { return int(std::lround(a + (b - a) * t)); };
    const QColor &a = stops[lower], &b = stops[lower + 1];
    return QColor(mix(a.red(), b.red()), mix(a.green(), b.green()), mix(a.blue(), b.blue()));
}

QFont Look::font(double pixels, bool bold) const
{
    static const QString family = familyOfAll();
    QFont font(family);
    font.setPixelSize(std::max(9, int(std::lround(pixels))));
    font.setWeight(bold ? QFont::DemiBold : QFont::Normal);
    font.setHintingPreference(QFont::PreferNoHinting);
    if (plainLetters) font.setStyleStrategy(QFont::PreferNoShaping);
    return font;
}

} // namespace fulvex
