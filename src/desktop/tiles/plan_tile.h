#pragma once

#include "step_card.h"
#include "tile_frame.h"

#include <QScrollArea>

namespace fulvex {

/// A plan as a list one works down.
class PlanTile final : public TileFrame {
    Q_OBJECT
public:
    PlanTile(Workbench &bench, int index, QWidget *parent);

protected:
    QString title() const override;
    QString facts() const override;
    QString aside() const override;
    bool asideFails() const override;
    void paintBody(QPainter &painter, const QRectF &area) override;
    void resizeEvent(QResizeEvent *event) override;

private:
    const PlanState *state() const { return bench().planState(entryId()); }
    void refresh();
    QScrollArea *m_scroll;
    QWidget *m_page;
    std::vector<StepCard *> m_cards;
    std::vector<StepOutcome> m_outcomes; ///< of its steps, as they are shown
};

} // namespace fulvex
