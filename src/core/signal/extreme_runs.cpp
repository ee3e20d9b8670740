#include "extreme_runs.h"

#include "widest_vectors.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace fulvex {

namespace {

FULVEX_WIDEST_VECTORS std::int64_t countOf(double value, const double *values, std::size_t size)
{
    std::int64_t count = 0;
    for (std::size_t i = 0; i < size; ++i) count += values[i] == value;
    return count;
}

void mergeEnd(RunsAtExtreme &into, const RunsAtExtreme &later, bool surpassed)
{
    if (later.samples == 0) return;
    if (into.samples == 0 || surpassed) {
        into = later;
    } else if (into.value == later.value) {
        into.samples += later.samples;
        into.runs += later.runs;
        into.steps += later.steps;
        if (into.first < 0) into.first = later.first;
    }
}

} // namespace

void ExtremeRuns::merge(const ExtremeRuns &later)
{
    mergeEnd(minimum, later.minimum, later.minimum.value < minimum.value);
    mergeEnd(maximum, later.maximum, later.maximum.value > maximum.value);
}

ExtremeRunFinder::ExtremeRunFinder(std::span<const double> before)
{
    m_before.fill(std::numeric_limits<double>::quiet_NaN());
    const std::size_t some = std::min(before.size(), m_before.size());
    std::copy_n(before.end() - std::ptrdiff_t(some), some, m_before.end() - std::ptrdiff_t(some));
}

int ExtremeRunFinder::lengthBefore(double value) const
{
    int length = 0;
    while (length < 3 && m_before[std::size_t(2 - length)] == value) ++length;
    return length;
}

/// From the sample before a run to its value; 0 where there is none.
double ExtremeRunFinder::stepBefore(std::size_t third, std::span<const double> values) const
{
    const double before = third >= 3 ? values[third - 3] : m_before[third];
    return before == before ? std::abs(values[third] - before) : 0;
}

void ExtremeRunFinder::addAt(RunsAtExtreme &end, int &length, std::int64_t first, std::span<const double> values)
{
    constexpr std::size_t stretch = 256; // few of a signal's come to its extremes
    for (std::size_t begin = 0; begin < values.size(); begin += stretch) {
        const std::size_t stop = std::min(values.size(), begin + stretch);
        const std::int64_t here = countOf(end.value, values.data() + begin, stop - begin);
        end.samples += here;
        if (here == 0) {
            length = 0;
            continue;
        }
        for (std::size_t i = begin; i < stop; ++i) {
            length = values[i] == end.value ? std::min(length + 1, 4) : 0;
            if (length != 3) continue;
            ++end.runs;
            end.steps += stepBefore(i, values);
            if (end.first < 0) end.first = first + std::int64_t(i) - 2;
        }
    }
}

bool ExtremeRunFinder::reaches(double low, double high) const
{
    return m_found.minimum.samples == 0 || low <= m_found.minimum.value || m_found.maximum.samples == 0 ||
           high >= m_found.maximum.value;
}

void ExtremeRunFinder::add(std::int64_t first, std::span<const double> values, double low, double high)
{
    const auto follow = [&](RunsAtExtreme &end, int &length, double extreme, bool surpassed) {
        if (!(low <= high)) {
            length = 0;
            return;
        }
        if (end.samples == 0 || surpassed) {
            end = {};
            end.value = extreme;
            length = lengthBefore(extreme);
        }
        if (end.value == extreme)
            addAt(end, length, first, values);
        else
            length = 0;
    };
    follow(m_found.minimum, m_low, low, low < m_found.minimum.value);
    follow(m_found.maximum, m_high, high, high > m_found.maximum.value);
    for (const double value : values.last(std::min<std::size_t>(3, values.size()))) {
        std::rotate(m_before.begin(), m_before.begin() + 1, m_before.end());
        m_before.back() = value;
    }
}

} // namespace fulvex
