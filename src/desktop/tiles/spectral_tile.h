#pragma once

#include "autocorrelation_figure.h"
#include "channel_spectrum_figure.h"
#include "figure_worker.h"
#include "frequency_mover.h"
#include "tile_frame.h"
#include "transfer_figure.h"

namespace fulvex {

/// A tile of a spectrum entry with frequency, or lag, across. Wheel: closer, about the pointer; Shift+drag: along; F:
/// all.
class SpectralTile : public TileFrame {
    Q_OBJECT
public:
    SpectralTile(Workbench &bench, int index, QWidget *parent);

protected:
    QRectF plot() const { return FunctionPlot().plotRect(body()); }
    virtual FrequencyView frequencies() const = 0;
    virtual void refresh() = 0;
    virtual void pressed(QMouseEvent *event);
    void mousePressEvent(QMouseEvent *event) final;
    void mouseMoveEvent(QMouseEvent *event) override;
    void mouseReleaseEvent(QMouseEvent *event) override;
    void wheelEvent(QWheelEvent *event) override;
    void keyPressEvent(QKeyEvent *event) override;

private:
    FrequencyMover m_mover;
};

/// Such a tile of a figure that is made by `make` from results and painted by `paint`, with a drawing of its own.
template <typename Figure, typename Drawing, auto make, auto paint>
class SpectralTileOf : public SpectralTile {
public:
    SpectralTileOf(Workbench &bench, int index, QWidget *parent)
        : SpectralTile(bench, index, parent), m_drawn(bench.figures(), [this] { refresh(); })
    {
        connect(&bench, &Workbench::sessionBegun, this, [this] { m_drawn.drop(); });
    }

protected:
    QString facts() const override
    {
        return m_figure.title + ofWhich() + (m_figure.facts.isEmpty() ? QString() : " · " + m_figure.facts);
    }
    FrequencyView frequencies() const override { return m_figure.view(); }
    virtual void lookAround(Figure &, const Figure &) const {} ///< adds what is asked or pointed at; the one before
    void refresh() final
    {
        const Figure before = m_figure;
        if (const auto shown = results())
            m_figure = make(*shown, entry());
        else if (!m_figure.drawing)
            m_figure.empty = tr("Transforming…");
        m_figure.take(m_drawn.newest());
        lookAround(m_figure, before);
        if (m_figure == before) return;
        if (isVisible()) want(body());
        update();
    }
    void paintBody(QPainter &painter, const QRectF &area) override
    {
        want(area);
        paint(painter, area, m_figure, bench().look());
    }
    Figure m_figure;

private:
    void want(const QRectF &area)
    {
        if (const auto from = m_figure.drawingFrom(FunctionPlot().plotRect(area).width())) m_drawn.want(*from);
    }
    Drawn<Drawing> m_drawn;
};

using ChannelSpectrumTileBase = SpectralTileOf<ChannelSpectrumFigure, ChannelSpectrumDrawing, &channelSpectrumFigure,
                                               &paintSpectral<ChannelSpectrumFigure>>;
using TransferTileBase = SpectralTileOf<TransferFigure, TransferDrawing, &transferFigure, &paintTransfer>;
using AutocorrelationTileBase = SpectralTileOf<AutocorrelationFigure, AutocorrelationDrawing, &autocorrelationFigure,
                                               &paintSpectral<AutocorrelationFigure>>;

/// A channel's spectrum. A click chooses a line: its harmonics are marked, and Evidence says when it is strongest; a
/// drag asks the same of a band; Esc chooses none.
class ChannelSpectrumTile final : public ChannelSpectrumTileBase {
    Q_OBJECT
public:
    ChannelSpectrumTile(Workbench &bench, int index, QWidget *parent);

protected:
    QString title() const override { return tr("Spectrum"); }
    void lookAround(ChannelSpectrumFigure &figure, const ChannelSpectrumFigure &before) const override;
    void pressed(QMouseEvent *event) override;
    void mouseMoveEvent(QMouseEvent *event) override;
    void mouseReleaseEvent(QMouseEvent *event) override;
    void keyPressEvent(QKeyEvent *event) override;

private:
    void askOf(double low, double high);
    void mark(std::optional<double> frequency);
    double frequencyAt(double x) const;
    std::optional<double> m_from; ///< pixel that a press was at
    bool m_boxed = false;
};

/// Magnitude, phase and coherence between two channels; where the pointer is, in numbers.
class TransferTile final : public TransferTileBase {
    Q_OBJECT
public:
    TransferTile(Workbench &bench, int index, QWidget *parent);

protected:
    QString title() const override { return tr("Transfer function"); }
    void lookAround(TransferFigure &figure, const TransferFigure &before) const override;
    void mouseMoveEvent(QMouseEvent *event) override;
    void leaveEvent(QEvent *event) override;
};

class AutocorrelationTile final : public AutocorrelationTileBase {
    Q_OBJECT
public:
    AutocorrelationTile(Workbench &bench, int index, QWidget *parent);

protected:
    QString title() const override { return tr("Autocorrelation"); }
};

} // namespace fulvex
