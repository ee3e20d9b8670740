#include "ask_box.h"

#include "manual_index.h"

#include <algorithm>

namespace fulvex {

AskBox::AskBox(std::function<std::vector<Offer>()> offers, std::function<std::vector<Offer>(const QString &)> answers,
               QWidget *parent)
    : QLineEdit(parent), m_source(std::move(offers)), m_answers(std::move(answers)), m_list(new QListWidget)
{
    setObjectName("ask");
    setPlaceholderText(tr("Ask: rise link, eye, how do I …        Ctrl+Space"));
    setAccessibleName(tr("Ask"));
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
    outdate();
    if (event->reason() == Qt::ShortcutFocusReason || event->reason() == Qt::MouseFocusReason) match();
}

void AskBox::focusOutEvent(QFocusEvent *event)
{
    QLineEdit::focusOutEvent(event);
    m_list->hide();
}

void AskBox::begin()
{
    setFocus(Qt::ShortcutFocusReason);
    selectAll();
    match();
}

/// Every typed word must begin a word of the offer, or of what it acts on. First come those with the words earlier and
/// whole, and those that act on what is selected or in view.
std::vector<int> AskBox::found(const QStringList &typed) const
{
    std::vector<std::pair<int, int>> hits; // rank, offer
    for (int i = 0; i < int(m_found.size()); ++i) {
        const auto &[words, also] = m_found[std::size_t(i)];
        int rank = m_offers[std::size_t(i)].distance;
        auto before = words.begin();
        for (const QString &part : typed) {
            const auto begins = [&](const QString &word) { return word.startsWith(part); };
            auto at = std::find_if(words.begin(), words.end(), begins);
            if (const auto whole = std::find(words.begin(), words.end(), part); whole != words.end()) at = whole;
            if (at != words.end()) {
                rank += int(at - words.begin()) + (at->size() == part.size() ? 0 : 1) + (at < before ? 1 : 0);
                before = at;
                continue;
            }
            const auto other = std::find_if(also.begin(), also.end(), begins);
            if (other == also.end()) {
                rank = -1;
                break;
            }
            rank += 6 + (other->size() == part.size() ? 0 : 3);
        }
        if (rank >= 0) hits.emplace_back(rank, i);
    }
    const auto length = [&](int offer) { return m_offers[std::size_t(offer)].words.size(); }; // the plainer one first
    std::stable_sort(hits.begin(), hits.end(), [&](auto a, auto b) {
        return std::pair(a.first, length(a.second)) < std::pair(b.first, length(b.second));
    });
    std::vector<int> offers;
    for (const auto &[rank, offer] : hits) offers.push_back(offer);
    return offers;
}

std::vector<int> AskBox::foundOfEach(const QString &typed) const
{
    QList<QStringList> requests;
    for (const QString &part : typed.split(',', Qt::SkipEmptyParts)) {
        const QStringList words = part.split(' ', Qt::SkipEmptyParts);
        if (!words.isEmpty()) requests << words;
    }
    std::vector<int> offers;
    if (requests.size() < 2) return offers;
    for (const QStringList &request : requests) {
        std::vector<int> best;
        const QStringList &last = requests.back();
        for (qsizetype of = 1; of < last.size() && &request != &requests.back() && best.empty(); ++of)
            best = found(request + last.mid(of));
        if (best.empty()) best = found(request);
        if (best.empty()) return {};
        if (std::find(offers.begin(), offers.end(), best.front()) == offers.end()) offers.push_back(best.front());
    }
    return offers;
}

void AskBox::show(const QString &words, const std::vector<int> &offers)
{
    auto *item = new QListWidgetItem(words, m_list);
    item->setData(Qt::UserRole, QVariant::fromValue(QList<int>(offers.begin(), offers.end())));
}

std::vector<int> AskBox::foundOfQuestion(const QStringList &words) const
{
    std::vector<int> offers = found(words);
    for (qsizetype without = 0; without < words.size() && words.size() > 1 && offers.empty(); ++without) {
        QStringList rest = words;
        rest.removeAt(without);
        offers = found(rest);
    }
    return offers;
}

void AskBox::addAnswers(const QString &typed)
{
    constexpr std::size_t most = 6;
    std::vector<Offer> answers = m_answers(typed);
    answers.resize(std::min(answers.size(), most));
    for (Offer &answer : answers) {
        m_offers.push_back(std::move(answer));
        show(m_offers.back().words, {int(m_offers.size()) - 1});
    }
}

void AskBox::outdate()
{
    m_outdated = true;
}

void AskBox::renew()
{
    m_offers = m_source();
    m_found.clear();
    for (const Offer &offer : m_offers)
        m_found.push_back({offer.words.toLower().remove(QChar(0x2026)).split(' ', Qt::SkipEmptyParts), // "…"
                           offer.also.toLower().split(' ', Qt::SkipEmptyParts)});
    m_outdated = false;
}

void AskBox::match()
{
    if (m_outdated)
        renew();
    else
        m_offers.resize(m_found.size()); // without the answers to the last letter
    m_list->clear();
    const QString typed = text().toLower();
    if (typed.contains(',')) {
        QStringList words;
        const std::vector<int> several = foundOfEach(typed);
        for (const int offer : several) words << m_offers[std::size_t(offer)].words;
        if (!several.empty()) show(words.join("  ·  "), several);
    } else {
        const QStringList asked = askedFor(typed);
        const std::vector<int> offers =
            asked.isEmpty() ? found(typed.split(' ', Qt::SkipEmptyParts)) : foundOfQuestion(asked);
        const std::size_t most = asked.isEmpty() ? 12 : 4;
        for (std::size_t i = 0; i < std::min(offers.size(), most); ++i) {
            const Offer &offer = m_offers[std::size_t(offers[i])];
            show(offer.words + (offer.shortcut.isEmpty() ? QString() : "    " + offer.shortcut), {offers[i]});
        }
        if (!asked.isEmpty() || offers.empty()) addAnswers(typed);
    }
    if (m_list->count() == 0)
        new QListWidgetItem(tr("Nothing does that. Try \"rise link\", or several: \"rise, fall link\"."), m_list);
    m_list->setCurrentRow(0);
    int high = 6;
    for (int row = 0; row < m_list->count(); ++row) high += m_list->sizeHintForRow(row);
    m_list->setFixedSize(std::max(width(), m_list->sizeHintForColumn(0) + 16), high); // nothing is cut off
    m_list->move(mapToGlobal(QPoint(0, height() + 2)));
    if (hasFocus()) m_list->show();
}

void AskBox::accept()
{
    const QListWidgetItem *item = m_list->currentItem();
    if (!item || !item->data(Qt::UserRole).isValid()) return;
    std::vector<std::function<void()>> acts;
    for (const int offer : item->data(Qt::UserRole).value<QList<int>>())
        acts.push_back(m_offers[std::size_t(offer)].act);
    clear();
    clearFocus();
    m_list->hide();
    for (const auto &act : acts) act();
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
