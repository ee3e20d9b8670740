#pragma once

#include <QTest>
#include <functional>

namespace fulvex::test {

/// Waits until a condition holds; processes events meanwhile. A minute is for machines with much else to do: who waits
/// for what will not come says how long.
inline bool waitFor(const std::function<bool()> &condition, int milliseconds = 60000)
{
    return QTest::qWaitFor(condition, milliseconds);
}

} // namespace fulvex::test
