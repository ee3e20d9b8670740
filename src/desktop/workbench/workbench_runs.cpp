// The workbench's runs: captures of one thing, this one and all of them.

#include "axis_painter.h"
#include "part_file.h"
#include "workbench.h"

#include <algorithm>

namespace fulvex {

void Workbench::followRun()
{
    m_runKeeper.setShown(ownMember(document()).files);
    std::string key = std::to_string(session());
    const bool counts = hasRun(document()) && !m_held;
    if (counts) {
        key += identityOf(document());
        for (const CaptureEntry &capture : document().captures) {
            const RunOptions &run = capture.run;
            if (run.files.empty()) key += "\n=" + capture.file;
            if (!capture.live.address.empty()) key += "\n@" + capture.live.keep + std::to_string(capture.live.last);
            for (const std::string &file : run.files) key += "\n" + file;
            for (const auto &[file, why] : run.leftOut) key += "\n-" + file;
            key += "\n" + std::to_string(run.stopAt.value_or(0)) + (run.watched ? "w" : "");
        }
        for (const SheetEntry &sheet : document().sheets)
            for (const TileEntry &tile : sheet.tiles)
                if (tile.captures != "one" && tile.fades()) {
                    key += "\n~" + tile.kind + (tile.kind == "eye" ? tile.captures : "");
                    for (const std::string &id : tile.of) key += "," + id;
                }
    }
    if (std::exchange(m_runKey, key) == key) return; // nothing that a run depends on
    m_runKeeper.follow(counts ? document() : Document(), base(), session());
}

void Workbench::takeRun(std::shared_ptr<const RunSnapshot> snapshot)
{
    if (snapshot->session != session()) return;
    const bool endedNow = snapshot->ended && !(m_run && m_run->ended);
    m_run = hasRun(document()) ? std::move(snapshot) : nullptr;
    emit runChanged();
    if (m_run && endedNow && m_live.running()) m_live.stop();
    if (m_run && endedNow)
        emit told(tr("The run ended: %n capture(s) failed, as many as it was to end at.", "", int(m_run->failed)));
}

std::shared_ptr<const Results> Workbench::resultsFor(const TileEntry &tile) const
{
    if (tile.captures == "one" || !hasRun(document())) return sharedResults();
    if (tile.captures == "recent") return m_run ? m_run->recent : nullptr;
    return m_run ? m_run->all : nullptr;
}

const RunMember *Workbench::member(const std::string &name) const
{
    if (!m_run) return nullptr;
    const auto at = std::find_if(m_run->members.begin(), m_run->members.end(),
                                 [&](const RunMember &one) { return one.name == name; });
    return at == m_run->members.end() ? nullptr : &*at;
}

std::string Workbench::shownMember() const
{
    return hasRun(document()) ? ownMember(document()).name : std::string();
}

void Workbench::showMember(const std::string &name)
{
    const RunMember *wanted = member(name);
    if (!wanted || name == shownMember()) return;
    std::error_code failure;
    for (const std::string &file : wanted->files)
        if (!std::filesystem::exists(base() / file, failure))
            return emit told(tr("%1 is not there any more: only its numbers are kept.").arg(text(file)));
    change(
        tr("show %1").arg(text(name)),
        [member = *wanted](Document &document) { document = documentOf(document, member); }, "member");
}

void Workbench::stepMember(int by)
{
    if (!m_run || m_run->members.empty()) return;
    const auto &members = m_run->members;
    const auto shown = std::find_if(members.begin(), members.end(),
                                    [own = shownMember()](const RunMember &one) { return one.name == own; });
    const int last = int(members.size()) - 1;
    const int at = shown == members.end() ? (by > 0 ? -1 : last + 1) : int(shown - members.begin());
    showMember(members[std::size_t(std::clamp(at + by, 0, last))].name);
}

void Workbench::leaveMemberOut(const std::string &name, const std::string &reason)
{
    const RunMember *out = member(name);
    if (!out || reason.empty()) return;
    change(tr("leave %1 out").arg(text(name)), [member = *out, reason](Document &document) {
        for (std::size_t i = 0; i < document.captures.size(); ++i) {
            if (!document.captures[i].isRun()) continue;
            document.captures[i].run.leftOut[memberName(member.files[i], member.segments[i])] = reason;
            return; // one of its files is enough
        }
    });
}

void Workbench::countMember(const std::string &name)
{
    const RunMember *again = member(name);
    if (!again) return;
    change(tr("count %1 again").arg(text(name)), [member = *again](Document &document) {
        for (std::size_t i = 0; i < document.captures.size(); ++i)
            document.captures[i].run.leftOut.erase(memberName(member.files[i], member.segments[i]));
    });
}

void Workbench::makeRun(const std::string &capture, const QStringList &files, bool watched)
{
    change(tr("a run of %1").arg(text(capture)), [&](Document &document) {
        CaptureEntry *entry = findEntry(document.captures, capture);
        if (!entry) return;
        std::vector<std::string> &list = entry->run.files;
        const auto add = [&](const std::string &file) {
            if (std::find(list.begin(), list.end(), file) == list.end()) list.push_back(file);
        };
        if (list.empty() && !watched && !entry->file.empty()) add(entry->file);
        for (const QString &file : files) add(keptPath(file.toStdString(), base()));
        entry->run.watched = watched;
    });
}

void Workbench::endRun(const std::string &capture)
{
    change(tr("no run of %1").arg(text(capture)), [&](Document &document) {
        CaptureEntry *entry = findEntry(document.captures, capture);
        if (!entry) return;
        entry->run = {};
        entry->live = {};
        entry->import.segment.reset();
    });
}

} // namespace fulvex
