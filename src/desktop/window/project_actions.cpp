#include "project_actions.h"

#include "axis_painter.h"
#include "budget_edits.h"
#include "clock_edits.h"
#include "comparing.h"
#include "eye_edits.h"
#include "formula_edits.h"
#include "mask_actions.h"
#include "measurement_edits.h"
#include "phase_noise_edits.h"
#include "quantity_table.h"
#include "references.h"
#include "region_edits.h"
#include "sheet_actions.h"
#include "spectrum_edits.h"
#include "translated.h"

#include <QCoreApplication>

namespace fulvex {

namespace {

using Kind = Selection::Kind;
using Of = Action::Of;

/// Of which an eye's quantities can be measured.
bool isEyeOfUnitIntervals(const Workbench &bench, const std::string &id)
{
    const EyeEntry *eye = findEntry(bench.document().eyes, id);
    return eye && eye->atUnitIntervals();
}

void addMeasurements(Workbench &bench, std::vector<Action> &actions)
{
    for (const Quantity &quantity : quantities()) {
        const QString title = QCoreApplication::translate("Quantities", quantity.title);
        Action action{.id = QString("measure_") + quantity.name, .words = tr("Measure %3 of %1")};
        action.words.replace("%3", title);
        action.askOnly = true; // menus offer them together, in groups
        action.on = quantity.needs == Needs::source  ? Kind::channel
                    : quantity.needs == Needs::clock ? Kind::clock
                                                     : Kind::eye;
        if (quantity.takes("to"))
            action.enabled = [&bench](const Of &of) { return !otherChannel(bench.document(), of).empty(); };
        if (quantity.needs == Needs::eye)
            action.enabled = [&bench](const Of &of) { return isEyeOfUnitIntervals(bench, of); };
        action.act = [&bench, name = std::string(quantity.name)](const Of &of) { addMeasurement(bench, name, of); };
        actions.push_back(std::move(action));
    }
}

void addMeasuringAgain(Workbench &bench, std::vector<Action> &actions)
{
    Action action{.id = "measure_again", .words = tr("Measure the same of %1")};
    action.menu = "Measure/The chosen row again";
    action.brief = "%1";
    action.on = Kind::channel;
    action.each = true;
    action.act = [&bench](const Of &of) { measureAgain(bench, bench.selection().id, of); };
    action.enabled = [&bench](const Of &of) { return canMeasureAgain(bench, bench.selection().id, of); };
    actions.push_back(std::move(action));
    Action byClock{.id = "measure_by_clock", .words = tr("Measure the same by the clock %1")};
    byClock.menu = "Measure/The chosen row again";
    byClock.brief = tr("by the clock %1");
    byClock.on = Kind::clock;
    byClock.each = true;
    byClock.act = [&bench](const Of &of) { measureByClock(bench, bench.selection().id, of); };
    byClock.enabled = [&bench](const Of &of) {
        const MeasurementEntry *row = findEntry(bench.document().measurements, bench.selection().id);
        return row && !row->clock.empty() && row->clock != of;
    };
    actions.push_back(std::move(byClock));
    Action inRegion{.id = "measure_in_region", .words = tr("Measure the same in the region %1")};
    inRegion.menu = "Measure/The chosen row again";
    inRegion.brief = tr("in the region %1");
    inRegion.on = Kind::region;
    inRegion.each = true;
    inRegion.act = [&bench](const Of &of) { measureInRegion(bench, bench.selection().id, of); };
    inRegion.enabled = [&bench](const Of &of) {
        const MeasurementEntry *row = findEntry(bench.document().measurements, bench.selection().id);
        const Quantity *quantity = row ? findQuantity(row->quantity) : nullptr;
        return quantity && quantity->takes("region") && row->region != of;
    };
    actions.push_back(std::move(inRegion));
}

/// What lies about edges, or a pattern's repeats, laid over each other.
void addOverlays(Workbench &bench, std::vector<Action> &actions)
{
    Action edges{.id = "add_edge_overlay",
                 .words = tr("Lay what is about the edges of %1 over each other"),
                 .menu = "Channel",
                 .also = tr("pulse overlay trigger average"),
                 .on = Kind::channel,
                 .act = [&bench](const Of &of) { addEdgeOverlay(bench, of); }};
    actions.push_back(std::move(edges));
    Action pattern{.id = "add_pattern_overlay",
                   .words = tr("Lay the repeats of the pattern by %1 over each other"),
                   .menu = "Channel",
                   .also = tr("pattern overlay PRBS average"),
                   .on = Kind::clock,
                   .act = [&bench](const Of &of) { addPatternOverlay(bench, of); }};
    actions.push_back(std::move(pattern));
    Action average{.id = "add_average",
                   .words = tr("Take the averaged trace of %1 as a channel"),
                   .menu = "Channel",
                   .also = tr("mean repeats noise less"),
                   .on = Kind::eye,
                   .act = [&bench](const Of &of) { addAverage(bench, of); }};
    average.enabled = [&bench](const Of &of) {
        const EyeEntry *eye = findEntry(bench.document().eyes, of);
        return eye && !eye->atUnitIntervals();
    };
    actions.push_back(std::move(average));
}

void addClocksAndEyes(Workbench &bench, std::vector<Action> &actions)
{
    actions.push_back({.id = "add_loop",
                       .words = tr("Add a loop clock on %1"),
                       .menu = "Channel",
                       .key = QKeySequence("Ctrl+L"),
                       .on = Kind::channel,
                       .act = [&bench](const Of &of) { addClock(bench, of, "pll"); }});
    actions.push_back({.id = "add_fixed",
                       .words = tr("Add a fixed clock on %1"),
                       .menu = "Channel",
                       .key = QKeySequence("Ctrl+Shift+L"),
                       .on = Kind::channel,
                       .act = [&bench](const Of &of) { addClock(bench, of, "fixed"); }});
    Action beside{.id = "add_beside",
                  .words = tr("Take a clock that comes beside %1"),
                  .menu = "Channel",
                  .on = Kind::channel,
                  .act = [&bench](const Of &of) { addClock(bench, of, "forwarded"); }};
    beside.also = "forwarded source synchronous";
    beside.enabled = [&bench](const Of &) { return bench.document().channels.size() > 1; };
    actions.push_back(std::move(beside));
    actions.push_back({.id = "add_eye",
                       .words = tr("Add an eye of %2 by %1"),
                       .menu = "Channel",
                       .key = QKeySequence("Ctrl+E"),
                       .on = Kind::clock,
                       .act = [&bench](const Of &of) { addEye(bench, of); }});
    Action withClock{.id = "add_channel_eye",
                     .words = tr("Add an eye of %1, with a loop clock"),
                     .menu = "Channel",
                     .on = Kind::channel,
                     .act = [&bench](const Of &of) { addEyeOf(bench, of); }};
    withClock.enabled = [&bench](const Of &of) { // else the eye by that clock is the one
        const auto &clocks = bench.document().clocks;
        return std::none_of(clocks.begin(), clocks.end(), [&](const ClockEntry &one) { return one.source == of; });
    };
    actions.push_back(std::move(withClock));
    for (const auto &[id, quantity, words] :
         {std::tuple{"eye_box_levels", "eye_box_levels", tr("Histogram of the levels in the box of %1")},
          {"eye_box_times", "eye_box_times", tr("Histogram of the crossing times in the box of %1")}}) {
        Action box{.id = id, .words = words, .menu = "Measure", .also = tr("vertical horizontal"), .on = Kind::eye};
        box.act = [&bench, quantity](const Of &of) {
            const Question &asked = bench.question();
            measureEyeBox(bench, quantity, of, *asked.phases, *asked.values);
        };
        box.enabled = [&bench](const Of &of) {
            const Question &asked = bench.question();
            return asked.id == of && asked.phases && asked.values && isEyeOfUnitIntervals(bench, of);
        };
        actions.push_back(std::move(box));
    }
    Action window{.id = "window_eye",
                  .words = tr("Fold a window of %1 that is moved along the Strip"),
                  .menu = "Channel",
                  .key = QKeySequence("Ctrl+Shift+E"),
                  .on = Kind::eye,
                  .act = [&bench](const Of &of) { windowEye(bench, of); }};
    window.enabled = [&bench](const Of &of) {
        const EyeEntry *eye = findEntry(bench.document().eyes, of);
        return eye && eye->region.empty();
    };
    actions.push_back(std::move(window));
    Action whole{.id = "whole_eye",
                 .words = tr("Fold all of the record in %1"),
                 .menu = "Channel",
                 .on = Kind::eye,
                 .act = [&bench](const Of &of) {
                     bench.change(tr("fold all"), [&](Document &document) {
                         if (EyeEntry *eye = findEntry(document.eyes, of)) eye->region.clear();
                     });
                 }};
    whole.enabled = [&bench](const Of &of) {
        const EyeEntry *eye = findEntry(bench.document().eyes, of);
        return eye && !eye->region.empty();
    };
    actions.push_back(std::move(whole));
    addOverlays(bench, actions);
    addMasks(bench, actions);
}

void addSpectra(Workbench &bench, std::vector<Action> &actions)
{
    const auto ofOne = [&](const char *kind, const QString &words, const QString &also, bool apart) {
        actions.push_back({.id = QString("add_") + kind,
                           .words = words,
                           .menu = "Channel",
                           .on = Kind::channel,
                           .act = [&bench, kind](const Of &of) { addSpectrum(bench, kind, of); },
                           .apart = apart});
        actions.back().also = also;
    };
    ofOne("spectrum", tr("Add the spectrum of %1"), tr("frequency lines harmonics noise floor"), true);
    ofOne("spectrogram", tr("Add the spectrogram of %1"), tr("frequency over time"), false);
    ofOne("autocorrelation", tr("Add the autocorrelation of %1"), tr("comes again pattern"), false);
    for (const Kind on : {Kind::channel, Kind::clock})
        actions.push_back(
            {.id = on == Kind::channel ? "take_jitter_apart" : "take_clock_apart",
             .words = on == Kind::channel ? tr("Take the jitter of %1 apart") : tr("Take the jitter against %1 apart"),
             .menu = on == Kind::channel ? "Channel" : "Measure",
             .also = tr("jitter budget bathtub random periodic data dependent total"),
             .on = on,
             .act = [&bench](const Of &of) { takeJitterApart(bench, of); },
             .apart = on == Kind::channel});
    for (const Kind on : {Kind::channel, Kind::clock})
        actions.push_back(
            {.id = on == Kind::channel ? "add_phase_noise" : "add_clock_phase_noise",
             .words = on == Kind::channel ? tr("Add the phase noise of %1") : tr("Add the phase noise against %1"),
             .menu = on == Kind::channel ? "Channel" : "Measure",
             .also = tr("carrier offset dBc integrated jitter time deviation accumulated"),
             .on = on,
             .act = [&bench](const Of &of) { addPhaseNoise(bench, of); }});
    actions.push_back({.id = "lay_over_phase_noise",
                       .words = tr("Lay %1 over the phase noise that is shown"),
                       .menu = "Measure",
                       .also = tr("compare overlay difference"),
                       .on = Kind::phaseNoise,
                       .act = [&bench](const Of &of) { layOver(bench, of); },
                       .enabled = [&bench](const Of &of) { return canLayOver(bench, of); }});
    actions.push_back({.id = "add_row_spectrum",
                       .words = tr("Add the averaged spectrum of %1"),
                       .menu = "Measure",
                       .also = tr("frequency lines harmonics noise floor jitter spectrum"),
                       .on = Kind::measurement,
                       .act = [&bench](const Of &of) { addSpectrumOfRow(bench, of); }});
    for (const MeasurementEntry &row : bench.document().measurements) {
        Action action{.id = "add_transfer_to_row " + text(row.id)};
        action.words = tr("Add the transfer function from %1 to the trend of %3").replace("%3", text(row.id));
        action.menu = "Channel/" + tr("Add the transfer function from %1 to a trend");
        action.brief = text(row.id);
        action.also = tr("coherence suspect");
        action.on = Kind::channel;
        action.act = [&bench, row = row.id](const Of &of) { addTransferToRow(bench, of, row); };
        action.enabled = [&bench, row = row.id](const Of &) { // a single number has no trend
            const Row *result = bench.results() ? findEntry(bench.results()->rows, row) : nullptr;
            return result && result->measurable() && !result->measured->single;
        };
        actions.push_back(std::move(action));
    }
    for (const ChannelEntry &other : bench.document().channels) {
        Action action{.id = "add_transfer " + text(other.id)};
        action.words = tr("Add the transfer function from %1 to %3").replace("%3", text(other.id));
        action.menu = "Channel/" + tr("Add the transfer function from %1 to");
        action.brief = text(other.id);
        action.on = Kind::channel;
        action.act = [&bench, to = other.id](const Of &of) { addSpectrum(bench, "transfer", of, to); };
        action.enabled = [to = other.id](const Of &of) { return of != to; };
        actions.push_back(std::move(action));
    }
}

void addLevels(Workbench &bench, std::vector<Action> &actions)
{
    actions.push_back({.id = "measure_levels",
                       .words = tr("Measure the levels of %1"),
                       .menu = "Channel",
                       .also = tr("envelope keyed steps histogram peaks"),
                       .on = Kind::channel,
                       .act = [&bench](const Of &of) { bench.measureLevels(of); }});
}

/// A channel of a file to another channel, by their edges or their shape.
void addAlignments(Workbench &bench, std::vector<Action> &actions)
{
    for (const ChannelEntry &other : bench.document().channels) {
        for (const bool byEdges : {true, false}) {
            const QString how = byEdges ? tr("edges") : tr("correlation");
            Action action{.id = QString("align_") + (byEdges ? "edges " : "shape ") + text(other.id)};
            action.words = tr("Align %1 to %3 by %4").replace("%3", text(other.id)).replace("%4", how);
            action.menu = "Channel/" + tr("Align %1 to");
            action.brief = tr("%1 by %2").arg(text(other.id), how);
            action.on = Kind::channel;
            action.act = [&bench, to = other.id, byEdges](const Of &of) { bench.align(of, to, byEdges); };
            action.enabled = [&bench, to = other.id](const Of &of) {
                const ChannelEntry *channel = findEntry(bench.document().channels, of);
                return channel && channel->formula.empty() && of != to;
            };
            actions.push_back(std::move(action));
        }
    }
}

/// A channel beside another, and what one is made of for others.
void addComparing(Workbench &bench, std::vector<Action> &actions)
{
    const auto among = [&](const QString &id, const QString &words, const QString &menu, const std::string &other,
                           std::function<void(const Of &)> act) {
        Action action{.id = id + text(other)};
        action.words = QString(words).replace("%3", text(other));
        action.menu = "Channel/" + menu;
        action.brief = text(other);
        action.on = Kind::channel;
        action.act = std::move(act);
        action.enabled = [other](const Of &of) { return of != other; };
        actions.push_back(std::move(action));
    };
    for (const ChannelEntry &entry : bench.document().channels) {
        const std::string other = entry.id;
        among("overlay ", tr("Show %1 and %3 in one tile"), tr("Show %1 in one tile with"), other,
              [&bench, other](const Of &of) { overlay(bench, of, other); });
        among("subtract ", tr("Subtract %3 from %1"), tr("Subtract from %1"), other,
              [&bench, other](const Of &of) { subtract(bench, of, other); });
        for (const bool byEdges : {true, false})
            among(byEdges ? "subtract_by_edges_" : "subtract_by_shape_",
                  byEdges ? tr("Align %3 to %1 by edges, then subtract it")
                          : tr("Align %3 to %1 by correlation, then subtract it"),
                  byEdges ? tr("Align to %1 by edges, then subtract") : tr("Align to %1 by correlation, then subtract"),
                  other, [&bench, other, byEdges](const Of &of) { subtractAligned(bench, of, other, byEdges); });
        among("same_of ", tr("Make of %3 what %1 is made of"), tr("What %1 is made of, for"), other,
              [&bench, other](const Of &of) { computeOfOthers(bench, of, {other}); });
        actions.back().enabled = [&bench, other](const Of &of) {
            const std::string from = formulaIsOf(bench.document(), of);
            return !from.empty() && from != other && of != other;
        };
    }
    for (const CaptureEntry &capture : bench.document().captures) {
        const auto others = [&bench, id = capture.id](const Of &of) {
            std::vector<std::string> found;
            const std::string from = formulaIsOf(bench.document(), of);
            for (const ChannelEntry &entry : bench.document().channels)
                if (entry.capture == id && entry.id != from && !from.empty()) found.push_back(entry.id);
            return found;
        };
        Action action{.id = "same_of_all " + text(capture.id)};
        action.words = tr("Make of every channel of %3 what %1 is made of").replace("%3", text(capture.id));
        action.menu = "Channel/" + tr("What %1 is made of, for");
        action.brief = tr("every channel of %1").arg(text(capture.id));
        action.on = Kind::channel;
        action.act = [&bench, others](const Of &of) { computeOfOthers(bench, of, others(of)); };
        action.enabled = [others](const Of &of) { return !others(of).empty(); };
        actions.push_back(std::move(action));
    }
}

void addEdits(Workbench &bench, std::vector<Action> &actions)
{
    actions.push_back({.id = "undo",
                       .words = tr("Undo"),
                       .menu = "Edit",
                       .key = QKeySequence::Undo,
                       .act = [&bench](const Of &) { bench.undoStack().undo(); },
                       .enabled = [&bench](const Of &) { return bench.undoStack().canUndo(); }});
    actions.push_back({.id = "redo",
                       .words = tr("Redo"),
                       .menu = "Edit",
                       .key = QKeySequence("Ctrl+Shift+Z"),
                       .act = [&bench](const Of &) { bench.undoStack().redo(); },
                       .enabled = [&bench](const Of &) { return bench.undoStack().canRedo(); }});
    actions.push_back({.id = "compute",
                       .words = tr("Compute again"),
                       .menu = "Edit",
                       .key = QKeySequence("F9"),
                       .act = [&bench](const Of &) { bench.evaluateAnew(); },
                       .apart = true});
    actions.push_back(
        {.id = "stop",
         .words = tr("Stop computing, reading and writing"),
         .menu = "Edit",
         .also = tr("cancel abort"),
         .key = QKeySequence("Ctrl+."),
         .act =
             [&bench](const Of &) {
                 bench.evaluator().cancel();
                 bench.errands().cancel();
             },
         .enabled =
             [&bench](const Of &) { return bench.evaluator().busy() || bench.errands().busy() || bench.waiting(); }});
    actions.push_back({.id = "keep_copy",
                       .words = tr("Keep a copy of %1"),
                       .menu = "Channel",
                       .key = QKeySequence("Ctrl+K"),
                       .on = Kind::channel,
                       .act = [&bench](const Of &of) { bench.keepCopy(of); }});
}

/// Numbers and formulas that other formulas name.
void addParameters(Workbench &bench, std::vector<Action> &actions)
{
    actions.push_back({.id = "add_parameter",
                       .words = tr("Add a parameter"),
                       .menu = "Channel",
                       .act =
                           [&bench](const Of &) {
                               bench.select({Kind::parameter, addParameter(bench, {.id = "parameter", .value = 1})});
                           },
                       .apart = true});
    actions.push_back({.id = "add_function",
                       .words = tr("Add a function of one's own"),
                       .menu = "Channel",
                       .act = [&bench](const Of &) {
                           bench.select({Kind::function, addFunction(bench)});
                       }});
    actions.push_back(
        {.id = "show_parameter", .words = tr("Set parameter %1"), .on = Kind::parameter, .act = [&bench](const Of &of) {
             bench.select({Kind::parameter, of});
         }});
    actions.push_back(
        {.id = "show_program", .words = tr("Look at program %1"), .on = Kind::program, .act = [&bench](const Of &of) {
             bench.select({Kind::program, of});
         }});
    actions.push_back(
        {.id = "show_function", .words = tr("Edit function %1"), .on = Kind::function, .act = [&bench](const Of &of) {
             bench.select({Kind::function, of});
         }});
}

/// What stands at the end of each context menu.
void addRemovals(Workbench &bench, std::vector<Action> &actions)
{
    for (const Kind kind : {Kind::capture, Kind::channel, Kind::clock, Kind::eye, Kind::mask, Kind::measurement,
                            Kind::note, Kind::region, Kind::marker, Kind::parameter, Kind::function, Kind::spectrum,
                            Kind::budget, Kind::phaseNoise, Kind::program, Kind::comparison, Kind::plan}) {
        actions.push_back({.id = "remove_" + kindWords(kind),
                           .words = tr("Remove the %3 %1").replace("%3", kindWords(kind)),
                           .on = kind,
                           .act =
                               [&bench](const Of &of) {
                                   if (bench.selection().id == of) bench.select({});
                                   bench.change(tr("remove %1").arg(text(of)),
                                                [&](Document &document) { removeWithDependents(document, of); });
                               },
                           .apart = true,
                           .byHand = tr("Delete")});
    }
}

} // namespace

std::vector<Action> projectActions(Workbench &bench)
{
    std::vector<Action> actions;
    addEdits(bench, actions);
    addViews(bench, actions);
    addMeasurements(bench, actions);
    addMeasuringAgain(bench, actions);
    addClocksAndEyes(bench, actions);
    addSpectra(bench, actions);
    addLevels(bench, actions);
    addParameters(bench, actions);
    addAlignments(bench, actions);
    addComparing(bench, actions);
    addSheets(bench, actions);
    addRemovals(bench, actions);
    return actions;
}

} // namespace fulvex
