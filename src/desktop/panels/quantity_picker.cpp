#include "quantity_picker.h"

#include "action.h"
#include "axis_painter.h"
#include "measurement_edits.h"
#include "quantity_drawing.h"
#include "quantity_table.h"
#include "row_sets.h"
#include "terms.h"

#include <QKeyEvent>
#include <QScreen>
#include <QVBoxLayout>

namespace fulvex {

namespace {

constexpr QSize sketchSize(60, 30);
constexpr int nameRole = Qt::UserRole, titleRole = Qt::UserRole + 1;

} // namespace

QuantityPicker::QuantityPicker(Workbench &bench, QWidget *parent)
    : QFrame(parent, Qt::Popup), m_bench(bench), m_channels(new QComboBox), m_search(new QLineEdit),
      m_list(new QListWidget), m_add(new QPushButton), m_suggested(bench.figures(), [this] {
          if (isVisible()) fill();
      })
{
    setObjectName("quantityPicker");
    auto *layout = new QVBoxLayout(this);
    layout->setContentsMargins(12, 10, 12, 12);
    layout->setSpacing(6);
    auto *head = new QHBoxLayout;
    auto *heading = new QLabel(tr("Measure"));
    heading->setObjectName("heading");
    head->addWidget(heading);
    m_channels->setObjectName("pickerChannel");
    head->addWidget(m_channels, 1);
    layout->addLayout(head);
    m_search->setObjectName("pickerSearch");
    m_search->setPlaceholderText(tr("search quantities"));
    layout->addWidget(m_search);
    m_list->setObjectName("pickerList");
    m_list->setIconSize(sketchSize);
    m_list->setWordWrap(true);
    m_list->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    layout->addWidget(m_list, 1);
    m_add->setObjectName("pickerAdd");
    layout->addWidget(m_add);
    resize(360, 470);

    m_search->installEventFilter(this);
    m_list->installEventFilter(this);
    connect(m_channels, &QComboBox::activated, this, [this] {
        wantSuggested();
        fill();
    });
    connect(&bench, &Workbench::sessionBegun, this, [this] { m_suggested.drop(); });
    connect(m_search, &QLineEdit::textChanged, this, &QuantityPicker::search);
    connect(m_list, &QListWidget::itemClicked, this, &QuantityPicker::take);
    connect(m_add, &QPushButton::clicked, this, &QuantityPicker::add);
}

std::string QuantityPicker::channel() const
{
    return m_channels->currentData().toString().toStdString();
}

void QuantityPicker::open(const std::string &channel, const QRect &by)
{
    const Document &document = m_bench.document();
    m_taken.clear();
    m_search->clear();
    m_channels->clear();
    for (const ChannelEntry &entry : document.channels)
        m_channels->addItem(nameOf(document, Selection::Kind::channel, entry.id), text(entry.id));
    m_channels->setCurrentIndex(m_channels->findData(text(channel)));
    wantSuggested();
    fill();
    const QRect room = screen()->availableGeometry();
    const int below = by.bottom() + 4, above = by.top() - 4 - height();
    move(std::clamp(by.left(), room.left(), std::max(room.left(), room.right() - width())),
         below + height() <= room.bottom() ? below : std::max(room.top(), above));
    show();
    m_search->setFocus();
}

std::string QuantityPicker::other() const
{
    return otherChannel(m_bench.document(), channel());
}

void QuantityPicker::wantSuggested()
{
    const auto sourceOf = [this](const std::string &id) -> SourcePtr {
        const ChannelResult *found = m_bench.results() ? findEntry(m_bench.results()->channels, id) : nullptr;
        return found ? found->source : nullptr;
    };
    const SourcePtr own = sourceOf(channel());
    if (own) m_suggested.want({own, sourceOf(other())});
}

QListWidgetItem *QuantityPicker::offer(const QString &name, const QString &title, const QString &tip)
{
    auto *item = new QListWidgetItem(title, m_list);
    item->setData(nameRole, name);
    item->setData(titleRole, title);
    item->setToolTip(tip);
    item->setSizeHint(QSize(0, 26));
    return item;
}

void QuantityPicker::offerSuggested()
{
    const auto &found = m_suggested.newest();
    const ChannelResult *own = m_bench.results() ? findEntry(m_bench.results()->channels, channel()) : nullptr;
    if (!found || !own || found->from.channel != own->source) return;
    const auto add = [&](const QString &name, const Suggestion &suggestion, const QString &what) {
        if (suggestion.rows.empty()) return;
        std::size_t fit = 0;
        for (const Suggestion::Row &row : suggestion.rows)
            fit += !subjectOf(m_bench, *findQuantity(row.quantity), row.turned ? other() : channel()).empty();
        if (fit == 0) return;
        offer(name, tr("%1 · add %2 rows").arg(what, QString::number(fit)),
              tr("Since %1.").arg(text(suggestion.reason)));
        auto *why = new QListWidgetItem(text(suggestion.reason), m_list);
        why->setSizeHint(QSize(0, 32)); // two lines
        why->setFlags(Qt::NoItemFlags);
        why->setFont(m_bench.look().font(10));
        why->setForeground(m_bench.look().quiet);
        why->setToolTip(text(suggestion.reason));
        why->setData(nameRole, "#why");
        why->setData(titleRole, text(suggestion.kind));
    };
    add("#own", found->own, tr("It looks like: %1").arg(text(found->own.kind)));
    add("#pair", found->pair, tr("With %1: %2").arg(text(other()), text(found->pair.kind)));
}

void QuantityPicker::offerSets()
{
    for (const RowSet &set : keptRowSets())
        offer("#set " + text(set.title), tr("Your set \"%1\": %2 rows").arg(text(set.title)).arg(set.rows.size()),
              tr("Lays its rows on this channel"));
}

void QuantityPicker::perform(const QString &name)
{
    const std::string on = channel(), with = other();
    const auto found = m_suggested.newest();
    close();
    if (name == "#own" && found) addSuggested(m_bench, found->own.rows, on, {});
    if (name == "#pair" && found) addSuggested(m_bench, found->pair.rows, on, with);
    for (const RowSet &set : keptRowSets()) {
        if (name == "#set " + text(set.title)) layOn(m_bench, set, on);
    }
}

void QuantityPicker::fill()
{
    m_list->clear();
    offerSuggested();
    offerSets();
    // Groups of which the channel gives something come first.
    std::vector<const QuantityGroup *> groups;
    for (const QuantityGroup &group : quantityGroups()) groups.push_back(&group);
    const auto gives = [&](const QuantityGroup *group) {
        return std::any_of(group->quantities.begin(), group->quantities.end(),
                           [&](const Quantity &quantity) { return !subjectOf(m_bench, quantity, channel()).empty(); });
    };
    std::stable_partition(groups.begin(), groups.end(), gives);
    for (const QuantityGroup *group : groups) {
        auto *heading = new QListWidgetItem(tr(group->title), m_list);
        heading->setFlags(Qt::NoItemFlags);
        heading->setFont(m_bench.look().font(11, true));
        heading->setForeground(m_bench.look().quiet);
        for (const Quantity &quantity : group->quantities) {
            const QString title = QCoreApplication::translate("Quantities", quantity.title);
            const bool given = !subjectOf(m_bench, quantity, channel()).empty();
            const QString missing = quantity.needs == Needs::source  ? tr("needs another channel")
                                    : quantity.needs == Needs::clock ? tr("needs a clock")
                                                                     : tr("needs an eye");
            auto *item = new QListWidgetItem(
                QIcon(QPixmap::fromImage(quantityDrawing(quantity.name, sketchSize, m_bench.look()))),
                given ? title : title + " · " + missing, m_list);
            item->setData(nameRole, QString(quantity.name));
            item->setData(titleRole, title);
            item->setToolTip(explained(quantity.name));
            if (!given) item->setFlags(Qt::ItemIsSelectable);
        }
    }
    search();
}

void QuantityPicker::search()
{
    const QStringList words = m_search->text().split(' ', Qt::SkipEmptyParts);
    QListWidgetItem *heading = nullptr, *first = nullptr;
    for (int row = 0; row < m_list->count(); ++row) {
        QListWidgetItem *item = m_list->item(row);
        const QString name = item->data(nameRole).toString();
        if (name.isEmpty()) {
            heading = item;
            heading->setHidden(true);
            continue;
        }
        const QString all =
            item->data(titleRole).toString() + " " + name + " " + (heading ? heading->text() : QString());
        const bool found = std::all_of(words.begin(), words.end(),
                                       [&](const QString &word) { return all.contains(word, Qt::CaseInsensitive); });
        item->setHidden(!found);
        if (!found) continue;
        if (heading) heading->setHidden(false);
        if (!first && item->flags() & Qt::ItemIsEnabled) first = item;
    }
    m_list->setCurrentItem(first);
    showTaken();
}

void QuantityPicker::take(QListWidgetItem *item)
{
    if (!item || !(item->flags() & Qt::ItemIsEnabled)) return;
    const QString name = item->data(nameRole).toString();
    if (name.startsWith('#')) return perform(name);
    if (!m_taken.erase(name)) m_taken.insert(name);
    showTaken();
}

void QuantityPicker::showTaken()
{
    for (int row = 0; row < m_list->count(); ++row) {
        QListWidgetItem *item = m_list->item(row);
        const QString name = item->data(nameRole).toString();
        if (name.isEmpty() || name.startsWith('#')) continue;
        const bool taken = m_taken.contains(name);
        item->setBackground(taken ? QBrush(m_bench.look().accentWash) : QBrush());
        if (item->flags() & Qt::ItemIsEnabled) item->setText((taken ? "✓ " : "") + item->data(titleRole).toString());
    }
    const QListWidgetItem *current = m_list->currentItem();
    m_add->setEnabled(!m_taken.empty() || current);
    const bool atOnce = m_taken.empty() && current && current->data(nameRole).toString().startsWith('#');
    m_add->setText(atOnce                        ? tr("Add these rows")
                   : m_taken.size() > 1          ? tr("Add %1 rows").arg(m_taken.size())
                   : m_taken.empty() && !current ? tr("Nothing found")
                                                 : tr("Add the row"));
}

void QuantityPicker::add()
{
    std::vector<std::string> quantities; // in the order in which they stand
    for (int row = 0; row < m_list->count(); ++row) {
        const QString name = m_list->item(row)->data(nameRole).toString();
        if (m_taken.contains(name)) quantities.push_back(name.toStdString());
    }
    if (quantities.empty() && m_list->currentItem() && m_list->currentItem()->data(nameRole).toString().startsWith('#'))
        return perform(m_list->currentItem()->data(nameRole).toString());
    if (quantities.empty() && m_list->currentItem())
        quantities.push_back(m_list->currentItem()->data(nameRole).toString().toStdString());
    if (quantities.empty()) return;
    const std::string of = channel();
    close();
    addMeasurements(m_bench, quantities, of);
}

bool QuantityPicker::eventFilter(QObject *watched, QEvent *event)
{
    if (event->type() != QEvent::KeyPress) return QFrame::eventFilter(watched, event);
    auto *key = static_cast<QKeyEvent *>(event);
    const int pressed = key->key();
    if (pressed == Qt::Key_Return || pressed == Qt::Key_Enter) {
        add();
        return true;
    }
    if (pressed == Qt::Key_Space && (watched == m_list || m_search->text().isEmpty() || key->modifiers())) {
        take(m_list->currentItem());
        return true;
    }
    if (watched == m_search && (pressed == Qt::Key_Down || pressed == Qt::Key_Up)) {
        m_list->setFocus();
        QCoreApplication::sendEvent(m_list, event);
        return true;
    }
    if (watched == m_list && !key->text().isEmpty() && key->text().front().isPrint()) {
        m_search->setFocus();
        QCoreApplication::sendEvent(m_search, event);
        return true;
    }
    return QFrame::eventFilter(watched, event);
}

} // namespace fulvex
