#pragma once

#include <QLabel>

namespace fulvex {

/// Words beside what matters, in the quiet tone.
inline QLabel *quietLabel(const QString &words)
{
    auto *label = new QLabel(words);
    label->setObjectName("quiet");
    return label;
}

} // namespace fulvex
