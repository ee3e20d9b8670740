#pragma once

#include "filter_pieces.h"
#include "sample_source.h"

namespace fulvex {

constexpr std::int64_t worthEstimating = std::int64_t(1) << 22; ///< samples; a shorter record is soon scanned

/// The source filtered forward without a scan of the record: each place that is read goes on from one that was read
/// shortly before it, or from the mean a good way ahead, of which a ten thousandth is left (more where the corner lies
/// below some ten thousandths of the sample rate). Near to what RecursiveFilter makes, in time for what is in view; not
/// the same bits each time.
SourcePtr estimatedFilter(const SourcePtr &source, FilterPieces pieces);

} // namespace fulvex
