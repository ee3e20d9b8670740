#pragma once

#include "frequency_view.h"
#include "function_plot.h"
#include "results.h"

#include <QStringList>

namespace fulvex {

/// Phase noise of one or several entries over one axis of offsets: the curves with lines, floor and limit of the first;
/// below them the jitter that the first gathers, and how far the others lie from it.
struct PhaseNoiseFigure {
    TileEntry tile;
    QString title, facts, aside;
    bool failed = false;
    QString empty; ///< not empty: nothing to draw, and why
    struct Shown {
        std::string id;
        std::shared_ptr<const PhaseNoise> found;
    };
    std::vector<Shown> shown;        ///< of which the first is told in numbers
    PhaseNoiseSpan span;             ///< of the first, as far as can be told
    double lowest = 1, highest = 10; ///< Hz, of all
    std::optional<double> floor;     ///< dBc/Hz
    std::vector<double> limitOffsets, limitLevels;
    QStringList lines;                 ///< the strongest of the first, in words
    std::optional<double> pointed;     ///< Hz, where the pointer is
    std::optional<std::size_t> chosen; ///< line of the first
    FrequencyView view() const;
    /// The rms jitter over `span`, in words.
    QString jitterText() const;
    /// Level, gathered jitter, and with several the difference, one below the other.
    std::vector<FunctionPlot> plots() const;
    /// Where each of them goes.
    std::vector<QRectF> areas(const QRectF &area) const;
    /// Offset at a place; none beside the plots.
    std::optional<double> offsetAt(const QRectF &area, QPointF at) const;
    std::optional<std::size_t> lineAt(const QRectF &area, double x) const;
    enum class Grip { from, to };
    /// The limit of integration there.
    std::optional<Grip> gripAt(const QRectF &area, QPointF at) const;
    QString wordsAt(double offset) const;

private:
    double xOf(const QRectF &area, double offset) const;
    FunctionPlot levels() const;
    FunctionPlot gathered() const;
    FunctionPlot differences() const;
};

PhaseNoiseFigure phaseNoiseFigure(const Results &results, const TileEntry &tile);
/// For the interface's thread.
void paintPhaseNoise(QPainter &painter, const QRectF &area, const PhaseNoiseFigure &figure, const Look &look);

/// What there is to draw of phase noise, whose title it gives; null: nothing, and `empty` says why.
const PhaseNoiseResult *drawablePhaseNoise(const Results &results, const std::string &id, QString &title,
                                           QString &empty);

} // namespace fulvex
