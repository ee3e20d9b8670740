#pragma once

#include "workbench.h"

#include <QWidget>

namespace fulvex {

/// The paper a tile stands on: title, facts, a line on the right, border in the accent while selected. Derived tiles
/// paint below the heading. Computes nothing; reads the workbench's snapshot.
class TileFrame : public QWidget {
    Q_OBJECT
public:
    /// `kind`: of the entries of the document that it shows, of which the first is what a click chooses.
    TileFrame(Workbench &bench, int index, QWidget *parent, Selection::Kind kind = Selection::Kind::nothing);
    int index() const; ///< in the shown sheet; -1: it is there no more
    const TileEntry &entry() const;
    const std::string &id() const { return m_id; }
    static constexpr int headHeight = 26;
    /// Selects what it shows, as a click does.
    virtual void choose();
    /// Calls `take` with a picture of the tile as it is now, twice as fine as on screen, once all of it is drawn.
    void takePicture(std::function<void(const QImage &)> take);

signals:
    void contextRequested(const std::string &id, QPoint at); ///< what can be done with it

protected:
    virtual QString title() const = 0;
    virtual QString facts() const { return {}; }
    virtual QString aside() const { return {}; }
    virtual bool asideFails() const { return false; }
    virtual bool selected() const;
    virtual void paintBody(QPainter &painter, const QRectF &area) = 0;
    QRectF body() const;
    std::string entryId() const; ///< of the first entry that it shows; empty: of none
    /// Chooses that, and asks Evidence about it.
    void askEvidence(const Question &question);
    /// Of the capture that is shown, or as the tile asks for of others of a run; null: none are there yet.
    std::shared_ptr<const Results> results() const { return m_bench.resultsFor(entry()); }
    /// Which captures of a run it is of, behind what it is, where it is not the one that is shown: " of all 12".
    QString ofWhich() const;
    Workbench &bench() { return m_bench; }
    const Workbench &bench() const { return m_bench; }
    bool event(QEvent *event) override; ///< over the head a tooltip says what such a picture is
    void paintEvent(QPaintEvent *event) override;
    void contextMenuEvent(QContextMenuEvent *event) override;
    void keyPressEvent(QKeyEvent *event) override; ///< Return or Space chooses, Delete removes it

private:
    QImage picture();
    void paintAll(QPainter &painter);
    Workbench &m_bench;
    const Selection::Kind m_kind;
    std::string m_id; ///< the tile's: others may come and go before it
};

} // namespace fulvex
