#pragma once

#include <QString>
#include <cstddef>

namespace fulvex {

/// "1 step", "3 steps".
inline QString countOf(std::size_t count, const QString &one, const QString &several)
{
    return QString("%1 %2").arg(count).arg(count == 1 ? one : several);
}

} // namespace fulvex
