#pragma once

#include "comparison_keeper.h"
#include "document_store.h"
#include "errands.h"
#include "evaluator.h"
#include "evidence.h"
#include "figure_worker.h"
#include "import_draft.h"
#include "live_keeper.h"
#include "look.h"
#include "moved_captures.h"
#include "page_keeper.h"
#include "plan_keeper.h"
#include "project_file.h"
#include "project_session.h"
#include "results_shelf.h"
#include "run_keeper.h"
#include "view_state.h"

#include <QElapsedTimer>
#include <QObject>
#include <QTimer>
#include <functional>
#include <memory>
#include <optional>

namespace fulvex {

struct Alignment;

/// What is selected: something in the Chain, a row of the Ledger, a note, a sheet. Empty kind: nothing.
struct Selection {
    enum class Kind {
        nothing,
        capture,
        channel,
        clock,
        eye,
        mask,
        measurement,
        note,
        region,
        marker,
        sheet,
        tile,
        parameter,
        function,
        spectrum,
        budget,
        phaseNoise,
        program,
        comparison,
        plan
    } kind = Kind::nothing;
    std::string id;
    bool operator==(const Selection &) const = default;
};

/// The one door to a project for all that is seen: the document (`DocumentStore`), whose every change starts an
/// evaluation; the results that come back (`ResultsShelf`), as a snapshot that all views read; its file
/// (`ProjectSession`); what the views show (`ViewState`) and what is selected, which are not part of the document.
///
/// Opening or making a project begins a session; every change in it makes a revision. Requests, results and errands
/// carry both: what belongs to another session is dropped, and what belongs to an older revision is shown at most, and
/// never written.
class Workbench final : public QObject {
    Q_OBJECT
public:
    /// `engine`: see Evaluator.
    explicit Workbench(std::shared_ptr<Engine> engine = nullptr, QObject *parent = nullptr);

    const Document &document() const { return m_store.document(); }
    const Results *results() const { return m_shelf.results().get(); }
    std::shared_ptr<const Results> sharedResults() const { return m_shelf.results(); }
    bool complete() const { return m_shelf.complete(); } ///< false: some of the results are pending
    /// Whether the results are those of the present document, as far as they go.
    bool current() const { return m_shelf.current(); }
    /// Whether the results, numbers and all, are those of the present document.
    bool upToDate() const { return m_shelf.upToDate(); }
    std::uint64_t session() const { return m_project.number(); }
    std::uint64_t revision() const { return m_store.revision(); } ///< never the same again
    /// The unit of a channel's values, as far as it is known yet.
    std::string unitOf(const std::string &channel) const;
    Evaluator &evaluator() { return m_evaluator; }
    Errands &errands() { return m_errands; }
    FigureWorker &figures() { return m_figures; }
    /// Captures of one thing, taken together: what they gave so far; null where the project has no run.
    const std::shared_ptr<const RunSnapshot> &run() const { return m_run; }
    RunKeeper &runKeeper() { return m_runKeeper; }
    /// What a tile shows: the results of the capture that is shown, or of all of a run, or of its last ones; may be
    /// null.
    std::shared_ptr<const Results> resultsFor(const TileEntry &tile) const;
    /// Puts a capture of the run in place of the one that is shown; steps that follow each other are one to undo.
    void showMember(const std::string &name);
    void stepMember(int by);         ///< to one that lies so far behind it
    std::string shownMember() const; ///< its name
    /// What the shown capture of a run does not count for, or no longer.
    void leaveMemberOut(const std::string &name, const std::string &reason);
    void countMember(const std::string &name);
    /// Files, or a folder, as captures of what this capture is of, itself among them.
    void makeRun(const std::string &capture, const QStringList &files, bool watched);
    void endRun(const std::string &capture);
    /// Another result that this project is laid beside; null: there is no such comparison, or nothing is known yet.
    const Compared *comparedWith(const std::string &comparison) const;
    /// Adds a comparison with a file, or finds the one there is; the entry's id.
    std::string compareWith(const QString &file);
    /// Sets these settings as the other result has them, in one step; `failed` tells where that cannot be.
    void makeAlike(const std::string &comparison, std::vector<SettingDifference> settings);
    /// How far a plan of the project went; null: there is no such plan, or nothing is known yet.
    const PlanState *planState(const std::string &plan) const;
    /// Plans' files were written to: reads them again, and does what follows.
    void readPlansAnew() { m_plans.doAnew(); }
    /// Has plans and comparisons done that no sheet shows yet.
    void wantBeside();
    /// The same, and does something once they are as far as they come; `what` as of whenUpToDate.
    void whenBesideKnown(const QString &what, std::function<void()> act);
    /// What became of a step of it: of the newest attempt, skipped, or open.
    StepOutcome outcomeOf(const std::string &plan, const PlanStep &step) const;
    /// An instrument as a source of captures; gives the entry's id, nothing where it is not taken.
    std::string addLive(const QString &address, const std::string &dialect);
    /// Has it take so many captures (0: until it is stopped), which are counted as they come. False: it cannot be
    /// begun.
    bool acquire(const std::string &capture, std::size_t captures);
    /// Has an instrument take captures that are none of the project's own: `take` hears of each, while this project is
    /// open and nothing else is acquired. False: it cannot be begun.
    bool acquireInto(const QString &address, const std::string &dialect, std::size_t captures,
                     std::function<void(const QString &file)> take);
    LiveKeeper &live() { return m_live; }
    QUndoStack &undoStack() { return m_store.undoStack(); }
    const Look &look() const { return *m_look; }
    void setDark(bool dark);

    /// Applies `edit` to the document as one undoable step; steps with the same non-empty `mergeKey` in a row become
    /// one. An edit that leaves the document invalid is not taken: `failed` tells why and false comes back.
    bool change(const QString &what, const std::function<void(Document &)> &edit, const QString &mergeKey = {});
    /// The same for what makes an entry, whose id `edit` gives: it is selected. That id; empty
    /// where nothing was made.
    std::string make(const QString &what, Selection::Kind kind, const std::function<std::string(Document &)> &edit);

    /// Files. Opening throws Error and changes nothing when it cannot be done; a packed project, or one that a report
    /// holds, is read beside the interface, and `failed` tells when it cannot be. What was changed meanwhile is not
    /// replaced: `projectReady` asks. Where captures are not in their place, `capturesMissing` follows.
    void newProject();
    void openProject(const QString &path, PackConsent consent = {});
    void takeProject(const QString &path, const OpenedProject &opened);
    /// Goes on with a document that was not saved; it counts as changed. With `held` nothing is computed until
    /// evaluate() is called.
    void recover(Document document, const QString &path, bool held = false);
    /// Computes what is not up to date: after a cancel, or of a document that is held.
    void evaluate();
    /// The same, and whatever of the captures changed on disk since.
    void evaluateAnew();
    bool held() const { return m_held; }
    /// Writes the document beside the interface, packed with its captures by the path's ending, and calls `done`;
    /// `failed` tells when it could not be written, or when somebody else wrote the project since it was opened here.
    /// What is changed before it is done stays unsaved; a project that was opened meanwhile is not touched.
    void save(const QString &path, std::function<void()> done = {});
    /// Does something with the results of the present document, as soon as they are there; `what` names it for the
    /// message that tells when they never come ("report.pdf"). With `tracesWillDo` a first look is enough.
    void whenUpToDate(const QString &what, std::function<void()> act, bool tracesWillDo = false);
    bool waiting() const { return m_shelf.awaited(); } ///< whether something waits for results
    /// Writes beside the interface what `content` makes of the results of the present document, once they are there.
    /// The fingerprint is that of the project's text: as it lies on disk, or as saving would write it now.
    using Export = std::function<std::string(const Results &, const std::string &fingerprint, Progress &)>;
    void exportFile(const QString &path, Export content);
    /// What a report of the present document is made from, as far as it is known; nothing where there are no results
    /// of it. `all`: of all captures of a run.
    std::optional<ReportSources> reportSources(bool all = false) const;
    /// Writes reports beside the interface, each as its path's ending says, once all that they tell is known.
    void exportReports(const QStringList &paths, bool all = false);
    PageKeeper &pages() { return m_pages; }
    /// Writes a channel's samples, as computed, beside the interface: all of them or those within a span of time, in
    /// the format of the path's ending.
    void exportChannel(const QString &path, const std::string &channel,
                       std::optional<std::pair<double, double>> span = {});
    /// Writes a row's occurrences, once they are those of the present document.
    /// Adds a program to the project that formulas may call once it is allowed.
    void addProgram(const QString &path);
    /// From now on that content may run, in any project; in this one it is what is meant.
    void allowProgram(const std::string &id, const std::string &sha256);
    void forbidProgram(const std::string &sha256);
    /// A row for each of the levels that a channel's amplitudes gather around.
    void measureLevels(const std::string &channel);
    void exportPopulation(const QString &path, const std::string &row);
    /// Writes a row's histogram, by its first histogram tile's bars where it has one.
    void exportHistogram(const QString &path, const std::string &row);
    /// Adds a channel that stays as this one is now, with a delay and scale of its own, beside it wherever it is shown.
    /// A computed channel is written to a file first: its samples are a capture then, with a fingerprint, like any
    /// other.
    void keepCopy(const std::string &channel);
    /// Sets the delay of `channel` such that it lies on `reference`; computed beside the interface. `failed` tells why
    /// where there is no such delay.
    void align(const std::string &channel, const std::string &reference, bool byEdges);
    /// Finds by how much a channel comes after another, once both are up to date, and calls `use` where that is found
    /// and both are still made of the same.
    void withAlignment(const QString &what, const std::string &channel, const std::string &reference, bool byEdges,
                       std::function<void(const Alignment &)> use);
    /// Reads captures beside the interface and answers with `importsRead`, those that cannot be read included.
    void readForImport(const QStringList &files);
    /// Adds them as one undoable step: captures, channels, a sheet that shows them. Remembers corrections for files of
    /// the same shape.
    bool takeImports(const std::vector<ImportDraft> &drafts);
    const QString &path() const { return m_project.file()->path; }
    const std::filesystem::path &base() const { return m_project.base(); } ///< of relative capture files

    const Selection &selection() const { return m_selection; }
    /// With what is asked about it: Evidence answers, of the spans that `narrowed` names.
    void select(Selection selection, Question narrowed = {});
    const Question &question() const { return m_question; }
    /// Rows that are chosen together with the selected one: what is set of it in the Inspector is set of them as well.
    /// They are as long as that one is selected.
    void selectWith(std::vector<std::string> rows);
    const std::vector<std::string> &selectedWith() const { return m_with; }
    /// The row that the pointer is over: other views show where it was measured. Empty: none.
    void pointAt(const std::string &row);
    const std::string &pointedAt() const { return m_pointedAt; }
    int sheet() const { return m_sheet; }
    /// Ids of the selected, and of what the shown sheet's tiles are of and stand on; most wanted first.
    std::vector<std::string> inView() const;
    void showSheet(int index);

    using View = ViewState::View;
    /// What the shown sheet shows, or one of its tiles that has a view of its own.
    static constexpr int wholeSheet = -1;
    View view(int tile = wholeSheet) const;
    double viewFrom() const { return m_views.view().from; }
    double viewTo() const { return m_views.view().to; }
    /// Kept within the record, and at least 4 samples wide. Views that follow each other closely are one step of the
    /// history, except where `step` says otherwise.
    void setView(double from, double to, int tile = wholeSheet, bool step = false);
    void fitView(int tile = wholeSheet);
    void zoom(double factor, double around, int tile = wholeSheet); ///< factor below 1 goes closer
    void goBack();                                                  ///< to the view before
    void goForward();
    /// The whole span of what the shown sheet is of, s.
    std::optional<std::pair<double, double>> record() const;
    /// The channels that the shown sheet's tiles are, or are of.
    std::vector<std::string> shownChannels() const;

    /// Puts the marker at an index among those of the traces, or of its row, or one behind the last; one undoable step.
    void putMarker(std::size_t which, const MarkerEntry &marker);
    void clearMarkers(bool ofTracesAlone = false);
    const std::optional<RecordSpan> &moment() const { return m_moment; }
    /// The first of the moments that Evidence lists, so that they are seen in other views: those of a question.
    struct Moment {
        double time; ///< s, the middle of its span
        std::int64_t unitInterval;
        bool operator==(const Moment &) const = default;
    };
    void listMoments(const std::string &of, std::vector<Moment> moments);
    const std::string &momentsOf() const { return m_momentsOf; } ///< id of what they are of; empty: nothing
    const std::vector<Moment> &moments() const { return m_moments; }
    void goTo(std::optional<RecordSpan> moment); ///< shows it in the middle of the view

signals:
    void sessionBegun(); ///< before any other signal of the new session
    void documentChanged();
    void resultsChanged();
    void selectionChanged();
    void sheetChanged();
    void viewChanged(); ///< also the moment
    void momentsListed();
    void runChanged();
    void comparisonsChanged();
    void plansChanged();
    void pointedAtChanged();
    void lookChanged();
    void failed(const QString &message);
    void told(const QString &message); ///< what an action found
    void waitingChanged();             ///< something waits for results, or no longer
    void capturesMissing(const std::vector<fulvex::MissingCapture> &missing);
    void importsRead(const std::vector<fulvex::ImportDraft> &drafts);
    /// A project that was asked for is unpacked, but the open one was changed since.
    void projectReady(const QString &path, const fulvex::OpenedProject &opened);
    void consentNeeded(const QString &path, const QString &why, fulvex::PackConsent wanted);
    /// Files of a capture were written to since they were read.
    void captureDisturbed(const QString &message);

private:
    void followDocument(bool sameNumbers);
    void followSheet();
    void request();
    void addCopy(const std::string &of, ChannelEntry copy, std::optional<CaptureEntry> capture);
    void takeLive(const std::string &capture, const QString &file);
    void beginLive(const std::string &capture, const std::string &file);
    void takeRun(std::shared_ptr<const RunSnapshot> snapshot);
    void followComparisons();
    void followPlans();
    void compareAgain();
    void wantWhatIsSeen();
    void followRun();
    const RunMember *member(const std::string &name) const; ///< null: there is none
    void takeResults(std::shared_ptr<const Results> results, EvaluationTicket ticket, bool complete);
    void serveWaiting();
    void dropWaiting(const QString &why);
    void begin(Document document, ProjectSession::FilePtr file, const std::filesystem::path &base, bool held = false);
    void lookForMissing();
    void lookForDisturbed();
    Document documentToSave() const;
    void rememberFound(AttemptEntry &attempt) const;
    bool refusesWhileHeld(const QString &what); ///< and says so
    bool besideKnown() const;
    void serveBeside();
    void dropBeside();

    ProjectSession m_project;
    DocumentStore m_store;
    ResultsShelf m_shelf;
    EvaluationTicket m_asked; ///< of the last request
    Evaluator m_evaluator;
    Errands m_errands;
    FigureWorker m_figures;
    std::shared_ptr<const RunSnapshot> m_run;
    RunKeeper m_runKeeper;
    std::string m_runKey; ///< of what it follows
    LiveKeeper m_live;
    std::function<void(const QString &)> m_liveInto; ///< what takes its captures, where they are none of the project's
    std::shared_ptr<const ComparedResults> m_compared;
    ComparisonKeeper m_comparisons;
    std::shared_ptr<const PlanStates> m_planStates;
    PlanKeeper m_plans;
    PageKeeper m_pages;
    std::vector<std::pair<QString, std::function<void()>>> m_forBeside; ///< by name: waits for comparisons and plans
    QElapsedTimer m_shownLive;                                          ///< since the newest capture was shown
    std::optional<RecordSpan> m_awaited;                                ///< a moment of a capture that is not shown yet
    bool m_held = false;                                                ///< nothing is computed yet
    QTimer m_watch;
    std::string m_disturbed; ///< told already
    const Look *m_look = &Look::light();
    Selection m_selection;
    Question m_question; ///< about it
    std::string m_momentsOf;
    std::vector<Moment> m_moments;
    std::vector<std::string> m_with;
    std::string m_pointedAt;
    int m_sheet = 0; ///< place of the shown sheet: others may come and go before it
    ViewState m_views;
    const TileEntry *tileAt(int index) const;
    bool hasOwnView(int tile) const;
    std::string ownViewId(int tile) const; ///< empty: the sheet's view
    View within(View view) const;
    void show(const ViewState::Visit &visit);
    bool isThere(const ViewState::Visit &visit) const;
    std::optional<RecordSpan> m_moment;
};

} // namespace fulvex
