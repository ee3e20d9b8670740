#pragma once

#include <sys/resource.h>

namespace fulvex::bench {

/// Of this process so far, MB; mapped files count as far as they are resident.
inline double peakMemory()
{
    rusage usage;
    getrusage(RUSAGE_SELF, &usage);
    return double(usage.ru_maxrss) / 1e3;
}

} // namespace fulvex::bench
