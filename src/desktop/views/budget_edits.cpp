#include "budget_edits.h"

#include "action.h"
#include "axis_painter.h"
#include "document_edits.h"
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

std::string takeJitterApart(Workbench &bench, const std::string &of)
{
    const Document &before = bench.document();
    std::string clock = findEntry(before.clocks, of) ? of : nearestClock(bench, of);
    const std::string source = clock.empty() ? of : findEntry(before.clocks, clock)->source;
    const bool proposed = clock.empty();
    std::string id;
    int sheetAt = 0;
    const bool taken = bench.change(QObject::tr("take jitter apart"), [&](Document &document) {
        if (proposed) {
            ClockEntry entry;
            entry.id = clock = freeId(document, source + "_clock");
            entry.source = source;
            document.clocks.push_back(entry);
        }
        BudgetEntry budget;
        budget.id = id = freeId(document, source + "_jitter");
        budget.clock = clock;
        document.budgets.push_back(budget);
        const std::string error = appendRow(document, "time_interval_error", clock);
        for (const char *quantity : {"total_jitter", "eye_opening"}) appendRow(document, quantity, clock);
        const auto appendBy = [&](const char *method, const std::string &quantity) {
            appendRow(document, quantity, clock, quantity + "_by_" + method);
            document.measurements.back().method = method;
        };
        for (const char *method : {"spectral", "tail"}) appendBy(method, "random_jitter");
        for (const char *quantity : {"periodic_jitter", "data_dependent_jitter", "duty_cycle_distortion"})
            appendRow(document, quantity, clock);
        appendBy("tail", "bounded_uncorrelated_jitter");
        SheetMaker sheet(bench, "Jitter of " + source);
        sheet.add("budget", id, 0, 0, 3);
        constexpr int smooth = 64; // edges
        sheet.add("trend", error, 1, 0).smooth = smooth;
        sheet.add("spectrum", error, 1, 1);
        sheet.add("jitter_histogram", id, 1, 2);
        sheet.add("bathtub", id, 2, 0);
        sheet.add("eye", eyeOf(document, clock, source), 2, 1);
        sheet.add("jitter_pattern", id, 2, 2);
        sheetAt = sheet.appendTo(document, "jitter_sheet");
    });
    if (!taken) return {};
    bench.showSheet(sheetAt);
    bench.select({Selection::Kind::budget, id});
    emit bench.told(proposed
                        ? QObject::tr("By a fixed clock that is found from %1: nothing is followed, all wander counts. "
                                      "A receiver follows slow wander; choose a loop in the clock's Inspector.")
                              .arg(text(source))
                        : QObject::tr("By the clock %1, which is on %2 already.").arg(text(clock), text(source)));
    return id;
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
