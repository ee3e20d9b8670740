#pragma once

namespace fulvex {

/// From now on what is freed is kept for what comes next, but for very large pieces: memory that the system gives anew
/// costs as much as counting a short record does. For the beginning of a program.
void keepFreedMemory();

/// Gives the system back what nobody uses at the moment.
void giveFreedMemoryBack();

} // namespace fulvex
