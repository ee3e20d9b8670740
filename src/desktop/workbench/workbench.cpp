#include "workbench.h"

#include "alignment.h"
#include "atomic_file.h"
#include "axis_painter.h"
#include "capture_writer.h"
#include "error.h"
#include "number_text.h"
#include "project_file.h"
#include "trace_figure.h"

#include <QApplication>
#include <QDateTime>
#include <QDir>
#include <QFileInfo>
#include <QStandardPaths>
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
    const bool sameNumbers = m_results && m_complete && !m_evaluator.busy() && sameComputation(document, m_document) &&
                             sameComputation(document, *m_results->document);
    m_document = std::move(document);
    m_sheet = std::clamp<int>(m_sheet, 0, std::max(0, int(m_document.sheets.size()) - 1));
    if (sameNumbers) { // words, notes, markers, tiles: the results stay, only what they are of is told anew
        auto results = std::make_shared<Results>(*m_results);
        results->document = std::make_shared<const Document>(m_document);
        m_results = std::move(results);
    }
    emit documentChanged();
    if (sameNumbers)
        emit resultsChanged();
    else
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
    m_ownViews.clear();
    m_back.clear();
    m_forward.clear();
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
        saved.sheets[std::size_t(m_sheet)].from = m_view.from;
        saved.sheets[std::size_t(m_sheet)].to = m_view.to;
    }
    for (const auto &[place, view] : m_ownViews) {
        if (std::size_t(place.first) >= saved.sheets.size()) continue;
        auto &tiles = saved.sheets[std::size_t(place.first)].tiles;
        if (std::size_t(place.second) >= tiles.size() || !tiles[std::size_t(place.second)].ownView) continue;
        tiles[std::size_t(place.second)].from = view.from;
        tiles[std::size_t(place.second)].to = view.to;
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

void Workbench::addCopy(const std::string &of, ChannelEntry copy, std::optional<CaptureEntry> capture)
{
    std::string id;
    change(tr("keep a copy of %1").arg(text(of)), [&](Document &document) {
        if (capture) document.captures.push_back(*capture);
        copy.id = id = freeId(document, of + "_kept");
        copy.label = findEntry(document.channels, of)->shownName() + ", kept";
        document.channels.push_back(copy);
        for (SheetEntry &sheet : document.sheets) {
            for (TileEntry &tile : sheet.tiles) {
                if (tile.kind == "traces" && std::find(tile.of.begin(), tile.of.end(), of) != tile.of.end())
                    tile.of.push_back(id);
            }
        }
    });
    if (!id.empty()) select({Selection::Kind::channel, id});
}

void Workbench::keepCopy(const std::string &channel)
{
    const ChannelEntry *entry = findEntry(m_document.channels, channel);
    const ChannelResult *result = m_results ? findEntry(m_results->channels, channel) : nullptr;
    if (!entry || !result || !result->source) {
        emit failed(tr("There is no trace to keep: select a channel that could be computed."));
        return;
    }
    if (entry->formula.empty()) return addCopy(channel, *entry, {}); // its samples lie in a file already
    const QString folder = m_path.isEmpty()
                               ? QStandardPaths::writableLocation(QStandardPaths::AppDataLocation) + "/kept"
                               : text(m_base.string()) + "/" + QFileInfo(m_path).completeBaseName() + "-kept";
    ChannelEntry copy = *entry;
    CaptureEntry capture;
    capture.id = copy.capture = freeId(m_document, channel + "_kept_samples");
    copy.formula.clear();
    const QString file =
        folder + "/" + text(capture.id) + QDateTime::currentDateTimeUtc().toString("-yyyyMMdd-hhmmss") + ".npy";
    capture.file = file.toStdString();
    capture.import.sampleInterval = result->source->axis().interval;
    capture.import.start = result->source->axis().start;
    m_errands.run(
        [file, folder, written = WrittenChannel{channel, entry->unit, result->source}](Progress &progress) {
            QDir().mkpath(folder);
            writeCapture(file.toStdString(), std::span(&written, 1), {0, written.source->axis().count}, progress);
        },
        [this, channel, copy, capture] {
            if (findEntry(m_document.channels, channel)) addCopy(channel, copy, capture);
        });
}

void Workbench::align(const std::string &channel, const std::string &reference, bool byEdges)
{
    const ChannelEntry *entry = findEntry(m_document.channels, channel);
    const auto sourceOf = [this](const std::string &id) {
        const ChannelResult *result = m_results ? findEntry(m_results->channels, id) : nullptr;
        return result ? result->source : nullptr;
    };
    const SourcePtr moved = sourceOf(channel), fixed = sourceOf(reference);
    if (!entry || !moved || !fixed || !entry->formula.empty()) {
        emit failed(
            entry && !entry->formula.empty()
                ? tr("%1 is computed and has no delay of its own: align the channels it is made of.").arg(text(channel))
                : tr("There is nothing to align: select a channel whose samples could be read."));
        return;
    }
    const auto found = std::make_shared<Alignment>();
    m_errands.run(
        [found, moved, fixed, byEdges](Progress &progress) {
            *found = byEdges ? alignByEdges(fixed, moved, progress) : alignByCorrelation(fixed, moved, progress);
        },
        [this, found, channel, reference] {
            if (!found->reason.empty()) {
                emit failed(
                    tr("%1 cannot be aligned to %2: %3.").arg(text(channel), text(reference), text(found->reason)));
                return;
            }
            const QString by = text(quantityText(-found->lag, "s", found->uncertainty));
            change(tr("align %1 to %2: %3").arg(text(channel), text(reference), by), [&](Document &document) {
                if (ChannelEntry *one = findEntry(document.channels, channel)) one->delay -= found->lag;
            });
            emit told(tr("%1 is moved by %2 onto %3%4 (correlation %5%6).")
                          .arg(text(channel), by, text(reference), found->inverted ? tr(", turned over") : QString(),
                               text(fixedText(found->likeness, 3)),
                               found->edges ? tr(", %1 edges").arg(found->edges) : QString()));
        });
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
        const auto whole = record();
        show({m_sheet, wholeSheet,
              saved ? View{*sheets[std::size_t(m_sheet)].from, *sheets[std::size_t(m_sheet)].to}
                    : View{whole->first, whole->second}});
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
    if (sheet.from && sheet.to) show({index, wholeSheet, {*sheet.from, *sheet.to}});
    emit sheetChanged();
}

std::optional<std::pair<double, double>> Workbench::record() const
{
    return m_results ? wholeSpan(*m_results, {}) : std::nullopt;
}

bool Workbench::hasOwnView(int tile) const
{
    const auto &sheets = m_document.sheets;
    return tile >= 0 && std::size_t(m_sheet) < sheets.size() &&
           std::size_t(tile) < sheets[std::size_t(m_sheet)].tiles.size() &&
           sheets[std::size_t(m_sheet)].tiles[std::size_t(tile)].ownView;
}

Workbench::View Workbench::view(int tile) const
{
    if (!hasOwnView(tile)) return m_view;
    if (const auto own = m_ownViews.find({m_sheet, tile}); own != m_ownViews.end()) return own->second;
    const TileEntry &entry = m_document.sheets[std::size_t(m_sheet)].tiles[std::size_t(tile)];
    return entry.from && entry.to && *entry.from < *entry.to ? within({*entry.from, *entry.to}) : m_view;
}

Workbench::View Workbench::within(View view) const
{
    const auto whole = record();
    if (!whole || !(view.to > view.from)) return m_view;
    double shortest = whole->second - whole->first;
    for (const ChannelResult &channel : m_results->channels) {
        if (channel.source) shortest = std::min(shortest, 4 * channel.source->axis().interval);
    }
    const double width = std::clamp(view.to - view.from, shortest, whole->second - whole->first);
    const double middle = (view.from + view.to) / 2;
    const double from = std::clamp(middle - width / 2, whole->first, whole->second - width);
    return {from, from + width};
}

void Workbench::show(const Visit &visit)
{
    if (!record()) return;
    if (visit.sheet != m_sheet) {
        m_sheet = visit.sheet;
        emit sheetChanged();
    }
    (hasOwnView(visit.tile) ? m_ownViews[{m_sheet, visit.tile}] : m_view) = within(visit.view);
    m_viewSet = true;
    emit viewChanged();
}

void Workbench::setView(double from, double to, int tile, bool step)
{
    if (!record() || !(to > from)) return;
    constexpr int pause = 600; // ms: a drag or a turn of the wheel is one step
    const Visit before{m_sheet, hasOwnView(tile) ? tile : wholeSheet, view(tile)};
    show({m_sheet, before.tile, {from, to}});
    if (view(tile) != before.view && (step || !m_sinceView.isValid() || m_sinceView.elapsed() > pause)) {
        constexpr std::size_t kept = 200;
        if (m_back.size() == kept) m_back.erase(m_back.begin());
        m_back.push_back(before);
        m_forward.clear();
    }
    m_sinceView.start();
}

void Workbench::revisit(std::vector<Visit> &from, std::vector<Visit> &to)
{
    while (!from.empty() && std::size_t(from.back().sheet) >= m_document.sheets.size()) from.pop_back();
    if (from.empty()) return;
    const Visit visit = from.back();
    from.pop_back();
    const int tile = visit.sheet == m_sheet && hasOwnView(visit.tile) ? visit.tile : wholeSheet;
    to.push_back({m_sheet, tile, view(tile)});
    show(visit);
    m_sinceView.invalidate();
}

void Workbench::goBack()
{
    revisit(m_back, m_forward);
}

void Workbench::goForward()
{
    revisit(m_forward, m_back);
}

void Workbench::fitView(int tile)
{
    if (const auto whole = record()) setView(whole->first, whole->second, tile, true);
}

void Workbench::zoom(double factor, double around, int tile)
{
    const View now = view(tile);
    const double width = (now.to - now.from) * factor;
    const double share = (around - now.from) / (now.to - now.from);
    setView(around - share * width, around + (1 - share) * width, tile);
}

void Workbench::putMarker(std::size_t which, const MarkerEntry &marker)
{
    change(tr("marker"), [&](Document &document) {
        auto &markers = document.markers;
        MarkerEntry put = marker;
        put.id = which < markers.size() ? markers[which].id : freeId(document, "marker");
        if (which < markers.size())
            markers[which] = std::move(put);
        else
            markers.push_back(std::move(put));
    });
}

void Workbench::clearMarkers()
{
    change(tr("remove markers"), [](Document &document) { document.markers.clear(); });
}

void Workbench::goTo(std::optional<Moment> moment)
{
    m_moment = std::move(moment);
    if (!m_moment) {
        emit viewChanged();
        return;
    }
    const double middle = (m_moment->from + m_moment->to) / 2, span = std::max(m_moment->to - m_moment->from, 0.0);
    const double shown = m_view.to - m_view.from;
    double width = std::min(shown, 40 * span);
    if (span == 0) width = std::min(shown, 2e-3 * (record() ? record()->second - record()->first : shown));
    const View before = m_view;
    setView(middle - std::max(width, 8 * span) / 2, middle + std::max(width, 8 * span) / 2, wholeSheet, true);
    if (m_view == before) emit viewChanged(); // the moment itself
}

} // namespace fulvex
