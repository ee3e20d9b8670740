#pragma once

#include "progress.h"
#include "results.h"
#include "results_json.h"
#include "table_text.h"

#include <QPainter>
#include <QRectF>
#include <QString>
#include <QStringList>
#include <functional>
#include <set>
#include <string>
#include <vector>

namespace fulvex {

/// What a report says, in order, whatever paper it goes on: HTML and PDF are two writers of this.
struct ReportContent {
    struct Figure {
        QString caption;
        QSizeF size;                                           ///< in points, as laid out
        std::function<void(QPainter &, const QRectF &)> paint; ///< from any thread, and several at a time
    };
    struct Table {
        QString heading;
        QStringList columns;
        std::vector<QStringList> rows;
        std::vector<Verdict> verdicts; ///< per row, for its last cell; empty: none
    };
    QString title, verdict, summary;
    bool failed = false;
    QStringList facts; ///< device, comment, time, version
    Table ledger;
    std::vector<Figure> figures;
    struct Section {
        QString title;
        std::size_t from; ///< its first figure; it ends where the next begins
    };
    std::vector<Section> sections; ///< of the figures
    /// Figures of a section: from … to, without that one.
    std::pair<std::size_t, std::size_t> figuresOf(std::size_t section) const
    {
        const bool last = section + 1 == sections.size();
        return {sections[section].from, last ? figures.size() : sections[section + 1].from};
    }
    std::string resultsJson; ///< what all of it was made from; a report holds it
    Table failures, keptOut, provenance, clocks, captures, stated;
};

/// On any thread; where that is not the interface's, its event loop has to run. Throws Cancelled.
ReportContent reportContent(const Results &results, const ProjectFacts &facts, Progress &progress);

/// Ids of the channels whose traces a report shows, which pyramids are needed of (Engine::Options::traces).
std::set<std::string> tracesInReport(const Document &document);

} // namespace fulvex
