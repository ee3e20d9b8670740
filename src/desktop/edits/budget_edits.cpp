#include "budget_edits.h"

#include "action.h"
#include "axis_painter.h"
#include "line_strength.h"
#include "loop_presets.h"
#include "measurement_edits.h"
#include "references.h"
#include "sheet_maker.h"

#include <algorithm>
#include <cmath>

namespace fulvex {

/// An eye of the whole record by a clock: the one that is there, or a new one.
static std::string eyeOf(Document &document, const std::string &clock, const std::string &source)
{
    for (const EyeEntry &eye : document.eyes)
        if (eye.clock == clock && eye.region.empty() && eye.atUnitIntervals()) return eye.id;
    EyeEntry eye;
    eye.id = freeId(document, source + "_eye");
    eye.source = source;
    eye.clock = clock;
    document.eyes.push_back(eye);
    return eye.id;
}

namespace {

/// What a channel's jitter is taken apart by, and what that made of the document.
struct Taken {
    std::string source, clock, budget, error; ///< error: the row of each edge's
    bool proposed = false;                    ///< the clock is new
};

Taken takenOf(const Workbench &bench, const std::string &of)
{
    const auto &clocks = bench.document().clocks;
    Taken taken;
    taken.clock = findEntry(clocks, of) ? of : nearestClock(bench, of);
    taken.proposed = taken.clock.empty();
    taken.source = taken.proposed ? of : findEntry(clocks, taken.clock)->source;
    return taken;
}

/// Adds the clock where there is none, the budget, and the rows of its parts.
void addTo(Document &document, Taken &taken)
{
    if (taken.proposed) {
        ClockEntry entry;
        entry.id = taken.clock = freeId(document, taken.source + "_clock");
        entry.source = taken.source;
        document.clocks.push_back(entry);
    }
    BudgetEntry budget;
    budget.id = taken.budget = freeId(document, taken.source + "_jitter");
    budget.clock = taken.clock;
    document.budgets.push_back(budget);
    taken.error = appendRow(document, "time_interval_error", taken.clock);
    for (const char *quantity : {"total_jitter", "eye_opening"}) appendRow(document, quantity, taken.clock);
    const auto appendBy = [&](const char *method, const std::string &quantity) {
        appendRow(document, quantity, taken.clock, quantity + "_by_" + method);
        document.measurements.back().method = method;
    };
    for (const char *method : {"spectral", "tail"}) appendBy(method, "random_jitter");
    for (const char *quantity : {"periodic_jitter", "data_dependent_jitter", "duty_cycle_distortion"})
        appendRow(document, quantity, taken.clock);
    appendBy("tail", "bounded_uncorrelated_jitter");
}

} // namespace

std::string takeJitterApart(Workbench &bench, const std::string &of)
{
    Taken one = takenOf(bench, of);
    int sheetAt = 0;
    const bool taken = bench.change(QObject::tr("take jitter apart"), [&](Document &document) {
        addTo(document, one);
        SheetMaker sheet(bench, "Jitter of " + one.source);
        sheet.add("budget", one.budget, 0, 0, 3);
        constexpr int smooth = 64; // edges
        sheet.add("trend", one.error, 1, 0).smooth = smooth;
        sheet.add("spectrum", one.error, 1, 1);
        sheet.add("jitter_histogram", one.budget, 1, 2);
        sheet.add("bathtub", one.budget, 2, 0);
        sheet.add("eye", eyeOf(document, one.clock, one.source), 2, 1);
        sheet.add("jitter_pattern", one.budget, 2, 2);
        sheetAt = sheet.appendTo(document, "jitter_sheet");
    });
    if (!taken) return {};
    bench.showSheet(sheetAt);
    bench.select({Selection::Kind::budget, one.budget});
    emit bench.told(
        one.proposed ? QObject::tr("By a fixed clock that is found from %1: nothing is followed, all wander counts. "
                                   "A receiver follows slow wander; choose a loop in the clock's Inspector.")
                           .arg(text(one.source))
                     : QObject::tr("By the clock %1, which is on %2 already.").arg(text(one.clock), text(one.source)));
    return one.budget;
}

void takeJittersApart(Workbench &bench, const std::vector<std::string> &channels)
{
    std::vector<Taken> several;
    for (const std::string &channel : channels)
        if (findEntry(bench.document().channels, channel)) several.push_back(takenOf(bench, channel));
    if (several.empty()) return;
    int sheetAt = 0;
    const bool done = bench.change(QObject::tr("take jitter of several apart"), [&](Document &document) {
        SheetMaker sheet(bench, "Jitter side by side");
        int row = 0;
        for (Taken &one : several) {
            addTo(document, one);
            sheet.add("budget", one.budget, row, 0, 2);
            sheet.add("bathtub", one.budget, row++, 2);
        }
        sheetAt = sheet.appendTo(document, "jitter_sheet");
    });
    if (!done) return;
    bench.showSheet(sheetAt);
    bench.select({Selection::Kind::budget, several.front().budget});
    QStringList found;
    for (const Taken &one : several)
        if (one.proposed) found << text(one.source);
    emit bench.told(found.empty() ? QObject::tr("Each by the clock that is on it already.")
                                  : QObject::tr("By fixed clocks that are found: %1. Nothing is followed there, all "
                                                "wander counts; the others go by the clock that is on them already.")
                                        .arg(found.join(", ")));
}

bool followSlowJitter(Workbench &bench, const std::string &id)
{
    const BudgetEntry *budget = findEntry(bench.document().budgets, id);
    const ClockEntry *clock = budget ? findEntry(bench.document().clocks, budget->clock) : nullptr;
    const ClockResult *result = clock && bench.results() ? findEntry(bench.results()->clocks, clock->id) : nullptr;
    if (!clock || clock->method != "fixed" || !result || !result->clock) return false;
    const LoopPreset &loop = loopPresets().front();
    return bench.change(QObject::tr("let %1 be a loop").arg(text(clock->id)),
                        [of = clock->id, rate = result->rate, &loop](Document &document) {
                            ClockEntry *entry = findEntry(document.clocks, of);
                            if (!entry) return;
                            entry->method = "pll";
                            entry->order = loop.order;
                            entry->bandwidth = loop.bandwidthAt(rate);
                            entry->damping = loop.damping;
                            entry->bandwidthOf = "transfer";
                        });
}

bool switchLine(Workbench &bench, const std::string &id, std::size_t part)
{
    const BudgetResult *result = bench.results() ? findEntry(bench.results()->budgets, id) : nullptr;
    if (!result || !result->found || part >= result->budget.parts.size()) return false;
    const JitterBudget::Part &piece = result->budget.parts[part];
    if (piece.kind != JitterBudget::Part::Kind::line) return false;
    const double frequency = result->found->lines[piece.line].frequency;
    return bench.change(
        piece.leftOut ? QObject::tr("take a line back in") : QObject::tr("leave a line out"), [&](Document &document) {
            BudgetEntry *budget = findEntry(document.budgets, id);
            if (!budget) return;
            const auto removed = std::erase_if(budget->without, [&](double one) { return meansLine(one, frequency); });
            if (removed == 0) budget->without.push_back(frequency);
        });
}

} // namespace fulvex
