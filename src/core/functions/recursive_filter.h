#pragma once

#include "filter_cascade.h"
#include "formula_function.h"
#include "sample_source.h"

namespace fulvex {

/// The source filtered forward in time, each stretch between gaps for itself, as if its first value had been there for
/// ever. Scans the record for the states at fixed places, from which each block goes on: the same bits for all. Where
/// `of` lets it be estimated, a long record is not scanned.
SourcePtr recursivelyFiltered(const SourcePtr &source, const FilterCascade &filter, const FormulaOver &of);
/// The same from its end, as if the last value were there for ever.
SourcePtr filteredBackward(const SourcePtr &source, const FilterCascade &filter, const FormulaOver &of);

} // namespace fulvex
