#include "edge_grid.h"

namespace fulvex {

std::vector<double> errorsOnGrid(const JitterEdges &edges)
{
    double mean[2] = {0, 0}, count[2] = {0, 0};
    for (std::size_t i = 0; i < edges.size(); ++i) {
        const bool rising = edges.isRising(i);
        mean[rising] += (edges.errors[i] - mean[rising]) / ++count[rising];
    }
    const double all = edges.size() > 0 ? (mean[0] * count[0] + mean[1] * count[1]) / double(edges.size()) : 0;
    std::vector<double> errors(edges.unitIntervals() + 1);
    std::size_t next = 0;
    double before = 0;
    std::int32_t at = 0;
    for (std::size_t i = 0; i < edges.size(); ++i) {
        const double value = edges.errors[i] - mean[edges.isRising(i)] + all;
        const std::int32_t place = edges.places[i];
        for (; next <= std::size_t(place); ++next) {
            const double share = i == 0 || place == at ? 1 : double(std::int32_t(next) - at) / double(place - at);
            errors[next] = before + share * (value - before);
        }
        before = value;
        at = place;
    }
    for (; next < errors.size(); ++next) errors[next] = before;
    return errors;
}

void takeOutLine(std::vector<double> &values)
{
    double middle = 0, slope = 0, squares = 0;
    const double half = double(values.size() - 1) / 2;
    for (const double value : values) middle += value / double(values.size());
    for (std::size_t i = 0; i < values.size(); ++i) {
        slope += (double(i) - half) * values[i];
        squares += (double(i) - half) * (double(i) - half);
    }
    slope = squares > 0 ? slope / squares : 0;
    for (std::size_t i = 0; i < values.size(); ++i) values[i] -= middle + slope * (double(i) - half);
}

} // namespace fulvex
