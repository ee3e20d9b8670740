#pragma once

#include <QColor>
#include <QFont>

namespace fulvex {

/// How two colours stand out of each other, 1 to 21; words need leastContrast (W3C, WCAG 2.1, 1.4.3).
double contrast(const QColor &a, const QColor &b);
inline constexpr double leastContrast = 4.5;

/// Colours and fonts by role, light and dark. One accent, fulvous, for what is selected and nothing else.
struct Look {
    QColor paper, panel, tile, ink, quiet, hairline, accent, accentWash, pass, fail;
    bool dark = false;
    /// No letter stands for another: a PDF's words are found, read aloud and copied as they are written. Inter draws
    /// the signs of a line of digits by others.
    bool plainLetters = false;
    static const Look &light();
    static const Look &onPaper(); ///< the light one, for reports
    static const Look &darkLook();
    /// Trace ink of the i-th channel, in an order that colour-blind eyes tell apart, named as channelInks().
    QColor trace(int index) const;
    /// A tone for words: as much nearer to the ink as it takes to read them on any ground.
    QColor words(const QColor &tone) const;
    /// Density ramp from paper over fulvous to ink; `share` in 0 to 1. Perceptually even in lightness.
    QColor density(double share) const;
    /// Inter with tabular figures, a system sans where it is missing; `pixels` high at 96 dpi.
    QFont font(double pixels, bool bold = false) const;
};

} // namespace fulvex
