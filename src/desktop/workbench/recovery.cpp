#include "recovery.h"

#include "atomic_file.h"
#include "document_json.h"
#include "error.h"
#include "process_tag.h"
#include "workbench.h"

#include <QDir>
#include <QFile>
#include <QStandardPaths>
#include <utility>

namespace fulvex {

namespace {

QDir folder()
{
    QDir data(QStandardPaths::writableLocation(QStandardPaths::AppDataLocation) + "/unsaved");
    data.mkpath(".");
    return data;
}

/// A first line with the project's path, then the document.
std::string copyText(const QString &project, const Document &document)
{
    return project.toStdString() + "\n" + documentText(document);
}

std::string absoluteFile(const std::filesystem::path &file)
{
    std::error_code failure; // without a working folder it stays as it is
    const auto absolute = std::filesystem::absolute(file, failure);
    return failure ? file.string() : absolute.string();
}

/// "TAG-NUMBER": of which process, and which of its windows.
bool isLeftAlone(const QString &name)
{
    const qsizetype last = name.lastIndexOf('-');
    return last > 0 && isOverHere(name.left(last).toStdString());
}

} // namespace

Recovery::Recovery(Workbench &bench) : m_bench(bench), m_errands(std::make_unique<Errands>())
{
    static int count = 0; // of this program's windows
    m_file = folder().filePath(QString("%1-%2").arg(QString::fromStdString(processTag())).arg(++count));
    m_soon.setSingleShot(true);
    m_soon.setInterval(300);
    connect(&m_soon, &QTimer::timeout, this, [this] {
        if (m_errands->busy())
            m_due = true; // on a slow disk they do not pile up
        else
            keep();
    });
    connect(m_errands.get(), &Errands::busyChanged, this, [this](bool busy) {
        if (!busy && m_due) keep();
    });
    connect(m_errands.get(), &Errands::failed, this, [this](const QString &message) {
        if (!std::exchange(m_failing, true))
            emit failed("No copy of what is not saved is kept for the case of a crash: " + message);
    });
    // Not put off by each change: a long drag is kept as well.
    connect(&bench, &Workbench::documentChanged, this, [this] {
        if (!m_soon.isActive()) m_soon.start();
    });
    connect(&bench, &Workbench::sessionBegun, this, [this] { m_from.reset(); });
    connect(&bench, &Workbench::resultsChanged, this, [this] {
        if (!m_bench.upToDate()) return;
        m_evaluated = true;
        settle();
    });
    connect(&bench.undoStack(), &QUndoStack::cleanChanged, this, [this](bool clean) {
        if (!clean) return;
        if (m_from) discard(*std::exchange(m_from, {})); // saved
        forget();
    });
}

Recovery::~Recovery()
{
    m_errands.reset(); // waits for the one that runs
    forget();
}

void Recovery::goOnWith(const Left &left, bool held)
{
    QFile mark(triedMark(left.file)); // before anything that could go wrong
    if (mark.open(QIODevice::WriteOnly)) mark.write("\n");
    mark.close();
    m_bench.recover(left.document, left.project, held);
    m_from = left;
    m_copied = m_evaluated = false;
    keep();
}

void Recovery::settle()
{
    if (!m_from || !m_copied || !m_evaluated) return;
    discard(*std::exchange(m_from, {}));
    QFile::remove(triedMark(m_file));
}

void Recovery::keep()
{
    m_due = false;
    if (m_bench.undoStack().isClean()) return;
    Document copy = m_bench.document();
    for (CaptureEntry &capture : copy.captures) capture.file = absoluteFile(m_bench.base() / capture.file);
    const bool untried = m_from && !m_evaluated; // this copy may end the program as the one before did
    m_errands->run(
        [copy = std::move(copy), project = m_bench.path(), file = m_file, untried](Progress &) {
            if (untried) writeFileAtomically(triedMark(file).toStdString(), "\n");
            writeFileAtomically(file.toStdString(), copyText(project, copy));
        },
        [this, from = m_from ? m_from->file : QString()] {
            if (m_bench.undoStack().isClean()) return forget();  // saved meanwhile
            if (m_from && m_from->file == from) m_copied = true; // and no copy of what was open before
            m_failing = false;
            settle();
        });
}

void Recovery::forget()
{
    m_soon.stop();
    QFile::remove(m_file);
    QFile::remove(triedMark(m_file));
}

std::vector<Recovery::Left> Recovery::left()
{
    std::vector<Left> all;
    for (const QFileInfo &found : folder().entryInfoList(QDir::Files, QDir::Time)) {
        if (!isLeftAlone(found.fileName())) continue;
        try {
            const std::string text = readTextFile(found.filePath().toStdString());
            const std::size_t line = text.find('\n');
            if (line == std::string::npos) continue;
            Left left;
            left.file = found.filePath();
            left.project = QString::fromStdString(text.substr(0, line));
            left.document = parseDocument(text.substr(line + 1), found.fileName().toStdString());
            left.tried = QFile::exists(triedMark(left.file));
            all.push_back(std::move(left));
        } catch (const Error &) {
            // cut short by the crash
        }
    }
    return all;
}

void Recovery::discard(const Left &left)
{
    QFile::remove(left.file);
    QFile::remove(triedMark(left.file));
}

} // namespace fulvex
