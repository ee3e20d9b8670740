#pragma once

#include "sample_source.h"

#include <cstdint>
#include <string>

namespace fulvex::bench {

/// Makes the legs of a data link as FILE-p.npy and FILE-n.npy, 16-bit integers, 4 samples a unit interval, jitter of
/// 0.02 UI rms and noise, when they are not there yet; its symbols take so many levels, evenly. Ends the program where
/// the name is an option.
void makeLinkRecord(const std::string &file, std::int64_t samples, int symbols = 2);

/// p - n of such a record, mapped.
SourcePtr openLinkRecord(const std::string &file);

} // namespace fulvex::bench
