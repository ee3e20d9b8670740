#include "ask_box.h"

#include <algorithm>

namespace fulvex {

AskBox::AskBox(std::function<std::vector<Offer>()> offers, QWidget *parent)
    : QLineEdit(parent), m_source(std::move(offers)), m_list(new QListWidget)
{
    setObjectName("ask");
    setPlaceholderText(tr("Ask: rise link, eye, fit …        Ctrl+Space"));
    m_list->setObjectName("askList");
    m_list->setWindowFlags(Qt::ToolTip);
    m_list->setFocusPolicy(Qt::NoFocus);
    m_list->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    connect(this, &QObject::destroyed, m_list, &QObject::deleteLater);
    connect(this, &QLineEdit::textEdited, this, &AskBox::match);
    connect(m_list, &QListWidget::itemClicked, this, &AskBox::accept);
}

void AskBox::focusInEvent(QFocusEvent *event)
{
    QLineEdit::focusInEvent(event);
    if (event->reason() == Qt::ShortcutFocusReason || event->reason() == Qt::MouseFocusReason) match();
}

void AskBox::focusOutEvent(QFocusEvent *event)
{
    QLineEdit::focusOutEvent(event);
    m_list->hide();
}

/// Every typed word must begin a word of the offer; offers that have them earlier, and in the order typed, come first.
void AskBox::match()
{
    m_offers = m_source();
    const QStringList typed = text().toLower().split(' ', Qt::SkipEmptyParts);
    std::vector<std::pair<int, int>> hits; // rank, offer
    for (int i = 0; i < int(m_offers.size()); ++i) {
        const QStringList words = m_offers[std::size_t(i)].words.toLower().split(' ', Qt::SkipEmptyParts);
        int rank = 0;
        auto before = words.begin();
        for (const QString &part : typed) {
            const auto found =
                std::find_if(words.begin(), words.end(), [&](const QString &word) { return word.startsWith(part); });
            if (found == words.end()) {
                rank = -1;
                break;
            }
            rank += int(found - words.begin()) + (found->size() == part.size() ? 0 : 1) + (found < before ? 20 : 0);
            before = found;
        }
        if (rank >= 0) hits.emplace_back(rank, i);
    }
    const auto length = [&](int offer) { return m_offers[std::size_t(offer)].words.size(); }; // the plainer one first
    std::stable_sort(hits.begin(), hits.end(), [&](auto a, auto b) {
        return std::pair(a.first, length(a.second)) < std::pair(b.first, length(b.second));
    });
    m_list->clear();
    for (std::size_t i = 0; i < std::min<std::size_t>(hits.size(), 12); ++i) {
        const Offer &offer = m_offers[std::size_t(hits[i].second)];
        auto *item =
            new QListWidgetItem(offer.words + (offer.shortcut.isEmpty() ? QString() : "    " + offer.shortcut), m_list);
        item->setData(Qt::UserRole, hits[i].second);
    }
    if (m_list->count() == 0)
        new QListWidgetItem(tr("Nothing does that. Try a quantity and a channel, as in \"rise link\"."), m_list);
    m_list->setCurrentRow(0);
    m_list->setFixedSize(std::max(width(), 380), m_list->count() * 24 + 6);
    m_list->move(mapToGlobal(QPoint(0, height() + 2)));
    if (hasFocus()) m_list->show();
}

void AskBox::accept()
{
    const QListWidgetItem *item = m_list->currentItem();
    if (!item || !item->data(Qt::UserRole).isValid()) return;
    const auto act = m_offers[std::size_t(item->data(Qt::UserRole).toInt())].act;
    clear();
    clearFocus();
    m_list->hide();
    act();
}

void AskBox::keyPressEvent(QKeyEvent *event)
{
    const int row = m_list->currentRow();
    switch (event->key()) {
    case Qt::Key_Down:
        m_list->setCurrentRow(std::min(row + 1, m_list->count() - 1));
        break;
    case Qt::Key_Up:
        m_list->setCurrentRow(std::max(row - 1, 0));
        break;
    case Qt::Key_Return:
    case Qt::Key_Enter:
        accept();
        break;
    case Qt::Key_Escape:
        clear();
        clearFocus();
        break;
    default:
        QLineEdit::keyPressEvent(event);
    }
}

} // namespace fulvex
