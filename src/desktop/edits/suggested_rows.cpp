#include "suggested_rows.h"

#include "failure_text.h"

namespace fulvex {

SuggestedRows SuggestedRows::of(const From &from)
{
    SuggestedRows made{from, {}, {}};
    Progress progress;
    try {
        if (from.channel) made.own = suggestFor(*from.channel, progress);
        if (from.channel && from.other) made.pair = suggestForPair(*from.channel, *from.other, progress);
    } catch (...) { // files that cannot be read any more
        made.own.reason = failureText();
    }
    return made;
}

} // namespace fulvex
