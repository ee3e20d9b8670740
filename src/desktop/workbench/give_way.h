#pragma once

namespace fulvex {

/// From here on this thread, and those that it starts, give way to the interface's where there are more than cores.
void giveWay();

} // namespace fulvex
