#pragma once

#include "live_source.h"
#include "simulated_link.h"

namespace fulvex::demo {

/// What a link has made last, as an instrument would have sent it.
inline LiveRecord recordOf(const SimulatedLink &link)
{
    LiveRecord record;
    record.identity = "Brackwater,Simulated instrument";
    record.unit = "V";
    record.interval = link.interval();
    for (const auto *codes : {&link.p(), &link.n()}) {
        LiveRecord::Channel &channel = record.channels.emplace_back();
        channel.name = record.channels.size() == 1 ? "P" : "N";
        channel.scale = link.scale();
        const auto *bytes = reinterpret_cast<const std::byte *>(codes->data());
        channel.bytes.assign(bytes, bytes + 2 * codes->size());
    }
    return record;
}

} // namespace fulvex::demo
