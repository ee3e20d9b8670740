// What the window says of itself in its message bar, with what can be done about it.

#include "axis_painter.h"
#include "crash_dialog.h"
#include "crash_note.h"
#include "main_window.h"
#include "moved_captures.h"
#include "project_file.h"

#include <QFileDialog>
#include <QFileInfo>

namespace fulvex {

void MainWindow::offerRecovery()
{
    const auto all = Recovery::left();
    const std::vector<CrashNote> notes = crashNotes();
    const MessageBar::Action look{"crashNote", tr("Look at the note"), [this] { showCrashNotes(this); }};
    if (all.empty()) {
        if (notes.empty()) return;
        return m_message->show(
            tr("The program ended by itself the last time. There is a note about it, with nothing of "
               "your data in it; it is sent to nobody."),
            {look, {"crashNoteAway", tr("Throw it away"), discardCrashNotes}});
    }
    const Recovery::Left &left = all.front();
    const QString name = left.document.title.empty() ? tr("A project") : text("\"" + left.document.title + "\"");
    const QString project = left.project.isEmpty() ? QString() : " (" + QFileInfo(left.project).fileName() + ")";
    std::vector<MessageBar::Action> ways{
        {"recover", left.tried ? tr("Open it without computing") : tr("Go on with it"),
         [this, left] {
             if (!mayDiscard()) return;
             m_recovery.goOnWith(left, left.tried);
             if (left.tried)
                 m_message->show(tr("Nothing is computed yet: remove or change what may be wrong, and save."),
                                 {{"computeNow", tr("Compute (F9)"), [this] { m_bench.evaluate(); }}});
         }},
        {"discard", tr("Throw it away"), [this, left] {
             Recovery::discard(left);
             offerRecovery(); // there may be more
         }}};
    if (!notes.empty()) ways.push_back(look);
    m_message->show(
        left.tried
            ? tr("%1 was not saved%2, and the program ended once already while going on with it.").arg(name, project)
            : tr("%1 was not saved when the program ended%2.").arg(name, project),
        std::move(ways));
}

void MainWindow::offerFound(const std::vector<MissingCapture> &missing)
{
    const MissingCapture one = missing.front();
    const std::vector<MissingCapture> others(missing.begin() + 1, missing.end());
    const auto use = [this, one, others](const std::filesystem::path &file) {
        m_bench.change(tr("find capture %1").arg(text(one.id)), [&](Document &document) {
            if (CaptureEntry *entry = findEntry(document.captures, one.id))
                entry->file = keptPath(file, m_bench.base());
        });
        if (!others.empty()) offerFound(others);
    };
    QString words = tr("Capture %1 is not at %2. ").arg(text(one.id), text(one.wanted.string()));
    std::vector<MessageBar::Action> actions;
    if (!one.found.empty()) {
        words += (one.same ? tr("The same samples lie in %1.") : tr("A file of that name, with other contents, is %1."))
                     .arg(text(keptPath(one.found, m_bench.base())));
        actions.push_back({"useFound", tr("Use it"), [use, one] { use(one.found); }});
    }
    actions.push_back({"findCapture", tr("Find it…"), [this, use, one] {
                           const QString file = QFileDialog::getOpenFileName(
                               this, tr("Find capture %1").arg(text(one.id)), text(m_bench.base().string()));
                           if (!file.isEmpty()) use(file.toStdString());
                       }});
    m_message->show(words, std::move(actions));
}

void MainWindow::offerPrograms()
{
    if (!m_bench.results()) return;
    for (const ProgramStatus &program : m_bench.results()->programs) {
        const bool waits =
            program.state == ProgramStatus::State::unseen || program.state == ProgramStatus::State::another;
        if (!waits || m_bench.selection().id == program.id ||
            !m_offeredPrograms.insert(program.id + program.sha256).second)
            continue;
        m_message->show(program.state == ProgramStatus::State::another
                            ? tr("%1 is not the program that this project was saved with: it does not run.")
                                  .arg(QFileInfo(text(program.path)).fileName())
                            : tr("This project calls %1, a program that was not allowed here yet: it does not run.")
                                  .arg(QFileInfo(text(program.path)).fileName()),
                        {{"lookAtProgram", tr("Look at it"),
                          [this, id = program.id] {
                              m_bench.select({Selection::Kind::program, id});
                          }}},
                        true);
        return;
    }
}

void MainWindow::offerReady(const QString &path, const OpenedProject &opened)
{
    m_message->show(
        tr("%1 is unpacked; the project that is open was changed meanwhile.").arg(QFileInfo(path).fileName()),
        {{"openReady", tr("Open it now"), [this, path, opened] {
              if (mayDiscard()) m_bench.takeProject(path, opened);
          }}});
}

void MainWindow::askConsent(const QString &path, const QString &why, PackConsent wanted)
{
    m_message->show(why + ".",
                    {{"consent", tr("Open it all the same"),
                      [this, path, wanted] { guarded([&] { m_bench.openProject(path, wanted); }); }}},
                    true);
}

} // namespace fulvex
