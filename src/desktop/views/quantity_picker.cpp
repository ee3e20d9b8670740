#include "quantity_picker.h"

#include "action.h"
#include "axis_painter.h"
#include "measurement_edits.h"
#include "quantity_drawing.h"
#include "quantity_table.h"

#include <QKeyEvent>
#include <QScreen>
#include <QVBoxLayout>

namespace fulvex {

namespace {

constexpr QSize drawn(60, 30);
constexpr int nameRole = Qt::UserRole, titleRole = Qt::UserRole + 1;

} // namespace

QuantityPicker::QuantityPicker(Workbench &bench, QWidget *parent)
    : QFrame(parent, Qt::Popup), m_bench(bench), m_channels(new QComboBox), m_search(new QLineEdit),
      m_list(new QListWidget), m_add(new QPushButton)
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
    m_list->setIconSize(drawn);
    m_list->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    layout->addWidget(m_list, 1);
    m_add->setObjectName("pickerAdd");
    layout->addWidget(m_add);
    resize(360, 470);

    m_search->installEventFilter(this);
    m_list->installEventFilter(this);
    connect(m_channels, &QComboBox::activated, this, [this] { fill(); });
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
    fill();
    const QRect room = screen()->availableGeometry();
    const int below = by.bottom() + 4, above = by.top() - 4 - height();
    move(std::clamp(by.left(), room.left(), std::max(room.left(), room.right() - width())),
         below + height() <= room.bottom() ? below : std::max(room.top(), above));
    show();
    m_search->setFocus();
}

void QuantityPicker::fill()
{
    m_list->clear();
    // Groups of which the channel gives something come first.
    std::vector<const QuantityGroup *> groups;
    for (const QuantityGroup &group : quantityGroups()) groups.push_back(&group);
    const auto gives = [&](const QuantityGroup *group) {
        return std::any_of(group->quantities.begin(), group->quantities.end(), [&](const Quantity &quantity) {
            return quantity.measure && !subjectOf(m_bench, quantity, channel()).empty();
        });
    };
    std::stable_partition(groups.begin(), groups.end(), gives);
    for (const QuantityGroup *group : groups) {
        const bool any = std::any_of(group->quantities.begin(), group->quantities.end(),
                                     [](const Quantity &quantity) { return quantity.measure != nullptr; });
        if (!any) continue; // of a later version
        auto *heading = new QListWidgetItem(tr(group->title), m_list);
        heading->setFlags(Qt::NoItemFlags);
        heading->setFont(m_bench.look().font(11, true));
        heading->setForeground(m_bench.look().quiet);
        for (const Quantity &quantity : group->quantities) {
            if (!quantity.measure) continue;
            const QString title = QCoreApplication::translate("Quantities", quantity.title);
            const bool given = !subjectOf(m_bench, quantity, channel()).empty();
            const QString missing = quantity.needs == Needs::source  ? tr("needs another channel")
                                    : quantity.needs == Needs::clock ? tr("needs a clock")
                                                                     : tr("needs an eye");
            auto *item =
                new QListWidgetItem(QIcon(QPixmap::fromImage(quantityDrawing(quantity.name, drawn, m_bench.look()))),
                                    given ? title : title + " · " + missing, m_list);
            item->setData(nameRole, QString(quantity.name));
            item->setData(titleRole, title);
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
    if (!m_taken.erase(name)) m_taken.insert(name);
    showTaken();
}

void QuantityPicker::showTaken()
{
    for (int row = 0; row < m_list->count(); ++row) {
        QListWidgetItem *item = m_list->item(row);
        const QString name = item->data(nameRole).toString();
        if (name.isEmpty()) continue;
        const bool taken = m_taken.contains(name);
        item->setBackground(taken ? QBrush(m_bench.look().accentWash) : QBrush());
        if (item->flags() & Qt::ItemIsEnabled) item->setText((taken ? "✓ " : "") + item->data(titleRole).toString());
    }
    const QListWidgetItem *current = m_list->currentItem();
    m_add->setEnabled(!m_taken.empty() || current);
    m_add->setText(m_taken.size() > 1            ? tr("Add %1 rows").arg(m_taken.size())
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
