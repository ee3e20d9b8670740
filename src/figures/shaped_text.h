#pragma once

#include <QFont>
#include <QStaticText>

namespace fulvex {

/// `words` shaped in a font of `Look::font`, kept by each thread for the next painting: labels are painted again and
/// again, and shaping them takes longer than all else of an axis. Valid until the next call.
const QStaticText &shapedText(const QString &words, const QFont &font);

} // namespace fulvex
