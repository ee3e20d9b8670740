#pragma once

#include <QCoreApplication>

namespace fulvex {

/// Words of the window in the user's language, outside of classes that have their own.
inline QString tr(const char *words)
{
    return QCoreApplication::translate("Views", words);
}

} // namespace fulvex
