#include "spectral_tile.h"

#include "tile_edits.h"

#include <QApplication>
#include <cmath>

namespace fulvex {

SpectralTile::SpectralTile(Workbench &bench, int index, QWidget *parent)
    : TileFrame(bench, index, parent, Selection::Kind::spectrum), m_mover(bench, id())
{
    for (auto changed : {&Workbench::documentChanged, &Workbench::resultsChanged, &Workbench::selectionChanged,
                         &Workbench::lookChanged})
        connect(&bench, changed, this, [this] { refresh(); });
}

void SpectralTile::pressed(QMouseEvent *)
{
    choose();
}

void SpectralTile::mousePressEvent(QMouseEvent *event)
{
    setFocus(Qt::MouseFocusReason);
    if (!m_mover.press(*event, frequencies())) pressed(event);
}

void SpectralTile::mouseMoveEvent(QMouseEvent *event)
{
    m_mover.drag(*event, plot().width());
}

void SpectralTile::mouseReleaseEvent(QMouseEvent *)
{
    m_mover.release();
}

void SpectralTile::wheelEvent(QWheelEvent *event)
{
    event->accept();
    m_mover.wheel(*event, (event->position().x() - plot().left()) / plot().width(), frequencies());
}

void SpectralTile::keyPressEvent(QKeyEvent *event)
{
    if (!m_mover.key(*event)) TileFrame::keyPressEvent(event);
}

ChannelSpectrumTile::ChannelSpectrumTile(Workbench &bench, int index, QWidget *parent)
    : ChannelSpectrumTileBase(bench, index, parent)
{
    setObjectName("channelSpectrumTile");
    setToolTip(
        tr("Click a line: its harmonics, and when it is strongest · drag: when a band is · Esc: none\n"
           "Wheel: closer · Shift+drag: along · F: all of it · amplitudes, window, resolution: in the Inspector"));
    refresh();
}

void ChannelSpectrumTile::lookAround(ChannelSpectrumFigure &figure, const ChannelSpectrumFigure &) const
{
    if (bench().question().id == entryId()) figure.asked = bench().question().frequencies;
}

double ChannelSpectrumTile::frequencyAt(double x) const
{
    return m_figure.view().scale().valueAt(std::clamp((x - plot().left()) / plot().width(), 0.0, 1.0));
}

void ChannelSpectrumTile::askOf(double low, double high)
{
    Question question;
    question.frequencies = {low, high};
    askEvidence(question);
}

void ChannelSpectrumTile::mark(std::optional<double> frequency)
{
    if (entry().marked == frequency) return;
    editTile(
        bench(), id(), tr("choose a line"), [&](TileEntry &tile) { tile.marked = frequency; },
        "line of " + QString::fromStdString(id()));
}

void ChannelSpectrumTile::pressed(QMouseEvent *event)
{
    m_from.reset();
    m_boxed = false;
    if (event->button() != Qt::LeftButton) return;
    if (!m_figure.spectrum || !plot().contains(event->position())) return choose();
    m_from = event->position().x();
}

void ChannelSpectrumTile::mouseMoveEvent(QMouseEvent *event)
{
    if (!m_from) return SpectralTile::mouseMoveEvent(event);
    const double x = event->position().x();
    m_boxed |= std::abs(x - *m_from) > QApplication::startDragDistance();
    if (m_boxed) {
        m_figure.asked = {frequencyAt(std::min(*m_from, x)), frequencyAt(std::max(*m_from, x))};
        update();
    }
}

void ChannelSpectrumTile::mouseReleaseEvent(QMouseEvent *event)
{
    SpectralTile::mouseReleaseEvent(event);
    const auto from = std::exchange(m_from, {});
    if (!from || !m_figure.spectrum) return;
    const double x = event->position().x();
    if (std::exchange(m_boxed, false)) return askOf(frequencyAt(std::min(*from, x)), frequencyAt(std::max(*from, x)));
    const auto line = m_figure.lineAt(plot(), *from);
    if (!line) return choose();
    mark(line);
    const double reach = 2 * m_figure.spectrum->power.resolution();
    askOf(std::max(0.0, *line - reach), *line + reach);
}

void ChannelSpectrumTile::keyPressEvent(QKeyEvent *event)
{
    if (event->key() != Qt::Key_Escape) return SpectralTile::keyPressEvent(event);
    mark({});
    choose();
}

TransferTile::TransferTile(Workbench &bench, int index, QWidget *parent) : TransferTileBase(bench, index, parent)
{
    setObjectName("transferTile");
    setMouseTracking(true);
    setToolTip(
        tr("Magnitude, phase and coherence; faint where the output does not follow from the input\n"
           "Wheel: closer · Shift+drag: along · F: all of it · delay taken out, log frequency: in the Inspector"));
    refresh();
}

void TransferTile::lookAround(TransferFigure &figure, const TransferFigure &before) const
{
    figure.pointed = before.pointed;
}

void TransferTile::mouseMoveEvent(QMouseEvent *event)
{
    SpectralTile::mouseMoveEvent(event);
    const double share = (event->position().x() - plot().left()) / plot().width();
    m_figure.pointed = share >= 0 && share <= 1 && m_figure.transfer
                           ? std::optional(m_figure.view().scale().valueAt(share))
                           : std::nullopt;
    update();
}

void TransferTile::leaveEvent(QEvent *)
{
    m_figure.pointed.reset();
    update();
}

AutocorrelationTile::AutocorrelationTile(Workbench &bench, int index, QWidget *parent)
    : AutocorrelationTileBase(bench, index, parent)
{
    setObjectName("autocorrelationTile");
    setToolTip(tr("How alike the signal and itself are, some time later: where it comes again there is a peak\n"
                  "Wheel: closer · Shift+drag: along · F: all of it"));
    refresh();
}

} // namespace fulvex
