#pragma once

#include "part_archive.h"
#include "results.h"

namespace fulvex {

// What a part's file holds, in its order: what each struct is made of, and what is checked before it is believed. A
// change is another heading in part_file.cpp.

void describe(PartWriter &to, CountedCapture &one);
void describe(PartReader &from, CountedCapture &one);
/// But for what they count, which stands before them.
void describe(PartWriter &to, Results &results);
void describe(PartReader &from, Results &results);

} // namespace fulvex
