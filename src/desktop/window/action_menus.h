#pragma once

#include "action.h"
#include "ask_box.h"

#include <QMenu>
#include <QMenuBar>

namespace fulvex {

/// Makes of a table of actions what one finds them by: the window's keys, menus that fill themselves when they are
/// opened, context menus, what Ask offers, the list of keys.
class ActionMenus final : public QObject {
    Q_OBJECT
public:
    using Source = std::function<std::vector<Action>()>;
    using Chosen = std::function<std::string(Selection::Kind)>;
    /// `actions` is asked anew each time, since they go by the document; `chosen` tells what is acted on where none is
    /// named. Keys are those of the actions that there are now, and reach all of `window`.
    ActionMenus(Workbench &bench, Source actions, Chosen chosen, QWidget *window);

    /// A menu of a bar: all actions whose `menu` begins with that title.
    void addMenu(QMenuBar *bar, const QString &title);
    /// A menu of the named actions, in their order.
    QMenu *menuOf(const QStringList &ids);
    /// What can be done with an entry.
    void showContext(const Selection &entry, QPoint at);
    std::vector<AskBox::Offer> offers() const;
    /// Does it to what is chosen; `refused` tells where there is nothing to do it to.
    void perform(const QString &id);

    struct Line {
        QString menu, words, key;
    };
    std::vector<Line> lines() const; ///< of all that have a key, or are done by hand

signals:
    void refused(const QString &why);

private:
    struct Offered;
    std::vector<Offered> offered(Selection::Kind kind) const; ///< what was made last first
    void performOn(const Action &action, const std::string &of) const;
    void fill(QMenu *menu, const QString &title);
    void add(QMenu *menu, const Action &action, const std::string &of, const QString &words);
    Workbench &m_bench;
    Source m_actions;
    Chosen m_chosen;
    QWidget *m_window;
};

} // namespace fulvex
