#include "run_actions.h"

#include "axis_painter.h"
#include "sheet_maker.h"
#include "translated.h"

#include <QFileDialog>
#include <QInputDialog>
#include <QSettings>
#include <algorithm>

namespace fulvex {

namespace {

using Kind = Selection::Kind;
using Of = Action::Of;

QString folderOf(const Workbench &bench, const std::string &capture)
{
    const CaptureEntry *entry = findEntry(bench.document().captures, capture);
    return entry ? QString::fromStdString((bench.base() / entry->file).parent_path().string()) : QString();
}

bool isOfRun(const Workbench &bench, const std::string &capture)
{
    const CaptureEntry *entry = findEntry(bench.document().captures, capture);
    return entry && entry->isRun();
}

/// The channel that a capture's sheet shows: one that is computed of it, or its first.
std::string channelOfCapture(const Document &document, const std::string &capture)
{
    for (const EyeEntry &eye : document.eyes)
        if (!eye.source.empty()) return eye.source;
    for (const ChannelEntry &channel : document.channels)
        if (channel.capture == capture) return channel.id;
    return {};
}

std::vector<Action> takingActions(Workbench &bench, QWidget *window)
{
    const auto take = [&bench](const Of &of, const QStringList &files, bool watched) {
        bench.makeRun(of, files, watched);
        addRunSheet(bench, of);
    };
    const auto folder = [&bench, window, take](const Of &of, const QString &title, bool watched) {
        const QString path = QFileDialog::getExistingDirectory(window, title, folderOf(bench, of));
        if (!path.isEmpty()) take(of, {path}, watched);
    };
    std::vector<Action> actions;
    actions.push_back({.id = "run_of_files",
                       .words = tr("Take files as a run of %1…"),
                       .menu = "Capture",
                       .also = tr("many captures accumulate add up several"),
                       .on = Kind::capture,
                       .act =
                           [&bench, window, take](const Of &of) {
                               const QStringList files = QFileDialog::getOpenFileNames(
                                   window, tr("Captures of the same thing"), folderOf(bench, of));
                               if (!files.isEmpty()) take(of, files, false);
                           },
                       .apart = true});
    actions.push_back(
        {.id = "run_of_folder",
         .words = tr("Take a folder as a run of %1…"),
         .menu = "Capture",
         .also = tr("many captures accumulate add up directory"),
         .on = Kind::capture,
         .act = [folder](const Of &of) { folder(of, tr("A folder of captures of the same thing"), false); }});
    actions.push_back({.id = "run_watched",
                       .words = tr("Watch a folder as a run of %1…"),
                       .menu = "Capture",
                       .also = tr("arriving night directory follow"),
                       .on = Kind::capture,
                       .act = [folder](const Of &of) { folder(of, tr("A folder that captures come to"), true); }});
    actions.push_back({.id = "run_end",
                       .words = tr("Take %1 alone again"),
                       .menu = "Capture",
                       .on = Kind::capture,
                       .act = [&bench](const Of &of) { bench.endRun(of); },
                       .enabled = [&bench](const Of &of) { return isOfRun(bench, of); }});
    return actions;
}

bool isLive(const Workbench &bench, const std::string &capture)
{
    const CaptureEntry *entry = findEntry(bench.document().captures, capture);
    return entry && !entry->live.address.empty();
}

} // namespace

QString askForInstrument(QWidget *parent)
{
    constexpr const char *key = "instrument";
    bool given = false;
    const QString address =
        QInputDialog::getText(parent, tr("An instrument"), tr("Its address (HOST or HOST:PORT):"), QLineEdit::Normal,
                              QSettings().value(key, "127.0.0.1:5025").toString(), &given)
            .trimmed();
    if (!given || address.isEmpty()) return {};
    QSettings().setValue(key, address);
    return address;
}

namespace {

std::vector<Action> liveActions(Workbench &bench, QWidget *window)
{
    const auto live = [&bench](const Of &of) { return isLive(bench, of); };
    std::vector<Action> actions;
    actions.push_back({.id = "live_add",
                       .words = tr("Take captures from an instrument…"),
                       .menu = "Capture",
                       .also = tr("live source SCPI acquire connect network"),
                       .act =
                           [&bench, window](const Of &) {
                               const QString address = askForInstrument(window);
                               if (address.isEmpty()) return;
                               const std::string id = bench.addLive(address, "brackwater");
                               if (!id.empty() && bench.acquire(id, 1)) bench.select({Kind::capture, id});
                           },
                       .apart = true});
    actions.push_back({.id = "live_one",
                       .words = tr("Acquire one capture by %1"),
                       .menu = "Capture",
                       .key = QKeySequence("F5"),
                       .on = Kind::capture,
                       .act = [&bench](const Of &of) { bench.acquire(of, 1); },
                       .enabled = live});
    actions.push_back({.id = "live_repeat",
                       .words = tr("Acquire again and again by %1"),
                       .menu = "Capture",
                       .key = QKeySequence("F6"),
                       .on = Kind::capture,
                       .act = [&bench](const Of &of) { bench.acquire(of, 0); },
                       .enabled = live});
    actions.push_back({.id = "live_stop",
                       .words = tr("Stop acquiring"),
                       .menu = "Capture",
                       .key = QKeySequence("Shift+F6"),
                       .act = [&bench](const Of &) { bench.live().stop(); },
                       .enabled = [&bench](const Of &) { return bench.live().running(); }});
    return actions;
}

std::vector<Action> goingActions(Workbench &bench, QWidget *window)
{
    const auto inRun = [&bench](const Of &) { return hasRun(bench.document()); };
    std::vector<Action> actions;
    actions.push_back({.id = "run_next",
                       .words = tr("The next capture of the run"),
                       .menu = "Capture",
                       .key = QKeySequence("F8"),
                       .act = [&bench](const Of &) { bench.stepMember(1); },
                       .enabled = inRun,
                       .apart = true});
    actions.push_back({.id = "run_previous",
                       .words = tr("The capture of the run before"),
                       .menu = "Capture",
                       .key = QKeySequence("F7"),
                       .act = [&bench](const Of &) { bench.stepMember(-1); },
                       .enabled = inRun});
    actions.push_back({.id = "run_worst",
                       .words = tr("The worst capture of the run"),
                       .menu = "Capture",
                       .key = QKeySequence("Shift+F8"),
                       .act =
                           [&bench](const Of &) {
                               for (const RunLine &line : bench.run()->lines)
                                   if (line.error.empty()) return bench.showMember(line.capture);
                           },
                       .enabled = [&bench](const Of &) { return bench.run() && !bench.run()->lines.empty(); }});
    actions.push_back({.id = "run_leave_out",
                       .words = tr("Leave the shown capture out of the run…"),
                       .menu = "Capture",
                       .act = [&bench, window](const Of &) { askAndLeaveOut(bench, bench.shownMember(), window); },
                       .enabled = inRun});
    actions.push_back({.id = "run_stop",
                       .words = tr("Stop counting the run"),
                       .menu = "Capture",
                       .act = [&bench](const Of &) { bench.runKeeper().stop(!bench.runKeeper().isStopped()); },
                       .enabled = inRun,
                       .checked = [&bench](const Of &) { return bench.runKeeper().isStopped(); }});
    actions.push_back({.id = "run_anew",
                       .words = tr("Count the run anew"),
                       .menu = "Capture",
                       .also = tr("reset clear accumulate"),
                       .act = [&bench](const Of &) { bench.runKeeper().countAnew(); },
                       .enabled = inRun});
    actions.push_back({.id = "run_sheet",
                       .words = tr("Add a sheet of the run of %1"),
                       .menu = "Capture",
                       .also = tr("overview captures worst"),
                       .on = Kind::capture,
                       .act = [&bench](const Of &of) { addRunSheet(bench, of); },
                       .enabled = [&bench](const Of &of) { return isOfRun(bench, of); }});
    return actions;
}

/// Which captures of the run a tile shows.
std::vector<Action> tileActionsOfRuns(Workbench &bench)
{
    struct Way {
        const char *id, *captures;
        QString words;
    };
    const Way ways[] = {{"tile_run_one", "one", tr("Show the chosen capture of the run in %1")},
                        {"tile_run_all", "all", tr("Show all captures of the run together in %1")},
                        {"tile_run_recent", "recent", tr("Show the last captures of the run in %1, fading")}};
    const auto tileOf = [&bench](Document &document, const Of &of) -> TileEntry * {
        auto &sheets = document.sheets;
        return std::size_t(bench.sheet()) < sheets.size() ? findEntry(sheets[std::size_t(bench.sheet())].tiles, of)
                                                          : nullptr;
    };
    std::vector<Action> actions;
    for (const Way &way : ways) {
        const std::string captures = way.captures;
        Action action{.id = way.id, .words = way.words};
        action.on = Kind::tile;
        action.act = [&bench, tileOf, captures](const Of &of) {
            bench.change(tr("which captures a tile shows"), [&](Document &document) {
                if (TileEntry *tile = tileOf(document, of)) tile->captures = captures;
            });
        };
        action.enabled = [&bench, tileOf, captures](const Of &of) {
            const TileEntry *tile = tileOf(const_cast<Document &>(bench.document()), of); // which is only looked at
            if (!tile || !hasRun(bench.document())) return false;
            return tile->addsUp() && (captures != "recent" || tile->fades());
        };
        action.checked = [&bench, tileOf, captures](const Of &of) {
            const TileEntry *tile = tileOf(const_cast<Document &>(bench.document()), of);
            return tile && tile->captures == captures;
        };
        actions.push_back(std::move(action));
    }
    return actions;
}

} // namespace

std::vector<Action> runActions(Workbench &bench, QWidget *window)
{
    std::vector<Action> actions = takingActions(bench, window);
    for (auto more : {liveActions(bench, window), goingActions(bench, window), tileActionsOfRuns(bench)})
        std::move(more.begin(), more.end(), std::back_inserter(actions));
    return actions;
}

void askAndLeaveOut(Workbench &bench, const std::string &name, QWidget *parent)
{
    if (name.empty()) return;
    bool given = false;
    const QString reason = QInputDialog::getText(
        parent, tr("Leave a capture out"), tr("Why %1 does not count:").arg(text(name)), QLineEdit::Normal, {}, &given);
    if (given) bench.leaveMemberOut(name, reason.trimmed().toStdString());
}

void addRunSheet(Workbench &bench, const std::string &capture)
{
    if (!isOfRun(bench, capture)) return;
    const auto &sheets = bench.document().sheets;
    for (std::size_t i = 0; i < sheets.size(); ++i) // it is there already
        for (const TileEntry &tile : sheets[i].tiles)
            if (tile.kind == "run" && !tile.of.empty() && tile.of.front() == capture) return bench.showSheet(int(i));
    int sheetAt = -1;
    bench.change(tr("add a sheet of the run"), [&](Document &document) {
        SheetMaker sheet(bench, "Run of " + capture);
        sheet.add("run", capture, 0, 0, 2);
        const auto limited = std::find_if(document.measurements.begin(), document.measurements.end(),
                                          [](const MeasurementEntry &entry) { return entry.limit.isSet(); });
        if (limited != document.measurements.end())
            sheet.add("run_trend", limited->id, 0, 2);
        else if (!document.measurements.empty())
            sheet.add("run_trend", document.measurements.front().id, 0, 2);
        if (!document.eyes.empty()) {
            std::string eye = document.eyes.front().id;
            for (const EyeEntry &one : document.eyes)
                if (maskOn(document, one.id)) {
                    eye = one.id;
                    break;
                }
            sheet.add("eye", eye, 1, 0);
            sheet.add("eye", eye, 1, 1).captures = "all";
        }
        if (const std::string channel = channelOfCapture(document, capture); !channel.empty())
            sheet.add("traces", channel, 1, 2);
        sheetAt = sheet.appendTo(document, "run_sheet");
    });
    if (sheetAt >= 0) bench.showSheet(sheetAt);
}

} // namespace fulvex
