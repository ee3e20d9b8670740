#include "workbench.h"

#include "atomic_file.h"
#include "axis_painter.h"
#include "capture_writer.h"
#include "error.h"
#include "project_file.h"
#include "trace_figure.h"

#include <QApplication>
#include <QFileInfo>
#include <QUndoCommand>
#include <algorithm>
#include <cmath>

namespace fulvex {

/// Before and after, as whole documents: they are small, and nothing can be forgotten.
class DocumentCommand final : public QUndoCommand {
public:
    DocumentCommand(Workbench &bench, const QString &what, Document before, Document after, const QString &mergeKey)
        : QUndoCommand(what), m_bench(bench), m_before(std::move(before)), m_after(std::move(after)),
          m_mergeKey(mergeKey)
    {
    }
    void undo() override { m_bench.setDocument(m_before); }
    void redo() override { m_bench.setDocument(m_after); }
    int id() const override { return m_mergeKey.isEmpty() ? -1 : 1; }
    bool mergeWith(const QUndoCommand *other) override
    {
        const auto *next = static_cast<const DocumentCommand *>(other);
        if (next->m_mergeKey != m_mergeKey) return false;
        m_after = next->m_after;
        return true;
    }

private:
    Workbench &m_bench;
    Document m_before, m_after;
    QString m_mergeKey;
};

Workbench::Workbench(QObject *parent) : QObject(parent), m_base(std::filesystem::current_path())
{
    connect(&m_evaluator, &Evaluator::finished, this, &Workbench::takeResults);
    connect(&m_evaluator, &Evaluator::failed, this, &Workbench::failed);
    connect(&m_errands, &Errands::failed, this, &Workbench::failed);
}

void Workbench::setDark(bool dark)
{
    m_look = dark ? &Look::darkLook() : &Look::light();
    emit lookChanged();
}

void Workbench::setDocument(Document document)
{
    m_document = std::move(document);
    m_sheet = std::clamp<int>(m_sheet, 0, std::max(0, int(m_document.sheets.size()) - 1));
    emit documentChanged();
    m_evaluator.request(m_document, m_base);
}

bool Workbench::change(const QString &what, const std::function<void(Document &)> &edit, const QString &mergeKey)
{
    Document after = m_document;
    edit(after);
    if (after == m_document) return true;
    try {
        validate(after);
    } catch (const Error &error) {
        emit failed(text(error.what()));
        return false;
    }
    m_undo.push(new DocumentCommand(*this, what, m_document, std::move(after), mergeKey));
    return true;
}

void Workbench::loaded(Document document, const QString &path, const std::filesystem::path &base, std::string stamp)
{
    m_path = path;
    m_base = base;
    m_stamp = std::move(stamp);
    m_undo.clear();
    m_markers.clear();
    m_moment.reset();
    m_results.reset();
    m_selection = {};
    m_sheet = 0;
    m_viewSet = false;
    setDocument(std::move(document));
    emit resultsChanged();
    emit selectionChanged();
    emit sheetChanged();
}

void Workbench::newProject()
{
    loaded({}, {}, std::filesystem::current_path(), {});
}

void Workbench::openProject(const QString &path)
{
    const auto take = [this, path](const OpenedProject &opened) {
        loaded(opened.document, path, opened.base, opened.stamp);
        const auto missing = std::make_shared<std::vector<MissingCapture>>();
        m_errands.run([missing, document = m_document,
                       base = m_base](Progress &progress) { *missing = missingCaptures(document, base, progress); },
                      [this, missing, path] {
                          if (!missing->empty() && m_path == path) emit capturesMissing(*missing);
                      });
    };
    if (!isPackedProject(path.toStdString())) {
        Progress progress;
        return take(fulvex::openProject(path.toStdString(), progress));
    }
    const auto opened = std::make_shared<OpenedProject>();
    m_errands.run([opened, path](Progress &progress) { *opened = fulvex::openProject(path.toStdString(), progress); },
                  [opened, take] { take(*opened); });
}

void Workbench::recover(Document document, const QString &path)
{
    const std::filesystem::path project = path.toStdString();
    loaded(std::move(document), path, path.isEmpty() ? std::filesystem::current_path() : project.parent_path(),
           projectStamp(project));
    m_undo.resetClean();
    emit documentChanged();
}

void Workbench::save(const QString &path, std::function<void()> done)
{
    Document saved = m_document;
    for (CaptureEntry &capture : saved.captures) {
        const CaptureResult *known = m_results ? findEntry(m_results->captures, capture.id) : nullptr;
        if (known && !known->sha256.empty()) capture.sha256 = known->sha256; // computed beside the results
    }
    if (std::size_t(m_sheet) < saved.sheets.size() && m_viewSet) {
        saved.sheets[std::size_t(m_sheet)].from = m_from;
        saved.sheets[std::size_t(m_sheet)].to = m_to;
    }
    struct Saved {
        Document document;
        std::filesystem::path base;
        std::string stamp;
    };
    const auto written = std::make_shared<Saved>(Saved{std::move(saved), m_base, m_path == path ? m_stamp : ""});
    m_errands.run(
        [written, path](Progress &progress) {
            const std::filesystem::path file = path.toStdString();
            if (!written->stamp.empty() && projectStamp(file) != written->stamp)
                throw Error(file.string(), "was written by another window or program since it was opened here",
                            "save under another name (Ctrl+Shift+S), or open it again");
            if (path.endsWith(packedEnding)) {
                packProject(written->document, written->base, file, progress);
            } else {
                saveProject(written->document, written->base, file, progress);
            }
            written->stamp = projectStamp(file);
        },
        [this, written, path, done = std::move(done), before = m_document] {
            m_path = path;
            m_stamp = written->stamp;
            // The steps on the undo stack know the captures by where they lie from here, and go on doing so.
            if (m_document == before) m_undo.setClean();
            emit documentChanged();
            if (done) done();
        });
}

void Workbench::exportFile(const QString &path, Export content)
{
    if (!m_results || !m_complete) {
        emit failed(tr("There are no results yet; wait until they are computed."));
        return;
    }
    m_errands.run([path, content = std::move(content), results = m_results, document = m_document](Progress &progress) {
        writeFileAtomically(path.toStdString(), content(*results, document, progress));
    });
}

void Workbench::exportChannel(const QString &path, const std::string &channel,
                              std::optional<std::pair<double, double>> span)
{
    const ChannelResult *result = m_results ? findEntry(m_results->channels, channel) : nullptr;
    if (!result || !result->source) {
        emit failed(tr("There is no channel to write: select one that could be computed."));
        return;
    }
    const ChannelEntry *entry = findEntry(m_document.channels, channel);
    const TimeAxis &axis = result->source->axis();
    SampleRange range{0, axis.count};
    if (span) {
        const auto within = [&](double position) {
            return std::int64_t(std::clamp(position, 0.0, double(axis.count)));
        };
        range = {within(std::ceil(axis.positionOf(span->first))),
                 within(std::floor(axis.positionOf(span->second)) + 1)};
    }
    m_errands.run(
        [path, range, written = WrittenChannel{entry ? entry->shownName() : channel, result->unit, result->source}](
            Progress &progress) { writeCapture(path.toStdString(), std::span(&written, 1), range, progress); });
}

void Workbench::readForImport(const QStringList &files)
{
    const auto drafts = std::make_shared<std::vector<ImportDraft>>();
    m_errands.run(
        [drafts, files](Progress &progress) {
            for (const QString &file : files) {
                ImportDraft draft;
                draft.file = file;
                readDraft(draft, progress);
                if (recallCorrections(draft)) readDraft(draft, progress);
                drafts->push_back(std::move(draft));
            }
            proposePairs(*drafts);
        },
        [this, drafts] { emit importsRead(*drafts); });
}

bool Workbench::takeImports(const std::vector<ImportDraft> &drafts)
{
    const bool first = m_document.captures.empty();
    if (!change(tr("add captures"), [&](Document &document) { addDrafts(document, drafts); })) return false;
    for (const ImportDraft &draft : drafts) rememberCorrections(draft);
    if (first) m_viewSet = false;
    showSheet(int(m_document.sheets.size()) - 1);
    return true;
}

void Workbench::takeResults(std::shared_ptr<const Results> results, bool complete)
{
    m_results = std::move(results);
    m_complete = complete;
    if (!m_viewSet && record()) {
        m_viewSet = true;
        const auto &sheets = m_document.sheets;
        const bool saved = std::size_t(m_sheet) < sheets.size() && sheets[std::size_t(m_sheet)].from &&
                           sheets[std::size_t(m_sheet)].to;
        if (saved)
            setView(*sheets[std::size_t(m_sheet)].from, *sheets[std::size_t(m_sheet)].to);
        else
            fitView();
    }
    emit resultsChanged();
}

void Workbench::select(Selection selection)
{
    if (selection == m_selection) return;
    m_selection = std::move(selection);
    m_moment.reset();
    emit selectionChanged();
    emit viewChanged();
}

void Workbench::showSheet(int index)
{
    if (index < 0 || index >= int(m_document.sheets.size()) || index == m_sheet) return;
    m_sheet = index;
    const SheetEntry &sheet = m_document.sheets[std::size_t(index)];
    if (sheet.from && sheet.to) setView(*sheet.from, *sheet.to);
    emit sheetChanged();
}

std::optional<std::pair<double, double>> Workbench::record() const
{
    return m_results ? wholeSpan(*m_results, {}) : std::nullopt;
}

void Workbench::setView(double from, double to)
{
    const auto whole = record();
    if (!whole || !(to > from)) return;
    double shortest = whole->second - whole->first;
    for (const ChannelResult &channel : m_results->channels) {
        if (channel.source) shortest = std::min(shortest, 4 * channel.source->axis().interval);
    }
    const double width = std::clamp(to - from, shortest, whole->second - whole->first);
    const double middle = (from + to) / 2;
    m_from = std::clamp(middle - width / 2, whole->first, whole->second - width);
    m_to = m_from + width;
    m_viewSet = true;
    emit viewChanged();
}

void Workbench::fitView()
{
    if (const auto whole = record()) setView(whole->first, whole->second);
}

void Workbench::zoom(double factor, double around)
{
    const double width = (m_to - m_from) * factor;
    const double share = (around - m_from) / (m_to - m_from);
    setView(around - share * width, around + (1 - share) * width);
}

void Workbench::setMarker(int which, double time)
{
    m_markers.resize(std::max<std::size_t>(m_markers.size(), std::size_t(which) + 1), time);
    m_markers[std::size_t(which)] = time;
    emit viewChanged();
}

void Workbench::clearMarkers()
{
    m_markers.clear();
    emit viewChanged();
}

void Workbench::goTo(std::optional<Moment> moment)
{
    m_moment = std::move(moment);
    if (!m_moment) {
        emit viewChanged();
        return;
    }
    const double middle = (m_moment->from + m_moment->to) / 2, span = std::max(m_moment->to - m_moment->from, 0.0);
    double width = std::min(m_to - m_from, 40 * span);
    if (span == 0)
        width = std::min(m_to - m_from, 2e-3 * (record() ? record()->second - record()->first : m_to - m_from));
    setView(middle - std::max(width, 8 * span) / 2, middle + std::max(width, 8 * span) / 2);
}

} // namespace fulvex
