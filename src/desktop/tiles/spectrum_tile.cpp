#include "spectrum_tile.h"

#include "number_text.h"

namespace fulvex {

SpectrumTile::SpectrumTile(Workbench &bench, int index, QWidget *parent)
    : RowTile(bench, index, parent), m_drawn(bench.figures(), [this] { refresh(); }), m_mover(bench, id())
{
    setObjectName("spectrumTile");
    setToolTip(tr("Click a line: the moments at its crests · wheel: closer · Shift+drag: along · F: all of it\n"
                  "Window, dB, centre and span: in the Inspector, under its row"));
    for (auto changed : {&Workbench::documentChanged, &Workbench::resultsChanged, &Workbench::selectionChanged})
        connect(&bench, changed, this, &SpectrumTile::refresh);
    connect(&bench, &Workbench::sessionBegun, this, [this] { m_drawn.drop(); });
    refresh();
}

void SpectrumTile::refresh()
{
    const SpectrumFigure before = m_figure;
    if (bench().results())
        m_figure = spectrumFigure(*bench().results(), entry());
    else if (!m_figure.values)
        m_figure.empty = tr("Measuring…");
    m_figure.take(m_drawn.newest());
    m_figure.asked = bench().question().id == entryId() ? bench().question().frequency : std::nullopt;
    if (m_figure.asked)
        m_aside =
            text(quantityText(*m_figure.asked, "Hz", m_figure.drawing ? m_figure.drawing->spectrum.step / 10 : 0));
    if (m_figure == before) return;
    if (const auto from = m_figure.drawingFrom(); from && isVisible()) m_drawn.want(*from);
    update();
}

void SpectrumTile::paintBody(QPainter &painter, const QRectF &area)
{
    if (const auto from = m_figure.drawingFrom()) m_drawn.want(*from);
    paintSpectrum(painter, area, m_figure, bench().look());
}

void SpectrumTile::mousePressEvent(QMouseEvent *event)
{
    setFocus(Qt::MouseFocusReason);
    if (m_mover.press(*event, m_figure.view())) return;
    const auto line = m_figure.lineAt(plot(), event->position().x());
    if (!line || event->position().y() < headHeight) return choose();
    Question question;
    question.frequency = line;
    askEvidence(question);
}

void SpectrumTile::mouseMoveEvent(QMouseEvent *event)
{
    m_mover.drag(*event, plot().width());
}

void SpectrumTile::mouseReleaseEvent(QMouseEvent *)
{
    m_mover.release();
}

void SpectrumTile::wheelEvent(QWheelEvent *event)
{
    event->accept();
    m_mover.wheel(*event, (event->position().x() - plot().left()) / plot().width(), m_figure.view());
}

void SpectrumTile::keyPressEvent(QKeyEvent *event)
{
    if (m_mover.key(*event)) return;
    if (event->key() == Qt::Key_Escape)
        choose();
    else
        RowTile::keyPressEvent(event);
}

} // namespace fulvex
