#include "shaped_text.h"

#include <QCache>
#include <QCoreApplication>
#include <utility>

namespace fulvex {

namespace {

using Shaped = QCache<std::pair<QString, int>, QStaticText>;

Shaped &shapedHere()
{
    constexpr int most = 512; // some screens full of labels
    thread_local Shaped cache(most);
    return cache;
}

} // namespace

const QStaticText &shapedText(const QString &words, const QFont &font)
{
    // What is shaped holds fonts, which must not outlive the application.
    static const bool cleared = (qAddPostRoutine([] { shapedHere().clear(); }), true);
    Q_UNUSED(cleared);
    const int plain = font.styleStrategy() & QFont::PreferNoShaping ? 1 : 0;
    const std::pair<QString, int> key{words, 1024 * (2 * font.pixelSize() + plain) + font.weight()};
    Shaped &cache = shapedHere();
    if (const QStaticText *known = cache.object(key)) return *known;
    auto *fresh = new QStaticText(words);
    fresh->setTextFormat(Qt::PlainText);
    fresh->setPerformanceHint(QStaticText::AggressiveCaching);
    fresh->prepare({}, font);
    cache.insert(key, fresh);
    return *fresh;
}

} // namespace fulvex
