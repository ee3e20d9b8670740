#include "recovery.h"

#include "atomic_file.h"
#include "document_json.h"
#include "error.h"
#include "workbench.h"

#include <QCoreApplication>
#include <QDir>
#include <QFile>
#include <QStandardPaths>

namespace fulvex {

namespace {

QDir folder()
{
    QDir data(QStandardPaths::writableLocation(QStandardPaths::AppDataLocation) + "/unsaved");
    data.mkpath(".");
    return data;
}

/// When a process began, in the kernel's ticks: with its number it names one process for good. Empty: it runs no more.
QString beginOf(const QString &process)
{
    QFile facts("/proc/" + process + "/stat");
    if (!facts.open(QIODevice::ReadOnly)) return {};
    const QByteArray line = facts.readAll();
    return QString::fromLatin1(line.mid(line.lastIndexOf(')') + 2).split(' ').value(19)); // field 22, proc(5)
}

/// A first line with the project's path, then the document.
std::string copyText(const QString &project, const Document &document)
{
    return project.toStdString() + "\n" + documentText(document);
}

} // namespace

Recovery::Recovery(Workbench &bench) : m_bench(bench), m_errands(std::make_unique<Errands>())
{
    static int count = 0; // of this program's windows
    const QString process = QString::number(QCoreApplication::applicationPid());
    m_file = folder().filePath(QString("%1-%2-%3").arg(process, beginOf(process)).arg(++count));
    m_soon.setSingleShot(true);
    m_soon.setInterval(1000);
    connect(&m_soon, &QTimer::timeout, this, &Recovery::keep);
    connect(&bench, &Workbench::documentChanged, &m_soon, qOverload<>(&QTimer::start));
    connect(&bench.undoStack(), &QUndoStack::cleanChanged, this, [this](bool clean) {
        if (clean) forget();
    });
}

Recovery::~Recovery()
{
    m_errands.reset(); // waits for the one that runs
    forget();
}

void Recovery::keep()
{
    if (m_bench.undoStack().isClean()) return;
    Document copy = m_bench.document();
    for (CaptureEntry &capture : copy.captures)
        capture.file = std::filesystem::absolute(m_bench.base() / capture.file).string();
    m_errands->run([copy = std::move(copy), project = m_bench.path(),
                    file = m_file](Progress &) { writeFileAtomically(file.toStdString(), copyText(project, copy)); },
                   [this] {
                       if (m_bench.undoStack().isClean()) forget(); // saved meanwhile
                   });
}

void Recovery::forget()
{
    m_soon.stop();
    QFile::remove(m_file);
}

std::vector<Recovery::Left> Recovery::left()
{
    std::vector<Left> all;
    for (const QFileInfo &found : folder().entryInfoList(QDir::Files, QDir::Time)) {
        const QStringList name = found.fileName().split('-');
        if (name.size() != 3 || name[2].contains('.') || beginOf(name[0]) == name[1]) continue;
        try {
            const std::string text = readTextFile(found.filePath().toStdString());
            const std::size_t line = text.find('\n');
            if (line == std::string::npos) continue;
            Left left;
            left.file = found.filePath();
            left.project = QString::fromStdString(text.substr(0, line));
            left.document = parseDocument(text.substr(line + 1), found.fileName().toStdString());
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
}

} // namespace fulvex
