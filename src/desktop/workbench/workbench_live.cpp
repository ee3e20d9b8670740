// The workbench's live source: an instrument whose captures are a run.

#include "axis_painter.h"
#include "capture_reader.h"
#include "live_file.h"
#include "workbench.h"

#include <QDateTime>
#include <QFileInfo>
#include <QStandardPaths>
#include <algorithm>

namespace fulvex {

/// Where captures are kept: beside the project, or among the user's data where it lies nowhere yet.
static std::string liveFolder(const QString &project)
{
    const QFileInfo its(project);
    if (!project.isEmpty()) return (its.absolutePath() + "/" + its.completeBaseName() + "-live").toStdString();
    const QString folder = QStandardPaths::writableLocation(QStandardPaths::AppDataLocation) + "/live/" +
                           QDateTime::currentDateTime().toString("yyyyMMdd-hhmmss-zzz");
    return folder.toStdString();
}

std::string Workbench::addLive(const QString &address, const std::string &dialect)
{
    std::string id;
    const bool taken = change(tr("add the instrument at %1").arg(address), [&](Document &document) {
        CaptureEntry entry;
        entry.id = id = freeId(document, "live");
        entry.live.address = address.trimmed().toStdString();
        entry.live.dialect = dialect;
        entry.live.folder = liveFolder(path());
        entry.run.files = {livePattern(entry.live.folder)};
        entry.run.watched = true;
        document.captures.push_back(entry);
    });
    return taken ? id : std::string();
}

bool Workbench::acquire(const std::string &capture, std::size_t captures)
{
    const CaptureEntry *entry = findEntry(document().captures, capture);
    if (!entry || entry->live.address.empty()) return false;
    constexpr std::size_t mostWaiting = 6;
    m_liveInto = {};
    try {
        m_live.start(*entry, base(), captures, [this] { return m_runKeeper.waiting() < mostWaiting; });
    } catch (const Error &error) {
        emit failed(text(error.what()));
        return false;
    }
    return true;
}

bool Workbench::acquireInto(const QString &address, const std::string &dialect, std::size_t captures,
                            std::function<void(const QString &file)> take)
{
    CaptureEntry entry;
    entry.id = "apart";
    entry.live.address = address.trimmed().toStdString();
    entry.live.dialect = dialect;
    entry.live.folder = liveFolder(path()) + "/apart"; // where no run looks for its own
    try {
        m_live.start(entry, base(), captures, [] { return true; });
    } catch (const Error &error) {
        emit failed(text(error.what()));
        return false;
    }
    m_liveInto = std::move(take);
    return true;
}

void Workbench::takeLive(const std::string &capture, const QString &file)
{
    if (m_liveInto) return m_liveInto(file);
    const CaptureEntry *entry = findEntry(document().captures, capture);
    if (!entry || entry->live.address.empty()) return m_live.stop(); // it is there no more
    const std::string kept = keptPath(file.toStdString(), base());
    m_runKeeper.arrive(capture, kept);
    if (entry->file.empty()) return beginLive(capture, kept);
    // The newest is shown, as often as it can be looked at.
    constexpr int often = 400; // ms
    if (!m_live.running() || m_evaluator.busy() || (m_shownLive.isValid() && m_shownLive.elapsed() < often)) return;
    m_shownLive.start();
    change(
        tr("show %1").arg(text(kept)),
        [&](Document &document) {
            CaptureEntry *its = findEntry(document.captures, capture);
            its->file = kept;
            its->sha256.clear();
            its->bytes.reset();
        },
        "member");
}

void Workbench::beginLive(const std::string &capture, const std::string &file)
{
    struct Found {
        std::vector<std::string> names, units;
    };
    const auto found = std::make_shared<Found>();
    m_errands.run(
        [found, path = base() / file](Progress &progress) {
            for (const Waveform &column : readCapture(path, {}, progress).columns) {
                found->names.push_back(column.name);
                found->units.push_back(column.unit);
            }
        },
        m_project.here([this, capture, file, found] {
            const CaptureEntry *now = findEntry(document().captures, capture);
            if (!now || !now->file.empty()) return; // another came first
            change(tr("take the channels of %1").arg(text(capture)), [&](Document &document) {
                findEntry(document.captures, capture)->file = file;
                const bool any = std::any_of(document.channels.begin(), document.channels.end(),
                                             [&](const ChannelEntry &one) { return one.capture == capture; });
                if (any) return;
                TileEntry traces;
                traces.kind = "traces";
                for (std::size_t i = 0; i < found->names.size(); ++i) {
                    ChannelEntry channel;
                    channel.id = freeId(document, found->names[i]);
                    channel.capture = capture;
                    channel.column = int(i);
                    channel.unit = found->units[i];
                    traces.of.push_back(channel.id);
                    document.channels.push_back(channel);
                }
                SheetEntry sheet;
                sheet.id = freeId(document, capture);
                sheet.title = "Live";
                sheet.tiles.push_back(traces);
                document.sheets.push_back(sheet);
                nameTiles(document);
            });
            showSheet(int(document().sheets.size()) - 1);
        }));
}

} // namespace fulvex
