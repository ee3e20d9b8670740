#include "mask_list.h"

#include "axis_painter.h"
#include "error.h"
#include "mask_choices.h"
#include "mask_painter.h"
#include "moved_captures.h"

#include <QFileDialog>
#include <QPushButton>
#include <QVBoxLayout>

namespace fulvex {

static constexpr QSize pictureSize(64, 40);

MaskList::MaskList(const Workbench &bench, const std::string &chosen, QWidget *parent)
    : QWidget(parent), m_search(new QLineEdit), m_list(new QListWidget), m_chosen(chosen)
{
    auto *layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(4);
    m_search->setObjectName("maskSearch");
    m_search->setPlaceholderText(tr("search masks"));
    layout->addWidget(m_search);
    m_list->setObjectName("maskList");
    m_list->setAccessibleName(tr("Masks"));
    m_list->setIconSize(pictureSize);
    m_list->setWordWrap(true);
    m_list->setTextElideMode(Qt::ElideNone);
    m_list->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    m_list->setFixedHeight(3 * (pictureSize.height() + 10) + 4);
    layout->addWidget(m_list);
    auto *file = new QPushButton(tr("From a file…"));
    file->setObjectName("maskFile");
    layout->addWidget(file);

    for (const MaskChoice &mask : maskChoices())
        add(mask.id, mask.title, text(mask.definition.source), maskDrawing(mask.definition, pictureSize, bench.look()));
    const auto shipped = [&](const MaskChoice &mask) { return mask.id == chosen; };
    if (!chosen.empty() && std::none_of(maskChoices().begin(), maskChoices().end(), shipped)) {
        MaskDefinition own;
        try {
            own = loadMask(chosen, bench.base(), {});
        } catch (const Error &) { // told where it is used
        }
        add(chosen, text(own.title.empty() ? chosen : own.title), text(chosen),
            maskDrawing(own, pictureSize, bench.look()));
    }
    connect(m_search, &QLineEdit::textChanged, this, &MaskList::search);
    connect(m_search, &QLineEdit::returnPressed, this, [this] {
        for (int row = 0; row < m_list->count(); ++row)
            if (!m_list->item(row)->isHidden()) return pick(m_list->item(row));
    });
    connect(m_list, &QListWidget::itemClicked, this, &MaskList::pick);
    connect(m_list, &QListWidget::itemActivated, this, &MaskList::pick);
    connect(file, &QPushButton::clicked, this, [this, &bench] {
        const QString path = QFileDialog::getOpenFileName(this, tr("Mask"), text(bench.base().string()),
                                                          tr("Masks (*.mask.json);;All files (*)"));
        if (!path.isEmpty()) emit picked(keptPath(path.toStdString(), bench.base()));
    });
}

void MaskList::add(const std::string &mask, const QString &title, const QString &tip, const QImage &drawing)
{
    auto *item = new QListWidgetItem(QIcon(QPixmap::fromImage(drawing)), title, m_list);
    item->setData(Qt::UserRole, text(mask));
    item->setToolTip(tip);
    if (mask == m_chosen) m_list->setCurrentItem(item);
}

void MaskList::search(const QString &words)
{
    for (int row = 0; row < m_list->count(); ++row) {
        QListWidgetItem *item = m_list->item(row);
        const QString all = item->text() + " " + item->data(Qt::UserRole).toString();
        bool found = true;
        for (const QString &word : words.split(' ', Qt::SkipEmptyParts))
            found &= all.contains(word, Qt::CaseInsensitive);
        item->setHidden(!found);
    }
}

void MaskList::pick(const QListWidgetItem *item)
{
    const std::string mask = item->data(Qt::UserRole).toString().toStdString();
    if (std::exchange(m_chosen, mask) != mask) emit picked(mask);
}

} // namespace fulvex
