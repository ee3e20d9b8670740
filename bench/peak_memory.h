#pragma once

#include <fstream>
#include <string>
#include <sys/resource.h>

namespace fulvex::bench {

/// Of this process so far, MB; mapped files count as far as they are resident.
inline double peakMemory()
{
    rusage usage;
    getrusage(RUSAGE_SELF, &usage);
    return double(usage.ru_maxrss) / 1e3;
}

/// Of this process now, MB, without files that are mapped.
inline double ownMemory()
{
    std::ifstream status("/proc/self/status");
    for (std::string word; status >> word;) {
        double kilobytes = 0;
        if (word == "RssAnon:" && status >> kilobytes) return kilobytes / 1e3;
    }
    return 0;
}

} // namespace fulvex::bench
