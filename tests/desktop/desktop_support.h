#pragma once

#include "main_window.h"
#include "wait_for.h"

#include <QDialog>
#include <QMenu>
#include <functional>

namespace fulvex::test {

/// A main window on the offscreen platform, driven as a user would.
class Desk {
public:
    explicit Desk(QSize size = {1280, 800});
    MainWindow &window() { return m_window; }
    Workbench &bench() { return m_window.bench(); }
    void openDemo(); ///< without its plan and comparison
    /// Clicks the tab of a sheet, by its title.
    void showSheet(const QString &title);
    /// A key for the window, as with its shortcuts; makes it the active one first.
    void key(Qt::Key key, Qt::KeyboardModifiers modifiers);
    /// Drops files onto the window.
    void drop(const QStringList &files);
    /// Waits until dropped files are shown to be taken; then takes them as they are.
    bool importShown();
    void takeImport();
    /// Waits until the results belong to the present document.
    bool settled();
    /// Waits until what is shown is drawn.
    bool drawn();
    /// Adds a channel by a formula, as it is typed.
    void addFormula(const QString &words);
    /// Types into Ask and takes the first offer.
    void ask(const QString &words);
    /// A widget by its object name.
    template <typename Widget>
    Widget *find(const char *name)
    {
        return m_window.findChild<Widget *>(name);
    }
    /// What the bar under the menus says; empty while it is hidden.
    QString message();
    /// Row of the Ledger whose first two columns are these; -1 when there is none.
    int ledgerRow(const QString &quantity, const QString &of);
    QString ledgerCell(int row, int column);
    QString ledgerCell(int row, const QString &heading);
    /// Answers the next dialog, whenever it comes.
    void whenAsked(std::function<void(QDialog &)> answer);
    void whenMenuOpens(std::function<void(QMenu &)> take);
    /// Chooses a file or folder in the next file dialog.
    void chooseFile(const QString &path);
    /// The same of an input or file dialog, with a text.
    void answer(const QString &words);

private:
    /// What a test before this one set for its user.
    struct ShippedSettings {
        ShippedSettings();
    } m_settings;
    MainWindow m_window; ///< with an engine that knows what the desks before it computed
};

/// Types words into a line edit in place of what it holds, and Return.
void typeInto(QWidget *field, const QString &words);

/// What a tile shows lies in, below its head.
QRectF bodyOf(const QWidget *tile);

/// Presses, moves there in two steps, and lets go.
void dragAcross(QWidget *widget, QPoint from, QPoint to);

/// Fails the running test on Qt's own complaints; to be installed once.
void failOnQtMessages();

} // namespace fulvex::test
