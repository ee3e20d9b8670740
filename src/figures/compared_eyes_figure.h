#pragma once

#include "eye_figure.h"

namespace fulvex {

/// Inks of two results that lie beside each other: the other one's, and this project's.
struct ComparedInks {
    static constexpr int first = 2, second = 5; ///< as Look::trace()
};

/// Two eyes over each other, each in its ink, or where one is passed more often than the other. Ratios of the traces of
/// each are compared, so that records of any length may be.
struct ComparedEyesDrawing {
    struct From {
        std::shared_ptr<const EyeFold> first, second;
        double low = 0, high = 1;        ///< values at its bottom and top
        double left = -0.5, right = 1.5; ///< along the axis
        bool once = false;               ///< an overlay: the axis is one lap wide
        bool difference = false;
        const Look *look = nullptr;
        bool operator==(const From &) const = default;
    };
    static ComparedEyesDrawing of(const From &from);
    From from;
    QImage image;
};

struct ComparedEyesFigure {
    QString title, facts, aside;
    QString empty; ///< not empty: nothing to draw, and why
    QString names[2];
    EyeFigure first, second; ///< the other result's, this project's
    double low = 0, high = 1;
    bool difference = false;
    std::shared_ptr<const ComparedEyesDrawing> drawing; ///< null: not made yet
    std::optional<ComparedEyesDrawing::From> drawingFrom(const Look &look) const;
    bool operator==(const ComparedEyesFigure &) const = default;
};

/// `names`: of the other result and of this one.
ComparedEyesFigure comparedEyesFigure(const Results &first, const Results &second, const std::string &eye,
                                      const QString &firstName, const QString &secondName, bool difference);

void paintComparedEyes(QPainter &painter, const QRectF &area, const ComparedEyesFigure &figure, const Look &look);

/// "● before  ● after", each dot in its ink, from a place on to the right.
void paintComparedNames(QPainter &painter, QPointF at, const QString &first, const QString &second, const Look &look);

} // namespace fulvex
