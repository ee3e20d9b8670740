#include "budget_edits.h"

#include "action.h"
#include "axis_painter.h"
#include "document_edits.h"
#include "measurement_edits.h"
#include "references.h"

#include <algorithm>
#include <cmath>
#include <tuple>

namespace fulvex {

namespace {

std::string appendRow(Document &document, const std::string &quantity, const std::string &clock,
                      const std::string &method = {})
{
    MeasurementEntry entry;
    entry.id = freeId(document, method.empty() ? quantity : quantity + "_by_" + method);
    entry.quantity = quantity;
    entry.clock = clock;
    entry.method = method;
    document.measurements.push_back(entry);
    return entry.id;
}

} // namespace

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
        for (const char *method : {"spectral", "tail"}) appendRow(document, "random_jitter", clock, method);
        for (const char *quantity : {"periodic_jitter", "data_dependent_jitter", "duty_cycle_distortion"})
            appendRow(document, quantity, clock);
        appendRow(document, "bounded_uncorrelated_jitter", clock, "tail");
        SheetEntry sheet;
        if (const auto whole = bench.record()) std::tie(sheet.from, sheet.to) = *whole;
        sheet.id = freeId(document, "jitter_sheet");
        sheet.title = "Jitter of " + source;
        const auto add = [&](const char *kind, const std::string &shown, int row, int column, int wide) {
            TileEntry tile;
            tile.kind = kind;
            tile.of = {shown};
            tile.row = row;
            tile.column = column;
            tile.columnSpan = wide;
            // Ids of tiles are told apart in the document that has them already.
            document.sheets.push_back(sheet);
            tile.id = freeId(document, kind);
            document.sheets.pop_back();
            sheet.tiles.push_back(tile);
        };
        add("budget", id, 0, 0, 3);
        add("trend", error, 1, 0, 1);
        add("spectrum", error, 1, 1, 1);
        add("jitter_histogram", id, 1, 2, 1);
        add("bathtub", id, 2, 0, 1);
        add("jitter_pattern", id, 2, 1, 1);
        add("jitter_tails", id, 2, 2, 1);
        document.sheets.push_back(sheet);
        sheetAt = int(document.sheets.size()) - 1;
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

bool switchLine(Workbench &bench, const std::string &id, std::size_t part)
{
    const BudgetResult *result = bench.results() ? findEntry(bench.results()->budgets, id) : nullptr;
    if (!result || !result->found || part >= result->budget.parts.size()) return false;
    const JitterBudget::Part &piece = result->budget.parts[part];
    if (piece.kind != JitterBudget::Part::Kind::line) return false;
    const double frequency = result->found->lines[piece.line].frequency;
    return bench.change(piece.leftOut ? QObject::tr("take a line back in") : QObject::tr("leave a line out"),
                        [&](Document &document) {
                            BudgetEntry *budget = findEntry(document.budgets, id);
                            if (!budget) return;
                            constexpr double near = 0.01;
                            const auto removed = std::erase_if(budget->without, [&](double one) {
                                return std::abs(one - frequency) < near * frequency;
                            });
                            if (removed == 0) budget->without.push_back(frequency);
                        });
}

} // namespace fulvex
