#include "course.h"
#include "error.h"
#include "functions.h"
#include "resampled_source.h"

namespace fulvex {

SourcePtr trendOf(const FormulaOver &of)
{
    const FormulaMoments &row = of.moments[0];
    if (row.values.empty())
        throw Error("", "a trend of what has no values over time", "name a row of several occurrences");
    Course::Piece all{row.positions.front(), row.positions.back(), {}};
    for (std::size_t i = 0; i < row.positions.size(); ++i)
        if (all.moments.empty() || row.positions[i] > all.moments.back().position)
            all.moments.push_back({row.positions[i], row.values[i]});
    all.end = all.moments.back().position;
    return std::make_shared<Course>(row.source, std::vector{std::move(all)});
}

} // namespace fulvex
