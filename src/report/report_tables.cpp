#include "count_text.h"
#include "number_text.h"
#include "report_figures.h"
#include "report_parts.h"
#include "table_text.h"

#include <algorithm>

namespace fulvex {

using Table = ReportContent::Table;

ReportContent::Row plainRow(QStringList cells)
{
    ReportContent::Row row;
    row.cells = std::move(cells);
    return row;
}

namespace {

ReportContent::Mark markOf(Verdict verdict)
{
    return verdict == Verdict::fail   ? ReportContent::Mark::fail
           : verdict == Verdict::pass ? ReportContent::Mark::pass
                                      : ReportContent::Mark::none;
}

Table table(const char *heading, QStringList columns)
{
    Table made;
    made.heading = heading;
    made.columns = std::move(columns);
    return made;
}

ReportBlocks filled(std::vector<Table> tables)
{
    ReportBlocks blocks;
    for (Table &one : tables)
        if (!one.rows.empty()) blocks.emplace_back(std::move(one));
    return blocks;
}

Table keptOutTable(const Results &results)
{
    Table made = table("Moments kept out of the numbers", {"quantity", "moment", "value", "why"});
    for (const Row &row : results.rows) {
        const QString what = text(row.title + " of " + row.source);
        for (const Row::KeptOut &one : row.keptOut)
            made.rows.push_back(plainRow({what, text(quantityText(one.time, "s", {}, 8)),
                                          text(quantityText(one.value, row.unit, {}, 5)), text(one.reason)}));
        if (const auto more = row.keptOutCount - std::int64_t(row.keptOut.size()); more > 0)
            made.rows.push_back(plainRow({what, QString("and %1 more").arg(more), "", ""}));
    }
    return made;
}

QString makingOfMask(const Results &results, const MaskRun &mask)
{
    QString how = text(mask.definition.title + ", " + mask.definition.source) + "; grown by " +
                  text(quantityText(100 * mask.appliedMargin, "%", {}, 3));
    const ChannelResult *channel = findEntry(results.channels, mask.source);
    if (mask.result && channel)
        how += "; levels: " + text(quantityText(mask.zero, channel->unit)) + " and " +
               text(quantityText(mask.one, channel->unit)) + "; " + text(countText(double(mask.result->hits))) +
               " hits";
    for (const MaskRun::OfCapture &capture : mask.captures)
        how += "; " + text(capture.files) +
               QString(": %1 of %2 failed, %3 hits")
                   .arg(capture.failedUnitIntervals)
                   .arg(capture.unitIntervals)
                   .arg(capture.hits);
    if (!mask.reason.empty()) how += "; not run: " + text(mask.reason);
    return how;
}

Table numbersTable(const Results &results)
{
    Table made = table("Each number", {"quantity", "made by"});
    for (const Row &row : results.rows) {
        QStringList parts;
        for (const auto &[what, how] : row.provenance) parts << text(what + ": " + how);
        if (!row.reason.empty()) parts << "unmeasurable: " + text(row.reason);
        made.rows.push_back(plainRow({text(row.title + " of " + row.source), parts.join("; ")}));
    }
    for (const MaskRun &mask : results.masks)
        made.rows.push_back(plainRow({"mask " + text(mask.definition.title.empty() ? mask.id : mask.definition.title),
                                      makingOfMask(results, mask)}));
    return made;
}

Table clocksTable(const Results &results)
{
    Table made = table("Clocks", {"clock", "rate", "unit intervals", "how"});
    for (const ClockResult &clock : results.clocks) {
        if (!clock.reason.empty()) {
            made.rows.push_back(plainRow({text(clock.id), "—", "—", text(clock.reason)}));
            continue;
        }
        const ReportContent::Making how = makingOf(results, clock.id);
        made.rows.push_back(
            plainRow({text(clock.id), text(quantityWithUncertainty(clock.rate, "Bd", clock.rateUncertainty)),
                      text(countText(double(clock.unitIntervals))), how.empty() ? QString() : how.back().second}));
    }
    return made;
}

} // namespace

std::vector<std::pair<std::string, std::vector<LedgerLine>>> ledgerGroups(const Results &results)
{
    std::vector<LedgerLine> lines = ledgerLines(results);
    std::vector<std::pair<std::string, std::vector<LedgerLine>>> groups;
    for (LedgerLine &line : lines) {
        auto group = std::ranges::find(groups, line.of, [](const auto &one) { return one.first; });
        if (group == groups.end()) group = groups.insert(groups.end(), {line.of, {}});
        group->second.push_back(std::move(line));
    }
    return groups;
}

ReportBlocks measurementBlocks(const Results &results, const std::set<std::string> &without)
{
    Table made = table("", {"quantity", "mean", "spread", "min", "max", "count", "limit", "verdict"});
    made.numbersFrom = 1;
    for (const auto &[of, lines] : ledgerGroups(results)) {
        ReportContent::Row heading = plainRow({text(of), "", "", "", "", "", "", ""});
        heading.heading = true;
        bool begun = false;
        for (const LedgerLine &line : lines) {
            if (without.contains(line.id)) continue;
            if (!std::exchange(begun, true)) made.rows.push_back(heading);
            ReportContent::Row row = plainRow({text(line.quantity), text(line.mean), text(line.spread), text(line.min),
                                               text(line.max), text(line.count), text(line.limit), text(line.verdict)});
            row.mark = markOf(line.state);
            made.rows.push_back(std::move(row));
        }
    }
    return filled({std::move(made)});
}

ReportBlocks makingBlocks(const Results &results)
{
    return filled({numbersTable(results), clocksTable(results), keptOutTable(results)});
}

ReportBlocks captureBlocks(const Results &results)
{
    Table files = table("Files", {"capture", "file", "samples", "interval", "SHA-256"}),
          found = table("What was found in them", {"capture", "", "what"}),
          stated = table("What the files say of themselves", {"capture", "what", "stated"});
    for (const CaptureResult &capture : results.captures) {
        files.rows.push_back(plainRow({text(capture.id), text(capture.file),
                                       QString("%1 × %2").arg(capture.channels).arg(capture.samples),
                                       text(quantityText(capture.sampleInterval, "s", {}, 6)), text(capture.sha256)}));
        for (const Finding &finding : capture.findings)
            found.rows.push_back(plainRow({text(capture.id), text(finding.level), text(finding.text)}));
        for (const StatedFact &fact : capture.stated)
            stated.rows.push_back(plainRow({text(capture.id), text(fact.what), text(fact.value)}));
    }
    return filled({std::move(files), std::move(found), std::move(stated)});
}

ReportBlocks noteBlocks(const Document &document)
{
    Table made = table("", {"moment", "on", "note"});
    for (const NoteEntry &note : document.notes)
        made.rows.push_back(plainRow({text(quantityText(note.time, "s", {}, 7)), text(note.channel), text(note.text)}));
    return filled({std::move(made)});
}

ReportBlocks failureBlocks(const Results &results)
{
    ReportBlocks blocks;
    std::set<std::pair<std::string, double>> shown; // channels and moments: of two masks the same may be the worst
    for (const MaskRun &mask : results.masks) {
        if (!mask.result || mask.result->worst.empty()) continue;
        const std::vector<MaskFailure> &worst = mask.result->worst;
        const QString name = text(mask.definition.title.empty() ? mask.id : mask.definition.title);
        blocks.emplace_back(ReportContent::Paragraph{QString("%1 on %2: %3 of %4 %5 failed")
                                                         .arg(name, text(mask.eye.empty() ? mask.source : mask.eye),
                                                              text(countText(double(mask.result->failedUnitIntervals))),
                                                              text(countText(double(mask.result->unitIntervals))),
                                                              mask.atEdges ? "edges" : "unit intervals"),
                                                     ReportContent::Paragraph::As::heading});
        if (shown.insert({mask.source, worst[0].worstTime}).second)
            for (auto &figure : figuresOfMoment(results, mask.source, worst[0].worstTime, mask.lasts,
                                                "Where the worst lies on the trace"))
                blocks.emplace_back(std::move(figure));
        for (auto &figure : figuresOfEye(results, mask.eye)) {
            figure.title = "The eye, and what failed among its like";
            blocks.emplace_back(std::move(figure));
        }
        Table list = table("Worst first", {"moment", "unit interval", "area", "depth"});
        constexpr std::size_t most = 10;
        for (std::size_t i = 0; i < std::min(most, worst.size()); ++i)
            list.rows.push_back(plainRow({text(quantityText(worst[i].worstTime, "s", {}, 8)),
                                          text(countText(double(worst[i].unitInterval))),
                                          text(mask.definition.areas[std::size_t(worst[i].area)].name),
                                          text(fixedText(worst[i].deepest, 2)) + " of area"}));
        blocks.emplace_back(std::move(list));
    }
    return blocks;
}

std::vector<ReportVerdict> verdictsOf(const Results &results)
{
    std::vector<ReportVerdict> all;
    const auto percent = [](std::optional<double> share) {
        return share ? text(quantityText(100 * *share, "%", {}, 2)) : QString("—");
    };
    for (const LedgerLine &line : ledgerLines(results)) {
        if (line.state == Verdict::none) continue;
        ReportVerdict one;
        one.what = text(line.quantity + " of " + line.of);
        one.measured = text(line.mean);
        one.limit = text(line.limit);
        one.word = text(line.verdict);
        one.why = text(line.reason);
        one.mark = markOf(line.state);
        one.none = line.isMask;
        const auto as = line.state == Verdict::fail ? Ruler::As::fails : Ruler::As::passes;
        if (const MaskRun *mask = line.isMask ? findEntry(results.masks, line.id) : nullptr) {
            if (mask->result) one.share = mask->result->margin;
            if (one.share) one.ruler = Ruler{one.share, {}, 0.0, {}, as};
        } else if (const Row *row = findEntry(results.rows, line.id); row && row->statistics.mean) {
            const LimitEntry &limit = findEntry(results.document->measurements, line.id)->limit;
            const double is = *row->statistics.mean;
            one.measured = text(quantityWithUncertainty(is, row->unit, row->statistics.uncertainty));
            one.ruler = Ruler{is, row->statistics.uncertainty, limit.min, limit.max, as};
            one.share = marginOf(is, limit).share;
        }
        one.margin = percent(one.share);
        all.push_back(std::move(one));
    }
    for (const BudgetResult &budget : results.budgets) {
        if (budget.verdict == Verdict::none) continue;
        const BudgetEntry &entry = *findEntry(results.document->budgets, budget.id);
        ReportVerdict one;
        one.what = "total jitter of budget " + text(budget.id) + " at " + ratioText(entry.ber);
        one.word = verdictName(budget.verdict);
        one.mark = markOf(budget.verdict);
        one.why = text(budget.reason);
        if (budget.found && entry.limit) {
            const double is = budget.budget.total / budget.budget.unitInterval;
            one.measured = text(quantityText(is, "UI", {}, 3));
            one.limit = text("< " + quantityText(*entry.limit, "UI", {}, 3));
            one.share = marginOf(is, {{}, entry.limit}).share;
            one.ruler =
                Ruler{is, {}, {}, entry.limit, budget.verdict == Verdict::fail ? Ruler::As::fails : Ruler::As::passes};
            one.margin = percent(one.share);
        }
        all.push_back(std::move(one));
    }
    for (const PhaseNoiseResult &noise : results.phaseNoise) {
        if (noise.verdict == Verdict::none) continue;
        ReportVerdict one;
        one.what = "phase noise " + text(noise.id);
        one.word = verdictName(noise.verdict);
        one.mark = markOf(noise.verdict);
        one.why = text(noise.reason);
        one.limit = "its line";
        if (noise.worst) {
            one.measured = "nearest at " + text(quantityText(noise.worst->offset, "Hz", {}, 3));
            one.margin = text(fixedText(noise.worst->value, 1)) + " dB";
        }
        all.push_back(std::move(one));
    }
    return all;
}

Table verdictTable(const QString &heading)
{
    Table made;
    made.heading = heading;
    made.columns = {"test", "measured", "limit", "", "margin", "verdict"};
    made.scales = 3;
    made.numbersFrom = 1;
    return made;
}

void addVerdicts(Table &table, const std::vector<ReportVerdict> &verdicts)
{
    for (const ReportVerdict &one : verdicts) {
        ReportContent::Row row = plainRow({one.what, one.measured, one.limit, "", one.margin, one.word});
        row.mark = one.mark;
        if (one.ruler)
            row.scale = [ruler = *one.ruler](QPainter &painter, const QRectF &area) {
                paintRuler(painter, area, ruler, Look::onPaper());
            };
        table.rows.push_back(std::move(row));
    }
}

} // namespace fulvex
