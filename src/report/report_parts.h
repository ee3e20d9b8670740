#pragma once

#include "axis_painter.h"
#include "report_content.h"
#include "ruler.h"
#include "table_text.h"

namespace fulvex {

/// What a verdict is told by on the first page: a limit, a mask, or a test of a plan.
struct ReportVerdict {
    QString what, measured, limit, margin, word;
    QString why; ///< not decidable: what would decide it; unmeasurable: the reason
    ReportContent::Mark mark = ReportContent::Mark::none;
    bool none = false;           ///< of a mask, that none may fail: its limit goes without saying
    std::optional<double> share; ///< how far from its limit, of it
    std::optional<Ruler> ruler;
};
/// All of a project's own, as its Ledger, budgets and phase noise have them.
std::vector<ReportVerdict> verdictsOf(const Results &results);
/// Of a step of a plan.
std::vector<ReportVerdict> verdictsOf(const StepOutcome &step);

using ReportBlocks = std::vector<ReportContent::Block>;

/// Rows of the first page's table.
void addVerdicts(ReportContent::Table &table, const std::vector<ReportVerdict> &verdicts);
ReportContent::Table verdictTable(const QString &heading);

/// The Ledger's lines by what they are of, in the order in which they come.
std::vector<std::pair<std::string, std::vector<LedgerLine>>> ledgerGroups(const Results &results);
/// `without`: ids of what is left out.
ReportBlocks measurementBlocks(const Results &results, const std::set<std::string> &without);
ReportBlocks makingBlocks(const Results &results);
ReportBlocks captureBlocks(const Results &results);
ReportBlocks noteBlocks(const Document &document);
/// The worst failure of each mask, its like in the eye, and the list of them.
ReportBlocks failureBlocks(const Results &results);
/// A chapter a step.
std::vector<ReportContent::Chapter> planChapters(const ReportedPlan &plan, Progress &progress);
ReportBlocks comparisonBlocks(const ReportedComparison &comparison, Progress &progress);
/// Of a result that another is laid beside: its file without the folders.
QString shortName(const std::string &file);
/// A row of words alone.
ReportContent::Row plainRow(QStringList cells);

} // namespace fulvex
