// What the window opens, saves and writes.

#include "axis_painter.h"
#include "error.h"
#include "import_page.h"
#include "main_window.h"
#include "mask_edits.h"
#include "plan_edits.h"
#include "project_file.h"
#include "recent_projects.h"
#include "sheet_view.h"
#include "table_text.h"

#include <QDir>
#include <QFileDialog>
#include <QMessageBox>

namespace fulvex {

void MainWindow::openFiles(const QStringList &files)
{
    QStringList captures;
    for (const QString &file : files) {
        if (file.endsWith(planEnding)) {
            if (!mayDiscard()) return;
            guarded([&] {
                openPlan(m_bench, file);
                m_message->hide();
            });
            continue;
        }
        if (file.endsWith(maskEnding)) {
            layMask(file);
            continue;
        }
        const bool report = file.endsWith(".pdf") || file.endsWith(".html");
        if (!file.endsWith(".fulvex") && !file.endsWith(packedEnding) && !report) {
            captures << file;
            continue;
        }
        if (!mayDiscard()) return;
        guarded([&] {
            m_bench.openProject(file);
            if (!report) rememberProject(file);
            m_message->hide();
        });
    }
    if (!captures.isEmpty()) m_bench.readForImport(captures);
}

void MainWindow::layMask(const QString &file)
{
    const std::string eye = chosenEntry(m_bench, Selection::Kind::eye);
    if (eye.empty())
        return m_message->show(
            tr("%1 is a mask, which is laid on an eye: open a project that has one, then drop it there.")
                .arg(QFileInfo(file).fileName()));
    guarded([&] { addMask(m_bench, eye, keptPath(file.toStdString(), m_bench.base())); });
}

void MainWindow::showImports(const std::vector<ImportDraft> &drafts)
{
    // A file that cannot be read as anything is told; raw samples are anything, but only the user knows which.
    const auto readable =
        std::any_of(drafts.begin(), drafts.end(), [](const ImportDraft &d) { return d.capture != nullptr; });
    if (!readable) return m_message->show(drafts.front().problem);
    m_message->hide();
    m_pages->setCurrentWidget(m_import);
    m_import->show(drafts);
}

void MainWindow::openDialog()
{
    openFiles(QFileDialog::getOpenFileNames(this, tr("Open project or captures"), {},
                                            tr("Projects, plans, masks and captures (*.fulvex *.fulvexpack "
                                               "*.fulvexplan *.mask.json *.pdf *.html *.csv *.txt *.tsv *.dat "
                                               "*.npy *.npz *.wav *.w64 *.flac *.mat *.h5 "
                                               "*.hdf5 *.sigmf-meta *.raw *.bin);;All files (*)")));
}

QString MainWindow::projectPlace() const
{
    QString file = m_bench.path();
    if (file.isEmpty() && !m_bench.document().captures.empty() && !m_bench.run()) // whose folder may be watched
        file = text((m_bench.base() / m_bench.document().captures.front().file).string());
    const QFileInfo place(file.isEmpty() ? QDir::home().filePath("project") : file);
    return QDir(place.absolutePath()).filePath(place.completeBaseName());
}

QString MainWindow::reportName() const
{
    return QFileInfo(projectPlace()).fileName() + ".pdf";
}

QString MainWindow::askWhere(const QString &title, const QString &name, const QString &filter)
{
    if (m_written.session != m_bench.session()) m_written = {m_bench.session(), {}};
    const QString folder = m_written.folder.isEmpty() ? QFileInfo(projectPlace()).absolutePath() : m_written.folder;
    const QString path = QFileDialog::getSaveFileName(this, title, QDir(folder).filePath(name), filter);
    if (!path.isEmpty() && m_written.session == m_bench.session()) m_written.folder = QFileInfo(path).absolutePath();
    return path;
}

bool MainWindow::save(bool ask)
{
    QString path = m_bench.path();
    QString title = tr("Save project");
    // One that is installed, or somebody else's, is saved elsewhere: a new file takes its place, so the folder counts.
    const QFileInfo there(path), folder(there.absolutePath());
    if (!path.isEmpty() && ((there.exists() && !there.isWritable()) || (folder.exists() && !folder.isWritable()))) {
        title = tr("Save elsewhere: %1 cannot be written to").arg(there.isWritable() ? folder.filePath() : path);
        path = QDir::home().filePath(there.fileName());
        ask = true;
    }
    if (ask || path.isEmpty())
        path = QFileDialog::getSaveFileName(
            this, title, path.isEmpty() ? projectPlace() + ".fulvex" : path,
            tr("Projects (*.fulvex);;Packed projects, with their captures (*%1)").arg(packedEnding));
    if (path.isEmpty()) return false;
    m_bench.save(path, [this, path] {
        rememberProject(path);
        m_pictured = 0; // as it is now
        takePicture();
        showTitle();
    });
    return true;
}

bool MainWindow::mayDiscard()
{
    if (m_bench.undoStack().isClean()) return true;
    const auto answer = QMessageBox::question(this, tr("Unsaved changes"), tr("Save the changes to this project?"),
                                              QMessageBox::Save | QMessageBox::Discard | QMessageBox::Cancel);
    if (answer != QMessageBox::Save) return answer == QMessageBox::Discard;
    if (!save(false)) return false;
    m_bench.errands().finish();
    return m_bench.undoStack().isClean(); // not where it could not be written
}

void MainWindow::exportReport(const QString &path)
{
    m_bench.exportReports({path});
}

void MainWindow::writeReport()
{
    const QString path = askWhere(tr("Write the report"), reportName(), tr("PDF, and HTML beside it (*.pdf)"));
    if (path.isEmpty()) return;
    const QString name = path.endsWith(".pdf") ? path.chopped(4) : path;
    m_bench.exportReports({name + ".pdf", name + ".html"}, m_bench.run() && m_bench.run()->all);
}

void MainWindow::exportReportOfAll(const QString &path)
{
    if (m_bench.run() && m_bench.run()->all) m_bench.exportReports({path}, true);
}

void MainWindow::exportTable(const QString &path)
{
    m_bench.exportFile(
        path, [](const Results &results, const std::string &, Progress &) { return measurementsCsv(results); });
}

void MainWindow::exportPicture(TileFrame *tile, const QString &path)
{
    tile->takePicture([this, path](const QImage &picture) {
        m_bench.errands().run([path, picture](Progress &) {
            if (!picture.save(path))
                throw Error(path.toStdString(), "the picture cannot be written",
                            "check the folder and the ending (.png)");
        });
    });
}

} // namespace fulvex
