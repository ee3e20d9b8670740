#include "clock_findings.h"

#include "number_text.h"
#include "parallel.h"
#include "same_everywhere.h"
#include "symbol_levels.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>

namespace fulvex {

namespace {

constexpr double off = 0.4;           ///< UI from a boundary, beyond which an edge may belong to the next one
constexpr double manyOff = 0.05;      ///< of all edges
constexpr std::int64_t mostApart = 8; ///< multiples that are looked for

/// How edges lie beside the boundaries of their clock.
struct Lie {
    double count = 0, far = 0;
    double along = 0, across = 0;              ///< sums of arrows at their phases
    double squares = 0, changes = 0;           ///< of how late they are, and of its change from edge to edge
    std::array<double, mostApart + 1> apart{}; ///< steps that are whole multiples of so many unit intervals
    double steps = 0;
    void merge(const Lie &later)
    {
        count += later.count, far += later.far, along += later.along, across += later.across;
        squares += later.squares, changes += later.changes, steps += later.steps;
        for (std::size_t i = 0; i < apart.size(); ++i) apart[i] += later.apart[i];
    }
    double share() const { return count > 0 ? far / count : 0; }
    double phase() const { return std::atan2(across, along) / (2 * std::numbers::pi); } ///< UI, on average
    double bunched() const { return count > 0 ? std::hypot(along, across) / count : 0; }
};

Lie lieOf(const Clock &clock, Progress &progress)
{
    const NumberedEdges &edges = clock.edges;
    std::int64_t settled = 0;
    const auto all = std::int64_t(edges.size());
    while (settled < all && edges.numberOf(std::size_t(settled)) < clock.map.firstSettled()) ++settled;
    return inChunksMerged<Lie>({settled, all}, 1 << 16, progress, [&](SampleRange mine, Lie &part) {
        const auto size = std::size_t(mine.size());
        std::vector<double> late(size), halfTurns(size), sines(size), cosines(size);
        edges.lateness(clock.map, std::size_t(mine.first), late);
        for (std::size_t i = 0; i < size; ++i) halfTurns[i] = 2 * (late[i] - std::round(late[i]));
        sinCosPi(halfTurns, sines.data(), cosines.data());
        for (std::size_t i = 0; i < size; ++i) {
            ++part.count;
            part.far += std::abs(halfTurns[i]) > 2 * off;
            part.across += sines[i];
            part.along += cosines[i];
            part.squares += late[i] * late[i];
            if (i == 0) continue;
            part.changes += (late[i] - late[i - 1]) * (late[i] - late[i - 1]);
            const std::size_t edge = std::size_t(mine.first) + i;
            const std::int64_t step = edges.numberOf(edge) - edges.numberOf(edge - 1);
            if (step <= 0 || edges.edges().isAfterGap(edge)) continue;
            ++part.steps;
            for (std::int64_t apart = 2; apart <= mostApart; ++apart)
                part.apart[std::size_t(apart)] += step % apart == 0;
        }
    });
}

class Doubts {
public:
    Doubts(Evaluation &evaluation, const ClockEntry &entry, const Evaluation::ClockNode &node)
        : m_evaluation(evaluation), m_entry(entry), m_node(node), m_lie(lieOf(*node.clock, evaluation.progress()))
    {
    }
    std::vector<Finding> all()
    {
        if (!m_node.remark.empty()) add("pause", "info", m_node.remark);
        farOff();
        multiples();
        levels();
        beside();
        return std::move(m_found);
    }

private:
    const UnitIntervalMap &map() const { return m_node.clock->map; }
    bool is(const char *method) const { return m_entry.method == method; }
    std::string rateText(double rate) const { return quantityText(rate, "Bd", {}, 6); }
    Finding &add(const char *check, const char *level, std::string text)
    {
        return m_found.emplace_back(Finding{check, level, std::move(text), m_entry.source, {}, {}, {}});
    }
    Remedy remedy(std::string words, std::vector<Remedy::Setting> settings) const
    {
        Remedy one;
        one.kind = Remedy::Kind::settings;
        one.words = std::move(words);
        one.entry = m_entry.id;
        one.settings = std::move(settings);
        return one;
    }
    /// Of the edges by themselves, whatever the document gives.
    double foundRate()
    {
        const SymbolTiming timing = findSymbolTiming(m_node.clock->edges.edges(), {}, m_evaluation.progress());
        return timing.found() ? 1 / (timing.period * map().axis().interval) : 0;
    }
    void farOff()
    {
        // Slow wander moves neighbours alike; what is left by chance, each by itself.
        constexpr double much = 0.1; // UI rms, of which an eye is smeared
        const double rms = m_lie.count > 0 ? std::sqrt(m_lie.squares / m_lie.count) : 0;
        const bool wanders = m_lie.squares > 10 * m_lie.changes, far = m_lie.share() > manyOff;
        if (!far && !(wanders && rms > much)) return;
        const std::string about = " where unit intervals begin";
        add("edges_off", "warning",
            far ? percentText(m_lie.share()) + " of edges lie more than 0.4 UI off" + about + ": " +
                      (is("forwarded") ? "edges, multiplying, or levels?" : "rate, bandwidth, or levels?")
                : "edges wander slowly about" + about + ", by " + quantityText(rms, "UI", {}, 2) +
                      " rms, which smears the eye: rate, or bandwidth?");

        const double rate = map().rate();
        if (m_entry.rate && !is("forwarded")) {
            const double found = foundRate();
            if (found > 0 && std::abs(found / *m_entry.rate - 1) > 1e-6)
                add("edges_off", "info", "its edges alone have a rate of " + rateText(found)).remedy =
                    remedy("find the rate from the signal", {{"rate", {}}});
        }

        if (is("fixed") && !m_entry.rate && wanders)
            add("edges_off", "info", "they wander slowly, which a fixed clock leaves all of").remedy =
                remedy("follow it with a loop of " + quantityText(rate / 1667, "Hz", {}, 3),
                       {{"method", {}, "pll"}, {"bandwidth", rate / 1667}});
        const double wider = std::min(4 * m_entry.bandwidth, rate / 20);
        if (is("pll") && wanders && wider > m_entry.bandwidth)
            add("edges_off", "info", "they wander more slowly than from edge to edge: the loop is slow for it").remedy =
                remedy("widen the loop to " + quantityText(wider, "Hz", {}, 3), {{"bandwidth", wider}});
        if (m_entry.levels != "default")
            add("edges_off", "info", "its level set \"" + m_entry.levels + "\" may cross them elsewhere").remedy =
                remedy("take the default levels", {{"levels", {}, "default"}});
    }
    void multiples()
    {
        constexpr double nearlyAll = 0.995, some = 64;
        if (m_lie.steps < some || m_lie.share() > manyOff) return;
        for (std::int64_t apart = mostApart; apart >= 2; --apart) {
            if (m_lie.apart[std::size_t(apart)] < nearlyAll * m_lie.steps) continue;
            const std::string times = std::to_string(apart);
            Finding &one = add("multiples", "warning",
                               "all edges lie whole multiples of " + times + " UI apart: is the rate " + times +
                                   " times that of the symbols?");
            if (!is("forwarded"))
                one.remedy =
                    remedy("take " + rateText(map().rate() / double(apart)), {{"rate", map().rate() / double(apart)}});
            else if (m_entry.multiply % apart == 0)
                one.remedy = remedy("multiply by " + std::to_string(m_entry.multiply / apart),
                                    {{"multiply", double(m_entry.multiply / apart)}});
            else
                one.remedy = remedy("count every " + std::to_string(m_entry.divide * apart) + ". edge",
                                    {{"divide", double(m_entry.divide * apart)}});
            return;
        }
    }
    void levels()
    {
        if (m_lie.share() > manyOff) return; // of a wrong clock the middles are no middles
        const SourcePtr source = m_evaluation.channel(m_entry.source).source;
        const SampleRange settled{map().firstSettled(), map().unitIntervals()};
        constexpr std::int64_t few = 256; // say nothing of levels
        if (settled.size() < few) return;
        const std::size_t there = levelsAmong(middlesHistogram(*source, map(), settled, m_evaluation.progress()));
        if (there <= std::size_t(m_entry.modulation)) return;
        const std::string number = std::to_string(there);
        add("levels", "warning",
            "the middles of its unit intervals lie at " + number + " amplitude levels, and " +
                std::to_string(m_entry.modulation) + " are told apart")
            .remedy = remedy("tell " + number + " levels apart", {{"modulation", double(there)}});
    }
    void beside()
    {
        if (!is("forwarded")) return;
        const double times = foundRate() / map().rate(), whole = std::round(times);
        if (whole >= 2 && std::abs(times - whole) < 0.01 * whole) {
            const double multiply = m_entry.multiply * whole;
            add("multiples", "warning",
                "the data change " + quantityText(whole, "", {}, 3) + " times as often as unit intervals begin")
                .remedy = remedy("multiply by " + quantityText(multiply, "", {}, 4), {{"multiply", multiply}});
            return;
        }
        constexpr double clearly = 0.15, together = 0.3;
        const double phase = m_lie.phase();
        if (std::abs(phase) < clearly || m_lie.bunched() < together) return;
        const double by = phase / map().rate();
        add("beside", "info",
            "edges of the data lie " + quantityText(std::abs(phase), "UI", {}, 2) + (by > 0 ? " behind" : " before") +
                " where unit intervals begin, on average: the eye stands as far beside its place")
            .remedy = remedy("delay the clock by " + quantityText(by, "s", {}, 3), {{"delay", m_entry.delay + by}});
    }

    Evaluation &m_evaluation;
    const ClockEntry &m_entry;
    const Evaluation::ClockNode &m_node;
    Lie m_lie;
    std::vector<Finding> m_found;
};

} // namespace

std::vector<Finding> clockFindings(Evaluation &evaluation, const ClockEntry &entry, const Evaluation::ClockNode &node)
{
    return Doubts(evaluation, entry, node).all();
}

} // namespace fulvex
