#pragma once

#include <string>

namespace fulvex::bench {

/// What no program could pass on this machine, measured now, samples/s on all cores.
struct MachineBounds {
    double read;      ///< both legs of a link's record, from memory
    double increment; ///< counts of an eye of 256 by 256 cells, where most samples lie on two rails
};

/// By the record that makeLinkRecord() made.
MachineBounds machineBounds(const std::string &record);

} // namespace fulvex::bench
