#pragma once

namespace fulvex {

/// From here on this thread, and those that it starts, give way to the interface's where there are more than cores.
void giveWay();

/// Gives what was allocated and is free again back to the system; some milliseconds, for when there is nothing to do.
void giveBackMemory();

} // namespace fulvex
