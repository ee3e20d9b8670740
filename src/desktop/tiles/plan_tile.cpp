#include "plan_tile.h"

#include "axis_painter.h"
#include "count_words.h"
#include "plan_edits.h"

#include <QPainter>
#include <QVBoxLayout>
#include <algorithm>

namespace fulvex {

PlanTile::PlanTile(Workbench &bench, int index, QWidget *parent)
    : TileFrame(bench, index, parent, Selection::Kind::plan), m_scroll(new QScrollArea(this)), m_page(new QWidget)
{
    setObjectName("planTile");
    m_scroll->setObjectName("planSteps");
    m_scroll->setFrameShape(QFrame::NoFrame);
    m_scroll->setWidgetResizable(true);
    m_scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAsNeeded);
    auto *list = new QVBoxLayout(m_page);
    list->setContentsMargins(4, 2, 4, 4);
    list->setSpacing(8);
    list->addStretch(1);
    m_scroll->setWidget(m_page);
    for (auto changed : {&Workbench::documentChanged, &Workbench::plansChanged, &Workbench::lookChanged})
        connect(&bench, changed, this, [this] { refresh(); });
    refresh();
}

QString PlanTile::title() const
{
    if (!state() || !state()->plan) return tr("Plan");
    const Plan &plan = *state()->plan;
    return text(plan.title) + (plan.revision.empty() ? QString() : tr(", revision %1").arg(text(plan.revision)));
}

QString PlanTile::facts() const
{
    if (!state() || !state()->plan) return {};
    std::size_t tests = 0;
    for (const PlanStep &step : state()->plan->steps) tests += step.tests.size();
    return countOf(state()->plan->steps.size(), tr("step"), tr("steps")) + " · " +
           countOf(tests, tr("test"), tr("tests")) +
           (state()->plan->source.empty() ? QString() : " · " + text(state()->plan->source));
}

QString PlanTile::aside() const
{
    if (m_outcomes.empty()) return {};
    const auto open = std::ranges::count_if(m_outcomes, [](const StepOutcome &step) {
        return step.state == StepOutcome::State::open || step.state == StepOutcome::State::refused;
    });
    const TestVerdict whole = verdictOf(m_outcomes);
    const QString words = whole == TestVerdict::open ? QString() : verdictWords(whole);
    return open ? words + (words.isEmpty() ? QString() : QString(" · ")) +
                      countOf(std::size_t(open), tr("step open"), tr("steps open"))
                : words;
}

bool PlanTile::asideFails() const
{
    return verdictOf(m_outcomes) == TestVerdict::fail;
}

void PlanTile::refresh()
{
    const bool known = state() && state()->plan;
    m_scroll->setVisible(known);
    const auto isCurrent = [&] {
        if (!known || m_cards.size() != state()->plan->steps.size()) return false;
        for (std::size_t i = 0; i < m_cards.size(); ++i)
            if (m_cards[i]->step() != state()->plan->steps[i].id) return false;
        return true;
    };
    if (!isCurrent()) {
        for (StepCard *card : m_cards) card->deleteLater();
        m_cards.clear();
        auto *list = static_cast<QVBoxLayout *>(m_page->layout());
        for (std::size_t i = 0; known && i < state()->plan->steps.size(); ++i) {
            auto *card = new StepCard(bench(), entryId(), state()->plan->steps[i].id, m_page);
            list->insertWidget(int(i), card);
            m_cards.push_back(card);
        }
    }
    m_outcomes.clear();
    for (StepCard *card : m_cards) {
        card->refresh();
        m_outcomes.push_back(card->outcome());
    }
    update();
}

void PlanTile::paintBody(QPainter &painter, const QRectF &area)
{
    if (!state() || !state()->plan)
        return paintEmpty(painter, area,
                          state() && !state()->error.empty() ? text(state()->error) : tr("Reading the plan…"),
                          bench().look());
    if (painter.device() != this) m_scroll->render(&painter, m_scroll->pos());
}

void PlanTile::resizeEvent(QResizeEvent *event)
{
    TileFrame::resizeEvent(event);
    m_scroll->setGeometry(body().toRect().adjusted(0, 0, 0, -6));
}

} // namespace fulvex
