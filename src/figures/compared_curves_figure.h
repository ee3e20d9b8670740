#pragma once

#include "frequency_view.h"
#include "function_plot.h"
#include "results.h"

namespace fulvex {

/// Amplitude over frequency of two results, and the second one less the first: of a spectrum, of a row's trend, or of
/// phase noise. May be made on any thread.
struct ComparedCurvesDrawing {
    /// What one side is of; one of them is there.
    struct Side {
        std::shared_ptr<const Spectrum> spectrum;
        std::shared_ptr<const Measured> values;
        std::shared_ptr<const PhaseNoise> noise;
        bool there() const { return spectrum || values || noise; }
        bool operator==(const Side &) const = default;
    };
    struct From {
        Side first, second;
        TileEntry tile;
        double columns = 800;
        bool operator==(const From &) const = default;
    };
    static ComparedCurvesDrawing of(const From &from);
    From from;
    AxisScale x;
    std::vector<double> frequencies; ///< Hz, common to both
    std::vector<double> levels[2];   ///< dB: of the highest of each column
    std::vector<double> difference;  ///< dB, second less first
    double resolution[2] = {0, 0};   ///< Hz; 0 where it has none
    struct Line {
        double frequency = 0, level[2] = {0, 0}; ///< Hz; dB there
    };
    std::vector<Line> lines; ///< of either that stand out, the highest first
};

struct ComparedCurvesFigure {
    QString title, facts;
    QString empty; ///< not empty: nothing to draw, and why
    QString names[2];
    TileEntry tile;
    std::string unit; ///< of levels
    ComparedCurvesDrawing::Side first, second;
    std::shared_ptr<const ComparedCurvesDrawing> drawing; ///< null: not made yet
    bool operator==(const ComparedCurvesFigure &) const = default;
    std::optional<ComparedCurvesDrawing::From> drawingFrom(double columns) const;
    QString aside() const; ///< what the highest line did
    FunctionPlot levels() const;
    FunctionPlot difference() const;
};

/// `id`: of a spectrum, a row or phase noise.
ComparedCurvesFigure comparedCurvesFigure(const Results &first, const Results &second, const TileEntry &tile,
                                          const std::string &id, const QString &firstName, const QString &secondName);

/// For the interface's thread.
void paintComparedCurves(QPainter &painter, const QRectF &area, const ComparedCurvesFigure &figure, const Look &look);

} // namespace fulvex
