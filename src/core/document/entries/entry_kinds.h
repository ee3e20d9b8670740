#pragma once

#include "field.h"

namespace fulvex {

/// What entries of a kind are called in files of ours and by terms ("clock", "phase_noise"); empty for one that nothing
/// names so.
std::string kindWord(EntryKind kind);
EntryKind kindCalled(const std::string &word); ///< none where no kind is

} // namespace fulvex
