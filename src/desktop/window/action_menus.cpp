#include "action_menus.h"

#include "axis_painter.h"

#include <algorithm>
#include <map>

namespace fulvex {

namespace {

/// A menu within a menu, by its title.
QMenu *submenuOf(QMenu *menu, const QString &title)
{
    for (QAction *action : menu->actions())
        if (action->menu() && action->menu()->title() == title) return action->menu();
    return menu->addMenu(title);
}

/// What an action says of an entry, or of the kind that it would act on where there is none.
QString wordsFor(const Action &action, const Document &document, const std::string &of)
{
    if (!of.empty()) return wordsOn(action, namedEntry(document, action.on, of));
    return wordsOn(action,
                   {kindWords(action.on), {QCoreApplication::translate("ActionMenus", "its channel").toStdString()}});
}

} // namespace

ActionMenus::ActionMenus(Workbench &bench, Source actions, Chosen chosen, QWidget *window)
    : QObject(window), m_bench(bench), m_actions(std::move(actions)), m_chosen(std::move(chosen)), m_window(window)
{
    for (const Action &action : m_actions()) {
        if (action.key.isEmpty()) continue;
        auto *key = new QAction(window);
        key->setShortcut(action.key);
        key->setShortcutContext(Qt::WindowShortcut);
        window->addAction(key);
        connect(key, &QAction::triggered, this, [this, id = action.id] { perform(id); });
    }
}

void ActionMenus::performOn(const Action &action, const std::string &of) const
{
    const auto there = idsOf(m_bench.document(), action.on); // where it was offered before, it may be gone
    if (!of.empty() && std::ranges::find(there, of) == there.end()) return;
    if (!action.enabled || action.enabled(of)) action.act(of);
}

void ActionMenus::perform(const QString &id)
{
    const auto all = m_actions();
    const auto action = std::find_if(all.begin(), all.end(), [&](const Action &a) { return a.id == id; });
    if (action == all.end()) return;
    const std::string of = action->on == Selection::Kind::nothing ? std::string() : m_chosen(action->on);
    if (action->on != Selection::Kind::nothing && of.empty()) {
        const QString kind = kindWords(action->on);
        emit refused(tr("There is no %1 to do that with: add one first.").arg(kind));
        return;
    }
    performOn(*action, of);
}

void ActionMenus::add(QMenu *menu, const Action &action, const std::string &of, const QString &words)
{
    if (action.apart && !menu->isEmpty()) menu->addSeparator();
    QString key = action.key.toString(QKeySequence::NativeText);
    if (key.isEmpty()) key = action.byHand;
    QAction *entry = menu->addAction(words + (key.isEmpty() ? QString() : "\t" + key)); // the window has the key itself
    const bool something = action.on == Selection::Kind::nothing || !of.empty();
    entry->setEnabled(something && (!action.enabled || action.enabled(of)));
    if (action.checked) {
        entry->setCheckable(true);
        entry->setChecked(something && action.checked(of));
    }
    connect(entry, &QAction::triggered, this, [this, action, of] { performOn(action, of); });
}

void ActionMenus::fill(QMenu *menu, const QString &title)
{
    menu->clear();
    const Document &document = m_bench.document();
    for (const Action &action : m_actions()) {
        if (action.menu.section('/', 0, 0) != title) continue;
        const std::string chosen = action.on == Selection::Kind::nothing ? std::string() : m_chosen(action.on);
        const auto ids = action.each ? idsOf(document, action.on) : std::vector{chosen};
        for (const std::string &of : ids) {
            const bool named = action.on != Selection::Kind::nothing && !of.empty();
            const auto put = [&](QString words) { // what stands for a name where there is none to put in
                return words.replace("%1", named ? nameOf(document, action.on, of) : kindWords(action.on));
            };
            const QString path = action.menu.section('/', 1);
            if (path.isEmpty())
                add(menu, action, of, wordsFor(action, document, of));
            else
                add(submenuOf(menu, put(path)), action, of, put(action.brief));
        }
    }
    for (QAction *entry : menu->actions()) {
        if (!entry->menu()) continue;
        const auto inside = entry->menu()->actions();
        entry->setEnabled(std::any_of(inside.begin(), inside.end(), [](QAction *a) { return a->isEnabled(); }));
    }
    if (menu->isEmpty()) menu->addAction(tr("nothing yet"))->setEnabled(false);
}

void ActionMenus::addMenu(QMenuBar *bar, const QString &title)
{
    QMenu *menu = bar->addMenu(title);
    connect(menu, &QMenu::aboutToShow, this, [this, menu, title] { fill(menu, title); });
}

QMenu *ActionMenus::menuOf(const QStringList &ids)
{
    auto *menu = new QMenu(m_window);
    connect(menu, &QMenu::aboutToShow, this, [this, menu, ids] {
        menu->clear();
        const auto all = m_actions();
        for (const QString &id : ids) {
            for (const Action &action : all) {
                if (!action.id.startsWith(id)) continue;
                const std::string of = action.on == Selection::Kind::nothing ? std::string() : m_chosen(action.on);
                const QString name = of.empty() ? kindWords(action.on) : nameOf(m_bench.document(), action.on, of);
                const QString within = action.menu.section('/', 1).replace("%1", name);
                if (!within.isEmpty())
                    add(submenuOf(menu, within), action, of, action.brief);
                else
                    add(menu, action, of, wordsFor(action, m_bench.document(), of));
            }
        }
    });
    return menu;
}

void ActionMenus::showContext(const Selection &entry, QPoint at)
{
    QMenu menu(m_window);
    menu.setObjectName("contextMenu");
    const NamedEntry named = namedEntry(m_bench.document(), entry.kind, entry.id);
    for (const Action &action : m_actions()) {
        if (action.askOnly || action.on != entry.kind || (action.enabled && !action.enabled(entry.id))) continue;
        QString within = action.menu.section('/', 1);
        if (within == "%1") within = action.menu.section('/', 0, 0); // whose entry is clear here
        if (within.isEmpty() || action.brief == "%1")
            add(&menu, action, entry.id, wordsOn(action, named));
        else
            add(submenuOf(&menu, within.replace("%1", named.name)), action, entry.id, action.brief);
    }
    if (!menu.isEmpty()) menu.exec(at);
}

/// What Ask tells of an entry, whatever is done with it.
struct ActionMenus::Offered {
    std::string id;
    NamedEntry named;
    QString also;
    int distance;
};

std::vector<ActionMenus::Offered> ActionMenus::offered(Selection::Kind kind) const
{
    const Document &document = m_bench.document();
    const auto inView = m_bench.inView();
    const auto ids = idsOf(document, kind);
    std::vector<Offered> all;
    for (auto id = ids.rbegin(); id != ids.rend(); ++id) { // what was made last first
        Offered one{*id, namedEntry(document, kind, *id), " " + text(*id), 6};
        const auto alsoShown = [&](const std::string &name) {
            if (const ChannelEntry *channel = findEntry(document.channels, name))
                one.also += " " + text(channel->shownName());
        };
        alsoShown(*id);
        for (const std::string &name : one.named.on) {
            one.also += " " + text(name);
            alsoShown(name);
        }
        const bool selected = m_bench.selection().id == *id;
        if (selected || std::ranges::find(inView, *id) != inView.end()) one.distance = selected ? 0 : 3;
        // What is computed is what the work is about: the link before its legs.
        const ChannelEntry *channel = findEntry(document.channels, *id);
        if (channel && !channel->formula.empty() && !selected) --one.distance;
        all.push_back(std::move(one));
    }
    return all;
}

std::vector<AskBox::Offer> ActionMenus::offers() const
{
    std::vector<AskBox::Offer> all;
    std::map<Selection::Kind, std::vector<Offered>> entries; // made once for all actions
    const auto offer = [&](const std::shared_ptr<const Action> &action, const std::string &of, AskBox::Offer made) {
        if (action->enabled && !action->enabled(of)) return;
        made.act = [this, action, of] { performOn(*action, of); };
        made.also = action->also + made.also;
        made.distance += action->isPlace ? 3 : 0;
        all.push_back(std::move(made));
    };
    for (Action &own : m_actions()) {
        const auto shared = std::make_shared<const Action>(std::move(own));
        const Action &action = *shared;
        const QString key = action.key.toString(QKeySequence::NativeText);
        if (action.on == Selection::Kind::nothing) {
            offer(shared, {}, {action.words, key, {}});
            continue;
        }
        const auto [known, isNew] = entries.try_emplace(action.on);
        if (isNew) known->second = offered(action.on);
        const std::string chosen = m_chosen(action.on);
        for (const Offered &one : known->second)
            offer(shared, one.id,
                  {wordsOn(action, one.named), one.id == chosen ? key : QString(), {}, one.also, one.distance});
    }
    return all;
}

std::vector<ActionMenus::Line> ActionMenus::lines() const
{
    std::vector<Line> all;
    for (const Action &action : m_actions()) {
        const QString key = action.key.isEmpty() ? action.byHand : action.key.toString(QKeySequence::NativeText);
        if (key.isEmpty()) continue;
        QString words = action.words;
        const QString kind = kindWords(action.on);
        if (words.endsWith(kind + " %1")) words.chop(3); // "Remove the mask"
        words.replace("%1", tr("the chosen %1").arg(kind)).replace("%2", tr("its channel"));
        all.push_back({action.menu.isEmpty() ? kind : action.menu.section('/', 0, 0), words, key});
    }
    std::vector<QString> places; // what belongs together stands together
    for (const Line &line : all)
        if (std::find(places.begin(), places.end(), line.menu) == places.end()) places.push_back(line.menu);
    std::stable_sort(all.begin(), all.end(), [&](const Line &a, const Line &b) {
        return std::find(places.begin(), places.end(), a.menu) < std::find(places.begin(), places.end(), b.menu);
    });
    return all;
}

} // namespace fulvex
