#pragma once

#include "run_model.h"
#include "tile_frame.h"

#include <QSortFilterProxyModel>
#include <QTableView>

namespace fulvex {

/// A run at a glance: a line for each capture, the worst first, sorted by any column on wish. The chosen one is shown
/// in all other tiles.
class RunTile final : public TileFrame {
    Q_OBJECT
public:
    RunTile(Workbench &bench, int index, QWidget *parent);

protected:
    QString title() const override { return tr("Run"); }
    QString facts() const override;
    QString aside() const override;
    bool asideFails() const override { return bench().run() && bench().run()->failed > 0; }
    void paintBody(QPainter &painter, const QRectF &area) override;
    void resizeEvent(QResizeEvent *event) override;
    void mousePressEvent(QMouseEvent *event) override;

private:
    void refresh();
    void follow(); ///< marks the capture that is shown
    void offer(QPoint at);
    void chooseColumns(QPoint at);
    RunModel *m_model;
    QSortFilterProxyModel *m_proxy;
    QTableView *m_table;
    bool m_following = false;
    std::string m_followed; ///< the capture that was marked last
};

} // namespace fulvex
