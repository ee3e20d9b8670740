#include "workbench.h"

#include "atomic_file.h"
#include "axis_painter.h"
#include "document_json.h"
#include "fingerprint.h"
#include "project_file.h"
#include "user_settings.h"

#include <QApplication>
#include <QFileInfo>
#include <algorithm>
#include <utility>

namespace fulvex {

Workbench::Workbench(std::shared_ptr<Engine> engine, QObject *parent) : QObject(parent), m_evaluator(std::move(engine))
{
    connect(&m_store, &DocumentStore::changed, this, &Workbench::followDocument);
    connect(&m_store, &DocumentStore::refused, this, &Workbench::failed);
    connect(&m_evaluator, &Evaluator::finished, this, &Workbench::takeResults);
    connect(&m_evaluator, &Evaluator::failed, this, [this](const QString &message, EvaluationTicket ticket) {
        if (ticket.session == session()) emit failed(message);
    });
    connect(&m_evaluator, &Evaluator::ended, this, [this](EvaluationTicket ticket) {
        if (ticket == m_asked && !upToDate()) dropWaiting(tr("computing was stopped"));
    });
    connect(&m_errands, &Errands::failed, this, &Workbench::failed);
    connect(&m_runKeeper, &RunKeeper::told, this, &Workbench::takeRun);
    connect(&m_evaluator, &Evaluator::busyChanged, &m_runKeeper, &RunKeeper::hold);
    connect(&m_evaluator, &Evaluator::busyChanged, &m_comparisons, &ComparisonKeeper::hold);
    connect(&m_comparisons, &ComparisonKeeper::told, this, [this](std::shared_ptr<const ComparedResults> compared) {
        if (compared->session != session()) return;
        m_compared = std::move(compared);
        emit comparisonsChanged();
        serveBeside();
    });
    connect(&m_evaluator, &Evaluator::busyChanged, &m_plans, &PlanKeeper::hold);
    connect(&m_plans, &PlanKeeper::told, this, [this](std::shared_ptr<const PlanStates> states) {
        if (states->session != session()) return;
        m_planStates = std::move(states);
        emit plansChanged();
        serveBeside();
    });
    for (auto moved : {&Workbench::documentChanged, &Workbench::sheetChanged, &Workbench::selectionChanged})
        connect(this, moved, this, &Workbench::wantWhatIsSeen);
    connect(this, &Workbench::resultsChanged, this, &Workbench::compareAgain);
    connect(this, &Workbench::runChanged, this, &Workbench::compareAgain);
    connect(&m_live, &LiveKeeper::arrived, this, &Workbench::takeLive);
    m_watch.setInterval(1500);
    connect(&m_watch, &QTimer::timeout, this, &Workbench::lookForDisturbed);
    m_watch.start();
}

void Workbench::setDark(bool dark)
{
    m_look = dark ? &Look::darkLook() : &Look::light();
    emit lookChanged();
}

std::string Workbench::unitOf(const std::string &channel) const
{
    const ChannelEntry *entry = findEntry(document().channels, channel);
    if (entry && !entry->unit.empty()) return entry->unit;
    const ChannelResult *result = results() ? findEntry(results()->channels, channel) : nullptr;
    return result ? result->unit : "V";
}

void Workbench::request()
{
    if (m_held) return;
    m_asked = {session(), revision(), m_asked.number + 1};
    m_evaluator.request(document(), base(), inView(), m_asked);
}

std::vector<std::string> Workbench::inView() const
{
    std::vector<std::string> ids;
    if (!m_selection.id.empty()) ids.push_back(m_selection.id);
    if (std::size_t(m_sheet) >= document().sheets.size()) return ids;
    const auto &tiles = document().sheets[std::size_t(m_sheet)].tiles;
    for (const TileEntry &tile : tiles) ids.insert(ids.end(), tile.of.begin(), tile.of.end());
    const auto shown = [&](const std::string &id) { return std::find(ids.begin(), ids.end(), id) != ids.end(); };
    for (const EyeEntry &eye : document().eyes) {
        if (!shown(eye.id)) continue;
        if (const MaskEntry *mask = maskOn(document(), eye.id)) ids.push_back(mask->id);
        ids.insert(ids.end(), {eye.clock, eye.source});
    }
    return ids;
}

void Workbench::wantBeside()
{
    m_comparisons.want();
    m_plans.want();
}

void Workbench::wantWhatIsSeen()
{
    if (m_selection.kind == Selection::Kind::measurement) m_comparisons.want(); // what the other one says of the row
    std::vector<std::string> seen{m_selection.id};
    if (std::size_t(m_sheet) < document().sheets.size())
        for (const TileEntry &tile : document().sheets[std::size_t(m_sheet)].tiles)
            seen.insert(seen.end(), tile.of.begin(), tile.of.end());
    for (const std::string &id : seen) {
        if (findEntry(document().comparisons, id)) m_comparisons.want();
        if (findEntry(document().plans, id)) m_plans.want();
    }
}

void Workbench::evaluate()
{
    m_held = false;
    followRun();
    followComparisons();
    followPlans();
    if (!upToDate()) request();
}

void Workbench::evaluateAnew()
{
    m_held = false;
    m_shelf.doubt();
    m_disturbed.clear();
    m_comparisons.readAnew();
    m_plans.doAnew();
    request();
}

void Workbench::followSheet()
{
    const auto &sheets = document().sheets;
    for (std::size_t i = 0; i < sheets.size(); ++i) {
        if (sheets[i].id == m_views.sheet()) m_sheet = int(i);
    }
    m_sheet = std::clamp<int>(m_sheet, 0, std::max(0, int(sheets.size()) - 1));
    m_views.setSheet(sheets.empty() ? std::string() : sheets[std::size_t(m_sheet)].id);
}

void Workbench::followDocument(bool sameNumbers)
{
    followSheet();
    m_shelf.follow(document(), sameNumbers);
    followRun();
    followComparisons();
    followPlans();
    emit documentChanged();
    if (!sameNumbers)
        request();
    else if (current())
        emit resultsChanged();
}

bool Workbench::change(const QString &what, const std::function<void(Document &)> &edit, const QString &mergeKey)
{
    return m_store.change(what, edit, mergeKey);
}

std::string Workbench::make(const QString &what, Selection::Kind kind,
                            const std::function<std::string(Document &)> &edit)
{
    std::string id;
    if (!change(what, [&](Document &document) { id = edit(document); }) || id.empty()) return {};
    select({kind, id});
    return id;
}

void Workbench::begin(Document document, ProjectSession::FilePtr file, const std::filesystem::path &base, bool held)
{
    m_project.begin(std::move(file), base);
    m_evaluator.cancel();
    m_store.begin(std::move(document));
    m_shelf.clear();
    m_live.drop();
    m_liveInto = {};
    m_run.reset();
    m_compared.reset();
    m_planStates.reset();
    m_awaited.reset();
    m_moment.reset();
    m_held = held;
    m_disturbed.clear();
    m_selection = {};
    m_question = {};
    m_pointedAt.clear();
    m_sheet = 0;
    const auto &sheets = this->document().sheets;
    m_views.begin(sheets.empty() ? std::string() : sheets.front().id);
    emit sessionBegun();
    dropWaiting(tr("its project was closed"));
    dropBeside();
    m_pages.ask(std::nullopt);
    followRun();
    followComparisons();
    followPlans();
    emit documentChanged();
    request();
    emit resultsChanged();
    emit selectionChanged();
    emit sheetChanged();
}

void Workbench::newProject()
{
    begin(newDocument(userSettings()), std::make_shared<ProjectSession::File>(), std::filesystem::current_path());
}

void Workbench::lookForMissing()
{
    const auto missing = std::make_shared<std::vector<MissingCapture>>();
    m_errands.run([missing, document = document(),
                   base = base()](Progress &progress) { *missing = missingCaptures(document, base, progress); },
                  m_project.here([this, missing] {
                      if (!missing->empty()) emit capturesMissing(*missing);
                  }));
}

void Workbench::takeProject(const QString &path, const OpenedProject &opened)
{
    if (opened.fromReport) { // it is no project's file: what is saved goes elsewhere
        begin(opened.document, std::make_shared<ProjectSession::File>(), opened.base);
        undoStack().resetClean();
        emit documentChanged();
        return lookForMissing();
    }
    begin(opened.document,
          std::make_shared<ProjectSession::File>(ProjectSession::File{path, opened.stamp, opened.sha256}), opened.base);
    lookForMissing();
}

void Workbench::openProject(const QString &path, PackConsent consent)
{
    const bool report = path.endsWith(".pdf") || path.endsWith(".html");
    if (!report && !isPackedProject(path.toStdString())) {
        Progress progress;
        return takeProject(path, fulvex::openProject(path.toStdString(), progress));
    }
    struct Opening {
        OpenedProject project;
        std::optional<NeedsConsent> question;
    };
    const auto opened = std::make_shared<Opening>();
    const std::pair asked(session(), revision());
    m_errands.run(
        [opened, path, consent](Progress &progress) {
            try {
                opened->project = fulvex::openProject(path.toStdString(), progress, consent);
            } catch (const NeedsConsent &question) {
                opened->question = question;
            }
        },
        [this, opened, path, consent, asked] {
            if (opened->question) {
                PackConsent wanted = consent;
                wanted.large |= opened->question->wanted().large;
                wanted.outside |= opened->question->wanted().outside;
                emit consentNeeded(path, text(opened->question->where() + ": " + opened->question->found()), wanted);
            } else if (asked == std::pair(session(), revision()) && !QApplication::activeModalWidget()) {
                takeProject(path, opened->project);
            } else {
                emit projectReady(path, opened->project);
            }
        });
}

void Workbench::recover(Document document, const QString &path, bool held)
{
    const std::filesystem::path project = path.toStdString();
    std::string stamp;
    try {
        stamp = projectStamp(project);
    } catch (const Error &) {
        // it cannot be looked at: saving there will tell
    }
    begin(std::move(document), std::make_shared<ProjectSession::File>(ProjectSession::File{path, stamp, {}}),
          path.isEmpty() ? std::filesystem::current_path() : project.parent_path(), held);
    undoStack().resetClean();
    emit documentChanged();
}

Document Workbench::documentToSave() const
{
    Document saved = document();
    for (CaptureEntry &capture : saved.captures) {
        // Known beside the results, where they are of this very capture.
        const CaptureEntry *computed = results() ? findEntry(results()->document->captures, capture.id) : nullptr;
        const CaptureResult *known =
            computed && *computed == capture ? findEntry(results()->captures, capture.id) : nullptr;
        if (!known || known->sha256.empty()) continue;
        capture.sha256 = known->sha256;
        std::int64_t bytes = 0;
        for (const auto &source : known->sources) bytes += std::int64_t(source->bytes().size());
        capture.bytes = bytes;
    }
    for (AttemptEntry &attempt : saved.attempts) rememberFound(attempt);
    if (std::size_t(m_sheet) < saved.sheets.size() && m_views.isChosen()) {
        saved.sheets[std::size_t(m_sheet)].from = viewFrom();
        saved.sheets[std::size_t(m_sheet)].to = viewTo();
    }
    for (SheetEntry &sheet : saved.sheets) {
        for (TileEntry &tile : sheet.tiles) {
            const auto view = m_views.ownView(tile.id);
            if (!view || !tile.ownView) continue;
            tile.from = view->from;
            tile.to = view->to;
        }
    }
    return saved;
}

void Workbench::save(const QString &path, std::function<void()> done)
{
    const auto file = m_project.fileFor(path);
    m_errands.run([file, document = documentToSave(),
                   base = base()](Progress &progress) { file->write(document, base, progress); },
                  [this, file, done = std::move(done), before = document(), asked = session()] {
                      if (asked == session()) {
                          m_project.moveTo(file);
                          // The steps on the undo stack know the captures by where they lie from here, and go on so.
                          if (document() == before) undoStack().setClean();
                          emit documentChanged();
                      }
                      if (done) done();
                  });
}

bool Workbench::refusesWhileHeld(const QString &what)
{
    if (m_held) emit failed(tr("%1: nothing is computed yet; compute first (F9).").arg(what));
    return m_held;
}

void Workbench::whenUpToDate(const QString &what, std::function<void()> act, bool tracesWillDo)
{
    if (m_shelf.serves(document(), tracesWillDo)) return act();
    if (refusesWhileHeld(what)) return;
    m_shelf.await({what, std::move(act), tracesWillDo});
    if (!m_evaluator.attends(m_asked)) request(); // it was stopped
    emit waitingChanged();
}

void Workbench::serveWaiting()
{
    const auto ready = m_shelf.takeServed(document());
    for (const ResultsShelf::Waiting &one : ready) one.act();
    if (!ready.empty()) emit waitingChanged();
}

void Workbench::dropWaiting(const QString &why)
{
    const QStringList names = m_shelf.giveUp();
    if (names.isEmpty()) return;
    emit waitingChanged();
    emit failed(tr("%1 is not done: %2 before the numbers were ready.").arg(names.join(", "), why));
}

void Workbench::exportFile(const QString &path, Export content)
{
    whenUpToDate(QFileInfo(path).fileName(), [this, path, content = std::move(content)] {
        // Of a project that is as it lies on disk the fingerprint is the file's own, as the batch program states it.
        const bool asOnDisk = undoStack().isClean() && !m_project.file()->path.isEmpty();
        m_errands.run([path, content, results = sharedResults(), file = m_project.file(), asOnDisk,
                       document = documentToSave()](Progress &progress) {
            const std::string fingerprint =
                asOnDisk && !file->sha256.empty() ? file->sha256 : sha256(documentText(document));
            writeFileAtomically(path.toStdString(), content(*results, fingerprint, progress));
        });
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
    const bool first = document().captures.empty();
    if (!change(tr("add captures"), [&](Document &document) { addDrafts(document, drafts); })) return false;
    for (const ImportDraft &draft : drafts)
        if (draft.complete()) rememberCorrections(draft);
    if (first) m_views.forget();
    showSheet(int(document().sheets.size()) - 1);
    return true;
}

void Workbench::takeResults(std::shared_ptr<const Results> results, EvaluationTicket ticket, bool complete)
{
    if (ticket.session != session()) return;
    m_shelf.put(std::move(results), complete, document(), ticket.revision == revision());
    if (!m_views.isChosen() && record()) {
        const auto &sheets = document().sheets;
        const bool saved = std::size_t(m_sheet) < sheets.size() && sheets[std::size_t(m_sheet)].from &&
                           sheets[std::size_t(m_sheet)].to;
        const auto whole = record();
        show({m_views.sheet(),
              {},
              saved ? View{*sheets[std::size_t(m_sheet)].from, *sheets[std::size_t(m_sheet)].to}
                    : View{whole->first, whole->second}});
    }
    if (m_awaited && current() && (complete || m_shelf.tracesReady(document())))
        goTo(*std::exchange(m_awaited, std::nullopt));
    emit resultsChanged();
    serveWaiting();
}

void Workbench::lookForDisturbed()
{
    if (!results()) return;
    for (const CaptureResult &capture : results()->captures) {
        const std::string why = capture.disturbance();
        if (why.empty() || why == m_disturbed) continue;
        m_disturbed = why;
        emit captureDisturbed(text(why));
        return;
    }
}

void Workbench::pointAt(const std::string &row)
{
    if (std::exchange(m_pointedAt, row) != row) emit pointedAtChanged();
}

void Workbench::select(Selection selection, Question narrowed)
{
    narrowed.id = selection.id;
    if (selection == m_selection && narrowed == m_question) return;
    if (!(selection == m_selection)) m_with.clear();
    m_selection = std::move(selection);
    m_question = std::move(narrowed);
    m_moment.reset();
    emit selectionChanged();
    emit viewChanged();
}

void Workbench::selectWith(std::vector<std::string> rows)
{
    if (rows == m_with) return;
    m_with = std::move(rows);
    emit selectionChanged();
}

void Workbench::putMarker(std::size_t which, const MarkerEntry &marker)
{
    change(tr("marker"), [&](Document &document) {
        auto &markers = document.markers;
        MarkerEntry put = marker;
        std::size_t before = 0; // of its kind
        for (MarkerEntry &known : markers) {
            if (known.row != put.row || before++ != which) continue;
            put.id = known.id;
            known = std::move(put);
            return;
        }
        put.id = freeId(document, "marker");
        markers.push_back(std::move(put));
    });
}

void Workbench::clearMarkers(bool ofTracesAlone)
{
    change(tr("remove markers"), [&](Document &document) {
        std::erase_if(document.markers, [&](const MarkerEntry &one) { return !ofTracesAlone || one.row.empty(); });
    });
}

} // namespace fulvex
