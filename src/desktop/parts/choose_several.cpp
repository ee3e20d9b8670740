#include "choose_several.h"

#include "axis_painter.h"

#include <QDialogButtonBox>
#include <QLabel>
#include <QListWidget>
#include <QPushButton>
#include <QVBoxLayout>
#include <algorithm>

namespace fulvex {

ChooseSeveral::ChooseSeveral(const QString &question, const std::vector<std::string> &names,
                             const std::vector<std::string> &ticked, const QString &accept, QWidget *parent)
    : QDialog(parent), m_list(new QListWidget)
{
    setObjectName("chooseSeveral");
    auto *layout = new QVBoxLayout(this);
    layout->addWidget(new QLabel(question));
    for (const std::string &name : names) {
        auto *item = new QListWidgetItem(text(name), m_list);
        const bool on = std::find(ticked.begin(), ticked.end(), name) != ticked.end();
        item->setCheckState(on ? Qt::Checked : Qt::Unchecked);
    }
    m_list->setObjectName("chooseSeveralList");
    m_list->setMinimumWidth(320);
    layout->addWidget(m_list);
    auto *buttons = new QDialogButtonBox(QDialogButtonBox::Ok | QDialogButtonBox::Cancel);
    QPushButton *take = buttons->button(QDialogButtonBox::Ok);
    take->setText(accept);
    const auto look = [this, take] { take->setEnabled(!chosen().empty()); };
    connect(m_list, &QListWidget::itemChanged, take, look);
    look();
    connect(buttons, &QDialogButtonBox::accepted, this, &QDialog::accept);
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
    layout->addWidget(buttons);
}

std::vector<std::string> ChooseSeveral::chosen() const
{
    std::vector<std::string> names;
    for (int row = 0; row < m_list->count(); ++row)
        if (m_list->item(row)->checkState() == Qt::Checked) names.push_back(m_list->item(row)->text().toStdString());
    return names;
}

} // namespace fulvex
