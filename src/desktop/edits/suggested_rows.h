#pragma once

#include "suggestion.h"

namespace fulvex {

/// What fits a channel, and it together with another one; looked for beside the interface.
struct SuggestedRows {
    struct From {
        SourcePtr channel, other; ///< null: there is none
        bool operator==(const From &) const = default;
    };
    static SuggestedRows of(const From &from);
    From from;
    Suggestion own, pair;
};

} // namespace fulvex
