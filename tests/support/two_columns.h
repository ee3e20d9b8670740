#pragma once

#include "document.h"

namespace fulvex::test {

/// Channels a and b, the two columns of a.npy, capture r.
inline Document twoColumns(double interval, double scale = 1)
{
    Document document;
    document.captures.push_back({"r", "a.npy", {}, {}});
    document.captures[0].import.sampleInterval = interval;
    for (const int column : {0, 1}) {
        document.channels.push_back({.id = column == 0 ? "a" : "b", .capture = "r", .column = column, .scale = scale});
    }
    return document;
}

} // namespace fulvex::test
