#include "evidence_support.h"

namespace fulvex {

bool lies(const Question::Span &span, double value)
{
    return !span || (value >= span->first && value < span->second);
}

double intervalOf(const Results &results, const std::string &channel)
{
    const ChannelResult *result = findEntry(results.channels, channel);
    return result && result->source ? result->source->axis().interval : 0;
}

double stepOf(const Results &results, const std::string &channel)
{
    return intervalOf(results, channel) / 10;
}

} // namespace fulvex
