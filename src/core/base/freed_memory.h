#pragma once

namespace fulvex {

/// From now on what is freed is kept for what comes next, as far as a thirty-second of the memory: what the system
/// gives anew costs as much as counting a short record does. For the beginning of a program.
void keepFreedMemory();

/// Gives the system back what nobody uses at the moment.
void giveFreedMemoryBack();

} // namespace fulvex
