#include "clock_edits.h"

#include "user_settings.h"

namespace fulvex {

/// Another channel, of the same capture if there is one.
static std::string channelBeside(const Document &document, const std::string &channel)
{
    const ChannelEntry *own = findEntry(document.channels, channel);
    std::string first;
    for (const ChannelEntry &other : document.channels) {
        if (other.id == channel) continue;
        if (own && other.capture == own->capture) return other.id;
        if (first.empty()) first = other.id;
    }
    return first;
}

std::string putClock(const Workbench &bench, Document &document, const std::string &channel, const std::string &method)
{
    ClockEntry entry;
    entry.id = freeId(document, method == "pll" ? "loop" : method == "forwarded" ? "beside" : "ideal");
    entry.source = channel;
    entry.method = method;
    if (method == "forwarded") entry.from = channelBeside(document, channel);
    const UserSettings settings = userSettings();
    entry.order = settings.loopOrder;
    entry.damping = settings.loopDamping;
    const Results *results = bench.results();
    bool own = false; // of this channel
    for (const ClockResult &other : results ? results->clocks : std::vector<ClockResult>()) {
        const ClockEntry *known = findEntry(document.clocks, other.id);
        const bool here = known && known->source == channel;
        if (!other.clock || (own && !here)) continue;
        own |= here;
        entry.bandwidth = other.rate / settings.loopDivider;
    }
    document.clocks.push_back(entry);
    return entry.id;
}

std::string addClock(Workbench &bench, const std::string &channel, const std::string &method)
{
    return bench.make(QObject::tr("add clock"), Selection::Kind::clock,
                      [&](Document &document) { return putClock(bench, document, channel, method); });
}

} // namespace fulvex
