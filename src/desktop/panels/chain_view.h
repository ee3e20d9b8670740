#pragma once

#include "chain_layout.h"
#include "formula_editor.h"

#include <QLineEdit>
#include <QScrollArea>
#include <QToolButton>

namespace fulvex {

/// The rails themselves. Up and Down walk, F2 or a double click edits in place (a formula, or a name), Delete removes
/// with what depends on it; a channel can be dragged onto a traces tile.
class ChainRails final : public QWidget {
    Q_OBJECT
public:
    explicit ChainRails(Workbench &bench, QWidget *parent = nullptr);
    const ChainLayout &layoutShown() const { return m_layout; }
    void edit();
    void addFormula(); ///< asks for that of a new channel
    void removeSelected();

signals:
    void rowShown(double y);
    void contextRequested(const fulvex::Selection &what, QPoint at);

protected:
    void paintEvent(QPaintEvent *event) override;
    void mousePressEvent(QMouseEvent *event) override;
    void mouseMoveEvent(QMouseEvent *event) override;
    void mouseDoubleClickEvent(QMouseEvent *event) override;
    void keyPressEvent(QKeyEvent *event) override;
    bool event(QEvent *event) override;
    void contextMenuEvent(QContextMenuEvent *event) override;

private:
    void refresh();
    void saySelected(); ///< to who hears the screen; scrolls to it
    const ChainLayout::Row *rowAt(double y) const;
    void step(int by);
    Workbench &m_bench;
    ChainLayout m_layout;
    Selection m_shown; ///< that was scrolled to
    QPointF m_pressed;
    QLineEdit *m_editor;
    FormulaEditor &formulaEditor();
    FormulaEditor *m_formula = nullptr; ///< of the window, as soon as it is wanted
    std::string m_edited;               ///< the channel that m_editor is about, whatever is selected by then
};

/// The left panel: heading, add button, rails, and below them the parameters.
class ChainView final : public QWidget {
    Q_OBJECT
public:
    explicit ChainView(Workbench &bench, QWidget *parent = nullptr);
    void setAddMenu(QMenu *menu) { m_add->setMenu(menu); }
    ChainRails *rails() { return m_rails; }

private:
    ChainRails *m_rails;
    QToolButton *m_add;
};

} // namespace fulvex
