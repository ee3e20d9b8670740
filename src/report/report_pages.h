#pragma once

#include "report_content.h"

#include <QSizeF>

namespace fulvex {

/// A report laid on pages, the same for the page view, the printer and the PDF. A unit is 0.8 points, so that a page
/// has room. Immutable, and painted from any thread.
struct ReportPages {
    static constexpr double unit = 0.8; ///< points
    using Item = std::function<void(QPainter &)>;
    struct Page {
        std::vector<Item> items; ///< in units from its top left
        std::size_t figures = 0; ///< among them
    };
    struct Heading {
        QString words;
        std::size_t page; ///< from 0 on
    };
    QSizeF size; ///< of a page, units
    std::vector<Page> pages;
    std::vector<Heading> headings;
    void paint(QPainter &painter, std::size_t page) const; ///< in units
};

/// Headings stay with what they stand above; tables break between rows, and their head is said again; a word is broken
/// only where no line is long enough for it. Beside figures stands how they were made; what a page says already is not
/// said twice on it. Throws Cancelled.
ReportPages reportPages(const ReportContent &content, Progress &progress);

} // namespace fulvex
