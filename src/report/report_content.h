#pragma once

#include "comparison.h"
#include "plan_run.h"
#include "progress.h"
#include "results.h"
#include "results_json.h"

#include <QImage>
#include <QPainter>
#include <QRectF>
#include <QString>
#include <QStringList>
#include <functional>
#include <set>
#include <string>
#include <variant>
#include <vector>

namespace fulvex {

/// What a report says, in order, whatever paper it goes on: HTML and PDF are two writers of this.
struct ReportContent {
    /// How something was made, in words beside it: "levels", "from the histogram, …".
    using Making = std::vector<std::pair<QString, QString>>;
    enum class Mark { none, pass, fail, undecided };
    static QString shapeOf(Mark mark); ///< told by shape as well: "✓ "
    struct Paragraph {
        QString words;
        enum class As { plain, quiet, heading } as = As::plain; ///< heading: of the blocks behind it
    };
    struct Figure {
        QString title;                                         ///< what it is of
        QString see;                                           ///< what is to be seen in it; may be empty
        QSizeF size;                                           ///< in pixels, as a tile so large shows it
        std::function<void(QPainter &, const QRectF &)> paint; ///< from any thread, and several at a time
        Making making = {};
    };
    struct Row {
        QStringList cells;
        Mark mark = Mark::none; ///< of its last cell
        bool heading = false;   ///< the first cell stands above the rows that follow
        std::function<void(QPainter &, const QRectF &)> scale = {}; ///< in the column of scales
    };
    struct Table {
        QString heading; ///< may be empty
        QStringList columns;
        std::vector<Row> rows;
        int scales = -1;      ///< the column of small pictures
        int numbersFrom = -1; ///< the first column of numbers, which all behind it are; below 0: there are none
    };
    using Block = std::variant<Paragraph, Table, Figure>;
    struct Chapter {
        QString title;
        std::vector<Block> blocks;
    };
    QString title;
    QStringList facts; ///< device, place, comment, when and by what it was made
    QImage logo;       ///< null: none
    Mark verdict = Mark::none;
    QString word, summary;     ///< "Fails"; which, and why
    std::vector<Table> glance; ///< the verdicts, on the first page
    std::vector<Chapter> chapters;
    std::string paper = "a4";
    std::string resultsJson; ///< what all of it was made from; a report holds it
    std::size_t figures() const;
};

/// A plan that the project works down, how far that went, and what each step's newest attempt found.
struct ReportedPlan {
    std::string id; ///< of the document's entry
    std::shared_ptr<const Plan> plan;
    std::vector<StepOutcome> steps; ///< in the plan's order
    std::string sha256;             ///< of its text
    std::filesystem::path folder;   ///< that it lies in, with its pictures
    std::string error;              ///< not empty: it cannot be read, and why
};

/// A result laid beside another.
struct ReportedComparison {
    std::string id; ///< of the document's entry
    std::shared_ptr<const Comparison> found;
    std::shared_ptr<const Results> other, own; ///< null: numbers alone are known
    std::string error;
};

/// All that a report tells.
struct ReportMatter {
    const Results &results;
    ProjectFacts facts;
    std::vector<ReportedPlan> plans = {};
    std::vector<ReportedComparison> comparisons = {};
};

/// As the document's report is laid out. On any thread; where that is not the interface's, its event loop has to run.
/// Throws Cancelled.
ReportContent reportContent(const ReportMatter &matter, Progress &progress);

/// What came of the plans, for ProjectFacts.
std::vector<std::string> planRecordsOf(const ReportMatter &matter);

/// Ids of the channels whose traces a report shows, which pyramids are needed of (Engine::Options::traces).
std::set<std::string> tracesInReport(const Document &document);

} // namespace fulvex
