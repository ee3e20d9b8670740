#include "message_bar.h"

#include "retire.h"

namespace fulvex {

MessageBar::MessageBar(QWidget *parent)
    : QFrame(parent), m_message(new QLabel), m_actions(new QHBoxLayout), m_dismiss(new QPushButton(tr("Dismiss")))
{
    setObjectName("messageBar");
    auto *bar = new QHBoxLayout(this);
    bar->setContentsMargins(14, 4, 14, 4);
    m_message->setObjectName("message");
    m_dismiss->setObjectName("dismissMessage");
    m_message->setWordWrap(true);
    m_message->setTextInteractionFlags(Qt::TextSelectableByMouse);
    bar->addWidget(m_message, 1);
    bar->addLayout(m_actions);
    connect(m_dismiss, &QPushButton::clicked, this, &QWidget::hide);
    bar->addWidget(m_dismiss);
    hide();
}

void MessageBar::show(const QString &message, std::vector<Action> actions, bool careful)
{
    while (QLayoutItem *old = m_actions->takeAt(0)) {
        retire(old->widget());
        delete old;
    }
    for (Action &action : actions) {
        auto *button = new QPushButton(action.words);
        button->setObjectName(action.name);
        connect(button, &QPushButton::clicked, this, [this, act = std::move(action.act)] {
            hide();
            act();
        });
        m_actions->addWidget(button);
    }
    m_message->setText(message);
    QWidget::show();
    if (m_actions->count() == 0) return;
    QWidget *first = careful ? m_dismiss : m_actions->itemAt(0)->widget();
    first->setFocus();
}

} // namespace fulvex
