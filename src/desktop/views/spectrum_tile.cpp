#include "spectrum_tile.h"

#include "document_edits.h"
#include "number_text.h"

#include <algorithm>
#include <cmath>

namespace fulvex {

SpectrumTile::SpectrumTile(Workbench &bench, int index, QWidget *parent)
    : RowTile(bench, index, parent), m_drawn(bench.figures(), [this] { refresh(); })
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
    m_figure.asked = bench().question().id == rowId() ? bench().question().frequency : std::nullopt;
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

void SpectrumTile::show(double low, double high)
{
    editTile(bench(), id(), tr("what of a spectrum is shown"), [&](TileEntry &tile) {
        tile.centre = (low + high) / 2;
        tile.span = high - low;
    });
}

void SpectrumTile::mousePressEvent(QMouseEvent *event)
{
    setFocus(Qt::MouseFocusReason);
    m_from = event->position().x();
    m_shownFrom = m_figure.shownFrequencies();
    if (event->modifiers() & Qt::ShiftModifier) return;
    const auto line = m_figure.lineAt(plot(), m_from);
    if (!line || event->position().y() < headHeight) return choose();
    Question question;
    question.frequency = line;
    bench().select({Selection::Kind::measurement, rowId()}, question);
}

void SpectrumTile::mouseMoveEvent(QMouseEvent *event)
{
    if (!(event->buttons() & Qt::LeftButton) || !(event->modifiers() & Qt::ShiftModifier) || !m_figure.drawing) return;
    const double width = m_shownFrom.second - m_shownFrom.first;
    const double low = std::max(0.0, m_shownFrom.first - (event->position().x() - m_from) / plot().width() * width);
    show(low, low + width);
}

void SpectrumTile::wheelEvent(QWheelEvent *event)
{
    event->accept();
    if (!m_figure.drawing || m_figure.drawing->spectrum.amplitudes.empty()) return;
    const auto [low, high] = m_figure.shownFrequencies();
    const double share = std::clamp((event->position().x() - plot().left()) / plot().width(), 0.0, 1.0);
    const double whole = m_figure.drawing->spectrum.step * double(m_figure.drawing->spectrum.amplitudes.size() - 1);
    const double about = low + share * (high - low);
    const double width = std::clamp((high - low) * std::pow(0.8, event->angleDelta().y() / 120.0),
                                    8 * m_figure.drawing->spectrum.step, whole);
    const double from = std::clamp(about - share * width, 0.0, whole - width);
    show(from, from + width);
}

void SpectrumTile::keyPressEvent(QKeyEvent *event)
{
    if (event->key() == Qt::Key_F)
        editTile(bench(), id(), tr("all of a spectrum"),
                 [](TileEntry &tile) { tile.centre = tile.span = std::nullopt; });
    else if (event->key() == Qt::Key_Escape)
        choose();
    else
        RowTile::keyPressEvent(event);
}

} // namespace fulvex
