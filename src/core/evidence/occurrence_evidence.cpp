#include "occurrence_evidence.h"

#include "evidence_support.h"
#include "number_text.h"
#include "parallel.h"

#include <algorithm>
#include <cmath>
#include <functional>
#include <limits>
#include <numbers>

namespace fulvex {

namespace {

/// The occurrences farthest from a mean, as many as are wanted: a heap of those kept so far, the nearest in front.
class Farthest {
public:
    void keep(std::size_t wanted) { m_wanted = wanted; }
    void offer(std::size_t index, double off)
    {
        if (m_kept.size() < m_wanted) {
            m_kept.emplace_back(-off, index);
            std::push_heap(m_kept.begin(), m_kept.end());
        } else if (m_wanted > 0 && std::pair(-off, index) < m_kept.front()) {
            std::pop_heap(m_kept.begin(), m_kept.end());
            m_kept.back() = {-off, index};
            std::push_heap(m_kept.begin(), m_kept.end());
        }
    }
    void merge(const Farthest &other)
    {
        for (const auto &[off, index] : other.m_kept) offer(index, -off);
    }
    std::vector<std::size_t> inOrder()
    {
        std::sort(m_kept.begin(), m_kept.end());
        std::vector<std::size_t> indices;
        for (const auto &[off, index] : m_kept) indices.push_back(index);
        return indices;
    }

private:
    std::size_t m_wanted = 0;
    std::vector<std::pair<double, std::size_t>> m_kept; ///< how far, less than 0; index
};

/// The last place, at or before that moment, from which on there are half as many as are wanted, of those that answer.
std::size_t halfBefore(const Population &all, std::size_t first, double moment, std::size_t wanted,
                       const std::function<bool(double)> &answers, Progress &progress)
{
    std::size_t at = std::max(first, all.position.firstNotBelow(all.axis.positionOf(moment) - 1e-3));
    for (std::size_t missing = wanted / 2; at > first && missing > 0;) {
        if (--at % 65536 == 0) progress.advance(0);
        if (answers(all.value[at])) --missing;
    }
    return at;
}

/// Those that answer, as many as are wanted; counts all of them.
std::vector<std::size_t> occurrences(const Population &all, const Question &question, Evidence &found,
                                     std::size_t wanted, Progress &progress)
{
    std::size_t first = 0, last = all.size();
    if (question.times) { // positions ascend
        first = all.position.firstNotBelow(all.axis.positionOf(question.times->first) - 1e-3);
        last = std::max(first, all.position.firstNotBelow(all.axis.positionOf(question.times->second) + 1e-3));
        while (first < last && all.time(first) < question.times->first) ++first;
        while (last > first && all.time(last - 1) >= question.times->second) --last;
    }
    constexpr double forever = std::numeric_limits<double>::infinity();
    const auto [low, high] = question.values.value_or(std::pair(-forever, forever));
    const auto answers = [low, high](double v) { return v >= low && v < high; };
    const std::size_t begin = question.byTime && question.around
                                  ? halfBefore(all, first, *question.around, wanted, answers, progress)
                                  : first;
    struct Part {
        std::int64_t count = 0;
        Farthest farthest;
        std::vector<std::size_t> inTime; ///< the first of them from where they begin
    };
    auto parts =
        inChunks<Part>({std::int64_t(first), std::int64_t(last)}, 1 << 18, progress, [&](SampleRange mine, Part &part) {
            part.farthest.keep(wanted);
            auto i = std::size_t(mine.first);
            all.value.each(i, std::size_t(mine.last), [&](double v) {
                const std::size_t index = i++;
                if (!answers(v)) return;
                ++part.count;
                if (!question.byTime)
                    part.farthest.offer(index, std::abs(v - found.mean));
                else if (index >= begin && part.inTime.size() < wanted)
                    part.inTime.push_back(index);
            });
        });
    found.count = 0;
    Farthest farthest;
    farthest.keep(wanted);
    std::vector<std::size_t> inTime;
    for (const Part &part : parts) {
        found.count += part.count;
        farthest.merge(part.farthest);
        const std::size_t room = std::min(part.inTime.size(), wanted - inTime.size());
        inTime.insert(inTime.end(), part.inTime.begin(), part.inTime.begin() + std::ptrdiff_t(room));
    }
    return question.byTime ? inTime : farthest.inOrder();
}

/// The occurrence nearest to each crest of the component of that frequency, in the order of time.
std::vector<std::size_t> crests(const Population &all, double frequency, const Question::Span &times,
                                std::size_t wanted, Progress &progress)
{
    std::vector<std::size_t> found;
    if (all.size() == 0 || !(frequency > 0)) return found;
    const double start = all.time(0), end = all.time(all.size() - 1), turn = 2 * std::numbers::pi * frequency;
    const double mean = statisticsOf(all).mean.value_or(0);
    double x = 0, y = 0;
    for (std::size_t i = 0; i < all.size(); ++i) {
        if (i % 65536 == 0) progress.advance(0);
        const double angle = turn * (all.time(i) - start), v = all.value[i] - mean;
        x += v * std::cos(angle), y += v * std::sin(angle);
    }
    double crest = start + std::atan2(y, x) / turn;
    if (crest < start) crest += 1 / frequency;
    if (times) crest += std::ceil(std::max(0.0, times->first - crest) * frequency) / frequency;
    const double until = times ? std::min(end, times->second) : end;
    for (; crest <= until && found.size() < wanted; crest += 1 / frequency) {
        std::size_t at = std::min(all.size() - 1, all.position.firstNotBelow(all.axis.positionOf(crest)));
        if (at > 0 && std::abs(all.time(at - 1) - crest) < std::abs(all.time(at) - crest)) --at;
        if (found.empty() || found.back() != at) found.push_back(at);
    }
    return found;
}

} // namespace

Evidence ofOccurrences(const Results &results, const Row &row, const Question &question, std::size_t wanted,
                       Progress &progress)
{
    Evidence found;
    found.of = Evidence::Of::occurrences;
    found.title = row.title;
    found.unit = row.unit;
    found.step = stepOf(results, row.source);
    if (!row.measurable()) {
        found.none = row.reason;
        return found;
    }
    if (row.measured->single && row.measured->population.size() == 0) {
        found.none = "One number for the whole record: select a quantity with occurrences, or a mask, to step through "
                     "its moments.";
        return found;
    }
    const Population &all = row.measured->population;
    const Statistics told = row.measured->single ? statisticsOf(all) : row.statistics;
    if (row.measured->single) found.unit = row.measured->momentsUnit;
    found.mean = told.mean.value_or(0);
    found.std = told.std.value_or(0);
    found.all = std::int64_t(all.size());
    const double margin = 4 * intervalOf(results, row.source); // around an instant
    const auto digit = found.std > 0 ? std::optional(found.std / 20) : std::nullopt;
    const auto itemOf = [&](double from, double to, double value) {
        const double around = to > from ? 0 : margin;
        Evidence::Item item;
        item.time = from;
        item.place = {from - around, to + around, row.source, false, {from}, quantityText(value, found.unit, digit)};
        if (to > from) item.place.instants.push_back(to);
        item.value = value;
        return item;
    };
    for (const Row::KeptOut &out : row.keptOut) {
        if (found.items.size() >= wanted || !lies(question.values, out.value) || !lies(question.times, out.time))
            continue;
        Evidence::Item item = itemOf(out.time, out.time + out.lasts, out.value);
        item.words = out.reason;
        item.keptOutBy = out.by;
        found.items.push_back(std::move(item));
    }
    found.none = "No occurrence lies there.";
    found.order = question.frequency ? "at the crests of " + quantityText(*question.frequency, "Hz", {}, 4)
                  : question.byTime  ? "in time"
                                     : "farthest first";
    const auto order = question.frequency ? crests(all, *question.frequency, question.times, wanted, progress)
                                          : occurrences(all, question, found, wanted, progress);
    if (question.frequency) found.count = std::int64_t(order.size());
    for (const std::size_t i : order) found.items.push_back(itemOf(all.time(i), all.end(i), all.value[i]));
    return found;
}

} // namespace fulvex
