#pragma once

#include <QTest>
#include <functional>

namespace fulvex::test {

/// Waits until a condition holds, at most ten seconds; processes events meanwhile.
inline bool waitFor(const std::function<bool()> &condition, int milliseconds = 10000)
{
    return QTest::qWaitFor(condition, milliseconds);
}

} // namespace fulvex::test
