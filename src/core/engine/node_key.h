#pragma once

#include "fingerprint.h"

#include <sstream>
#include <string>

namespace fulvex {

/// Of any number of parts; doubles to the last bit.
template <typename... Parts>
std::string digestOf(const Parts &...parts)
{
    std::ostringstream text;
    text << std::hexfloat;
    ((text << parts << '\x1f'), ...);
    return sha256(text.str()).substr(0, 32);
}

/// The key of a node: its kind, and what it is made of.
template <typename... Parts>
std::string keyOf(const char *kind, const Parts &...parts)
{
    return std::string(kind) + "-" + digestOf(kind, parts...);
}

} // namespace fulvex
