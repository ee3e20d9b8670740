#pragma once

#include "axis_painter.h"
#include "eye_marks.h"
#include "eye_paths.h"
#include "eye_picture.h"
#include "mask_painter.h"
#include "results.h"

namespace fulvex {

/// An eye, one to three unit intervals wide, with the crossings at 0 and 1 in its middle, with its mask and what failed
/// it. Or an overlay, one lap wide: UI of the pattern, or seconds from the edge.
struct EyeFigure {
    QString title, facts, verdict;
    bool failed = false;
    QString empty;         ///< not empty: nothing to draw, and why
    std::string eye, mask; ///< ids
    std::shared_ptr<const EyeFold> fold;
    std::shared_ptr<const EyePicture> picture; ///< null: not made yet; may be of an older fold
    std::vector<MaskShape> areas;
    std::vector<MaskShape> farthest; ///< the mask at the largest margin that passes; a tile shows it of a chosen mask
    struct Failure {
        double x, y;         ///< along the axis, in `unit`
        double from, to;     ///< s, its unit interval
        std::string capture; ///< of several added up
        bool operator==(const Failure &) const = default;
    };
    std::vector<Failure> failures;  ///< the deepest and the first
    std::string source, unit = "V"; ///< the channel, and what it is in
    double low = 0, high = 1;       ///< values at the plot's bottom and top
                              /// Unit intervals that are drawn as curves: what failed the mask, deepest first, or what
                              /// is asked about.
    std::vector<std::int64_t> singled;
    bool singledFailed = false;
    std::optional<std::int64_t> chosen;    ///< one that stands out; it need not be among them
    std::shared_ptr<const EyePaths> paths; ///< of those; null: not made yet; may be of others
    SourcePtr samples;                     ///< that they are drawn from; null for several records added up
    std::shared_ptr<const Clock> by;
    static constexpr std::size_t mostSingled = 64;
    /// None where there is nothing to draw.
    std::optional<EyePaths::From> pathsFrom() const;
    std::vector<EyeMark> marks;  ///< where the selected quantity was measured
    std::optional<QRectF> asked; ///< box that Evidence is asked about: along the axis, `unit`
    /// What its picture is made from; none where there is nothing to draw.
    std::optional<EyePicture::From> pictureFrom(const Look &look) const;
    EyeWindow window(const QRectF &plot) const { return {plot, left, right, low, high}; }
    QPointF pointOf(const QRectF &plot, double x, double y) const;
    QPointF valuesAt(const QRectF &plot, QPointF point) const; ///< along the axis, `unit`

    QRectF plotRect(const QRectF &area) const { return area.adjusted(72, 6, -14, -20); }
    double left = -0.5, right = 1.5; ///< of its axis
    std::string across() const { return rule.across.seconds ? "s" : "UI"; }
    std::string shown = "density";               ///< as its entry says
    EyeRule rule;                                ///< that it was folded by
    std::shared_ptr<const EyeErrorRatio> errors; ///< null: not shown, or not known yet
    /// What a place of it says: where it is, how many of the unit intervals pass there, how often a decision there
    /// would be wrong.
    QString wordsAt(double x, double value) const;
    bool operator==(const EyeFigure &) const = default;
};

/// Without its picture: a window has that made beside the interface.
EyeFigure eyeFigure(const Results &results, const std::string &eyeId);

void paintEye(QPainter &painter, const QRectF &area, const EyeFigure &figure, const Look &look);

} // namespace fulvex
