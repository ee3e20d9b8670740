#pragma once

#include "action.h"
#include "ask_box.h"
#include "message_bar.h"
#include "recovery.h"
#include "workbench.h"

#include <QLabel>
#include <QMainWindow>
#include <QMenuBar>
#include <QPointer>
#include <QProgressBar>
#include <QStackedWidget>
#include <QTimer>
#include <set>

namespace fulvex {

class ActionMenus;
class ChainView;
class EvidenceView;
class FirstPage;
class ImportPage;
class ReportPage;
class ManualWindow;
class Tour;
class PlanEditor;
class LedgerView;
class SheetView;
class TileFrame;

/// One window on one project: Strip, Chain, Sheet, Inspector, Ledger, Evidence, and the menus.
class MainWindow final : public QMainWindow {
    Q_OBJECT
public:
    /// `engine`: see Evaluator.
    explicit MainWindow(std::shared_ptr<Engine> engine = nullptr, QWidget *parent = nullptr);
    ~MainWindow() override;
    Workbench &bench() { return m_bench; }
    /// A project is opened, anything else is shown before it is taken as a capture.
    void openFiles(const QStringList &files);
    /// Where a program ended without saving: offers to go on from there.
    void offerRecovery();
    /// Writes a plan, or another one; `file`: where it lies, empty: nowhere yet.
    void editPlan(const Plan &plan, const QString &file);
    /// Shows the report as it would be printed, or goes back to the sheets.
    void layOutReport(bool open);
    /// Writes beside the interface; failures are shown in the message bar.
    void exportReport(const QString &path); ///< .pdf or .html
    /// The same of all captures of the run that were counted till now; there are some.
    void exportReportOfAll(const QString &path);
    void exportTable(const QString &path);
    void exportPicture(TileFrame *tile, const QString &path);

protected:
    void dragEnterEvent(QDragEnterEvent *event) override;
    void dropEvent(QDropEvent *event) override;
    void closeEvent(QCloseEvent *event) override;

private:
    void planSaved(const QString &file);
    void writeReport(); ///< asks where, PDF and HTML
    void buildMenus();
    void buildLayout();
    std::vector<Action> fileActions();
    std::vector<Action> channelActions();
    void chooseJitters();
    std::vector<Action> windowActions();
    std::vector<AskBox::Offer> offers() const;
    std::vector<AskBox::Offer> answers(const QString &typed); ///< of the manual
    void startTour(); ///< of the demo, which is opened for it where it is not open
    void openManual(const QString &place);
    /// Where the manual tells of what is under the pointer, has the focus, or is selected.
    QString manualPlace() const;
    void offerFound(const std::vector<MissingCapture> &missing);
    /// Of programs that formulas call and that nobody allowed here.
    void offerPrograms();
    void offerReady(const QString &path, const OpenedProject &opened);
    void askConsent(const QString &path, const QString &why, PackConsent wanted);
    void showTitle();
    bool busy();
    void showBusy();
    void applyLook();
    bool save(bool ask);
    bool mayDiscard();
    void openDialog();
    /// Where to write a file of that name: proposed where one of this project was written before, else beside it, or
    /// beside its first capture as long as it has no place. Empty: nowhere.
    QString askWhere(const QString &title, const QString &name, const QString &filter);
    QString projectPlace() const;      ///< without an ending: the project's own, else its first capture's
    QString reportName() const;        ///< proposed
    void layMask(const QString &file); ///< on the chosen eye
    void showImports(const std::vector<ImportDraft> &drafts);
    void renameSheet(const std::string &id);
    void takePicture(); ///< of a project that is shown whole, for the first page
    void choosePage();
    void guarded(const std::function<void()> &act);

    Workbench m_bench;
    Recovery m_recovery{m_bench};
    QWidget *m_above, *m_topBar;
    QMenuBar *m_menus;
    AskBox *m_ask;
    QLabel *m_title;
    MessageBar *m_message;
    std::set<std::string> m_offeredPrograms; ///< of this session: nobody is asked twice
    ChainView *m_chain;
    SheetView *m_sheet;
    LedgerView *m_ledger;
    EvidenceView *m_evidence;
    QStackedWidget *m_pages;
    ImportPage *m_import;
    ReportPage *m_report;
    PlanEditor *m_planEditor;
    FirstPage *m_first;
    QWidget *m_busyBox;
    QProgressBar *m_progress;
    QTimer m_progressTimer;
    ActionMenus *m_actions = nullptr;
    ManualWindow *m_manual = nullptr; ///< once it was opened
    QPointer<Tour> m_tour;
    struct {
        std::uint64_t session = 0;
        QString folder;
    } m_written;                  ///< where, last
    std::uint64_t m_pictured = 0; ///< session that the first page has a picture of
};

} // namespace fulvex
