#include "report_content.h"

#include "autocorrelation_figure.h"
#include "channel_spectrum_figure.h"
#include "eye_figure.h"
#include "fulvex_version.h"
#include "histogram_figure.h"
#include "number_text.h"
#include "references.h"
#include "report_plots.h"
#include "scatter_figure.h"
#include "spectrogram_figure.h"
#include "spectrum_figure.h"
#include "trace_figure.h"
#include "transfer_figure.h"
#include "trend_figure.h"

#include <algorithm>

namespace fulvex {

namespace {

void addVerdict(ReportContent &content, const Results &results)
{
    int failed = 0, passed = 0;
    QStringList failing;
    const auto count = [&](Verdict verdict, const QString &what) {
        failed += verdict == Verdict::fail;
        passed += verdict == Verdict::pass;
        if (verdict == Verdict::fail) failing << what;
    };
    for (const LedgerLine &line : ledgerLines(results)) {
        const QString what =
            text(line.quantity + " of " + line.of + ", ") + text(line.reason.empty() ? line.mean : line.reason);
        count(line.state, line.isMask || line.limit.empty() ? what : what + text(", limit " + line.limit));
    }
    for (const BudgetResult &budget : results.budgets) count(budget.verdict, "jitter budget " + text(budget.id));
    for (const PhaseNoiseResult &noise : results.phaseNoise) count(noise.verdict, "phase noise " + text(noise.id));
    content.failed = failed > 0;
    content.verdict = failed ? "fail" : passed ? "pass" : "no limits set";
    content.summary = QString("%1 of %2 limits and masks hold").arg(passed).arg(passed + failed);
    if (failed > 0) content.summary += QString(". %1: ").arg(failed == 1 ? "Fails" : "Fail") + failing.join("; ") + ".";
}

void addLedger(ReportContent &content, const Results &results)
{
    content.ledger.heading = "Measurements";
    content.ledger.columns = {"quantity", "of", "mean", "spread", "min", "max", "count", "limit", "verdict"};
    for (const LedgerLine &line : ledgerLines(results)) {
        content.ledger.rows.push_back({text(line.quantity), text(line.of), text(line.mean), text(line.spread),
                                       text(line.min), text(line.max), text(line.count), text(line.limit),
                                       text(line.verdict)});
        content.ledger.verdicts.push_back(line.state);
        content.provenance.rows.push_back({text(line.quantity + " of " + line.of), text(line.reason)});
    }
}

/// The span of time that a tile shows, as the project was saved: `whole` where none was chosen.
std::pair<double, double> shownSpan(const SheetEntry &sheet, const TileEntry &tile, std::pair<double, double> whole)
{
    const auto &from = tile.ownView ? tile.from : sheet.from, &to = tile.ownView ? tile.to : sheet.to;
    return from && to && *from < *to ? std::pair(*from, *to) : whole;
}

/// As the first tile shows it that is of the row, else as one would that nothing was chosen for.
HistogramFigure shownHistogram(const Results &results, const std::string &row)
{
    const auto whole = wholeSpan(results, {});
    for (const SheetEntry &sheet : results.document->sheets) {
        for (const TileEntry &tile : sheet.tiles) {
            if (tile.kind != "histogram" || tile.of.empty() || tile.of.front() != row || !whole) continue;
            HistogramFigure figure = histogramFigure(results, tile, shownSpan(sheet, tile, *whole));
            if (const auto from = figure.drawingFrom())
                figure.take(std::make_shared<const HistogramDrawing>(HistogramDrawing::of(*from)));
            if (!figure.histogram.counts.empty()) return figure;
        }
    }
    return histogramFigure(results, row);
}

void addFigures(ReportContent &content, const Results &results, Progress &progress)
{
    const Look &look = Look::light();
    for (const EyeResult &eye : results.eyes) {
        EyeFigure figure = eyeFigure(results, eye.id);
        if (const auto from = figure.pictureFrom(look))
            figure.picture = std::make_shared<const EyePicture>(EyePicture::of(*from));
        QString caption =
            (eye.rule.overlay() ? "Overlay " : "Eye ") + text(eye.id) + ": " + figure.title + ", " + figure.facts;
        if (!figure.verdict.isEmpty()) caption += ". Mask: " + figure.verdict;
        content.figures.push_back({caption, QSizeF(400, 240), [figure, &look](QPainter &painter, const QRectF &area) {
                                       paintEye(painter, area, figure, look);
                                   }});
    }
    for (const Row &row : results.rows) {
        if (!row.measurable() || row.measured->single) continue;
        HistogramFigure figure = shownHistogram(results, row.id);
        QString caption = "Histogram: " + figure.title + " of " + figure.facts;
        if (!figure.statistics.isEmpty()) caption += ". " + figure.statistics.join(", ");
        figure.statistics.clear(); // beside the bars, not on them
        content.figures.push_back(plotted(caption, QSizeF(400, 150), figure.plot(), progress));
    }
}

/// Trends, their spectra, and quantities against each other, as the sheets show them.
void addPlots(ReportContent &content, const Results &results, Progress &progress)
{
    constexpr QSizeF size(400, 150);
    const QRectF area(QPointF(0, 0), 2 * size);
    const auto whole = wholeSpan(results, {});
    for (const SheetEntry &sheet : results.document->sheets) {
        const auto add = [&](const QString &what, const RowFigure &figure, const FunctionPlot &plot) {
            content.figures.push_back(
                plotted(what + " of sheet " + text(sheet.title) + ": " + figure.title + " of " + figure.facts, size,
                        plot, progress));
        };
        for (const TileEntry &tile : sheet.tiles) {
            if (tile.of.empty() || !whole) continue;
            if (tile.kind == "trend") {
                const auto [from, to] = shownSpan(sheet, tile, *whole);
                TrendFigure figure = trendFigure(results, tile, from, to);
                const auto drawn = figure.drawingFrom(area);
                if (!figure.empty.isEmpty() || !drawn) continue;
                figure.drawing = std::make_shared<const TrendDrawing>(TrendDrawing::of(*drawn));
                add("Trend", figure, figure.plot());
            } else if (tile.kind == "spectrum") {
                SpectrumFigure figure = spectrumFigure(results, tile);
                if (const auto from = figure.drawingFrom())
                    figure.take(std::make_shared<const SpectrumDrawing>(SpectrumDrawing::of(*from)));
                if (!figure.drawing || figure.drawing->spectrum.amplitudes.empty()) continue;
                add("Spectrum of the trend", figure, figure.plot());
            } else if (tile.kind == "scatter") {
                ScatterFigure figure = scatterFigure(results, tile.of);
                if (const auto from = figure.drawingFrom(area, Look::light()))
                    figure.take(std::make_shared<const ScatterDrawing>(ScatterDrawing::of(*from)));
                if (figure.drawing && figure.drawing->count > 0) add("One against another", figure, figure.plot());
            }
        }
    }
}

/// Made now, as a tile so wide would show it; nothing where there is none.
template <typename Drawing, typename Figure>
bool draw(Figure &figure, const QSizeF &size)
{
    if (!figure.empty.isEmpty()) return false;
    const auto from = figure.drawingFrom(FunctionPlot().plotRect(QRectF(QPointF(0, 0), size)).width() * 2);
    if (from) figure.take(std::make_shared<const Drawing>(Drawing::of(*from)));
    return figure.drawing != nullptr;
}

/// Channels over frequency and lag, as the sheets show them.
void addSpectra(ReportContent &content, const Results &results, Progress &progress)
{
    constexpr QSizeF size(400, 190);
    for (const SheetEntry &sheet : results.document->sheets) {
        const auto caption = [&](const char *what, const SpectralFigure &figure) {
            return QString(what) + " of sheet " + text(sheet.title) + ": " + figure.title + ", " + figure.facts;
        };
        for (const TileEntry &tile : sheet.tiles) {
            if (tile.kind == "channel_spectrum") {
                auto figure = channelSpectrumFigure(results, tile);
                if (draw<ChannelSpectrumDrawing>(figure, size))
                    content.figures.push_back(plotted(caption("Spectrum", figure), size, figure.plot(), progress));
            } else if (tile.kind == "autocorrelation") {
                auto figure = autocorrelationFigure(results, tile);
                if (draw<AutocorrelationDrawing>(figure, size))
                    content.figures.push_back(
                        plotted(caption("Autocorrelation", figure), size, figure.plot(), progress));
            } else if (tile.kind == "transfer") {
                auto figure = transferFigure(results, tile);
                if (!draw<TransferDrawing>(figure, size)) continue;
                content.figures.push_back(plottedTogether(caption("Transfer function", figure), size, figure.plots(),
                                                          transferAreas, progress));
            } else if (tile.kind == "spectrogram" && !tile.of.empty()) {
                const SpectrumEntry *entry = findEntry(results.document->spectra, tile.of.front());
                const auto whole = entry ? wholeSpan(results, {channelOf(*results.document, entry->id)}) : std::nullopt;
                if (!whole) continue;
                const auto [from, to] = shownSpan(sheet, tile, *whole);
                SpectrogramFigure figure = spectrogramFigure(results, tile, from, to);
                const auto drawn = figure.drawingFrom(QRectF(QPointF(0, 0), 2 * size), Look::light());
                if (!drawn) continue;
                figure.take(std::make_shared<const SpectrogramDrawing>(SpectrogramDrawing::of(*drawn)));
                content.figures.push_back(
                    {caption("Spectrogram", figure), size, [figure](QPainter &painter, const QRectF &place) {
                         paintSpectrogram(painter, place, figure, Look::light());
                     }});
            }
        }
    }
}

/// What traces are drawn for: twice as fine as they are printed at 72 points an inch, or finer.
constexpr QRectF drawnFor(0, 0, 1000, 400);

/// The traces of each sheet, as it shows them, with their notes, regions and markers.
void addTraces(ReportContent &content, const Results &results)
{
    const Look &look = Look::light();
    for (const SheetEntry &sheet : results.document->sheets) {
        for (const TileEntry &tile : sheet.tiles) {
            const auto whole = wholeSpan(results, tile.of);
            if (tile.kind != "traces" || tile.of.empty() || !whole) continue;
            const auto [from, to] = shownSpan(sheet, tile, *whole);
            TraceFigure figure = traceFigure(results, *results.document, tile, from, to);
            figure.draw(drawnFor, look);
            const bool drawn = std::any_of(figure.lines.begin(), figure.lines.end(), [](const TraceFigure::Line &line) {
                return line.drawing && !line.drawing->empty();
            });
            if (!drawn) continue; // evaluated without pictures
            QStringList names;
            for (const TraceFigure::Line &line : figure.lines) names << line.name;
            content.figures.push_back(
                {"Traces of sheet " + text(sheet.title) + ": " + names.join(", "),
                 QSizeF(400, tile.lanes ? 90.0 + 60.0 * figure.lanes : 150),
                 [figure, &look](QPainter &painter, const QRectF &area) { paintTraces(painter, area, figure, look); }});
        }
    }
}

/// The worst failure of each mask, on the trace.
void addFailures(ReportContent &content, const Results &results)
{
    content.failures.heading = "Mask failures, worst first";
    content.failures.columns = {"mask", "moment", "unit interval", "area", "depth"};
    for (const MaskRun &mask : results.masks) {
        if (!mask.result || mask.result->worst.empty()) continue;
        const std::vector<MaskFailure> &worst = mask.result->worst;
        const std::size_t shown = std::min<std::size_t>(10, worst.size());
        for (std::size_t i = 0; i < shown; ++i)
            content.failures.rows.push_back({text(mask.id), text(quantityText(worst[i].worstTime, "s", {}, 8)),
                                             QString::number(worst[i].unitInterval),
                                             text(mask.definition.areas[std::size_t(worst[i].area)].name),
                                             text(fixedText(worst[i].deepest, 2)) + " of area"});
        const ChannelResult *channel = findEntry(results.channels, mask.source);
        if (!channel || !channel->source || !channel->pyramid) continue;
        TileEntry tile;
        tile.of = {mask.source};
        TraceFigure figure = traceFigure(results, *results.document, tile, worst[0].worstTime - 6 * mask.lasts,
                                         worst[0].worstTime + 6 * mask.lasts);
        figure.draw(drawnFor, Look::light());
        QColor wash = Look::light().fail;
        wash.setAlpha(40);
        figure.marks.push_back({worst[0].worstTime - mask.lasts / 2, worst[0].worstTime + mask.lasts / 2, -1, wash});
        content.figures.push_back(
            {"Worst failure of mask " + text(mask.id) + " on the trace", QSizeF(400, 150),
             [figure](QPainter &painter, const QRectF &area) { paintTraces(painter, area, figure, Look::light()); }});
    }
}

void addKeptOut(ReportContent &content, const Results &results)
{
    content.keptOut.heading = "Moments kept out of the numbers";
    content.keptOut.columns = {"quantity", "moment", "value", "why"};
    for (const Row &row : results.rows) {
        const QString what = text(row.title + " of " + row.source);
        for (const Row::KeptOut &one : row.keptOut)
            content.keptOut.rows.push_back({what, text(quantityText(one.time, "s", {}, 8)),
                                            text(quantityText(one.value, row.unit, {}, 5)), text(one.reason)});
        if (const auto more = row.keptOutCount - std::int64_t(row.keptOut.size()); more > 0)
            content.keptOut.rows.push_back({what, QString("and %1 more").arg(more), "", ""});
    }
}

void addProvenance(ReportContent &content, const Results &results)
{
    content.provenance.heading = "How the numbers were made";
    content.provenance.columns = {"quantity", "made by"};
    for (std::size_t i = 0; i < results.rows.size(); ++i) {
        QStringList parts;
        for (const auto &[what, how] : results.rows[i].provenance) parts << text(what + ": " + how);
        if (!results.rows[i].reason.empty()) parts << "unmeasurable: " + text(results.rows[i].reason);
        content.provenance.rows[i][1] = parts.join("; ");
    }
    for (std::size_t i = 0; i < results.masks.size(); ++i) {
        const MaskRun &mask = results.masks[i];
        QString &how = content.provenance.rows[results.rows.size() + i][1];
        how = "mask: " + text(mask.definition.title + ", " + mask.definition.source) + "; grown by " +
              text(quantityText(100 * mask.appliedMargin, "%", {}, 3));
        const ChannelResult *channel = findEntry(results.channels, mask.source);
        if (mask.result && channel)
            how += "; levels: " + text(quantityText(mask.zero, channel->unit)) + " and " +
                   text(quantityText(mask.one, channel->unit)) + "; " + QString::number(mask.result->hits) + " hits";
        for (const MaskRun::OfCapture &capture : mask.captures)
            how += "; " + text(capture.files) +
                   QString(": %1 of %2 failed, %3 hits")
                       .arg(capture.failedUnitIntervals)
                       .arg(capture.unitIntervals)
                       .arg(capture.hits);
        if (!mask.reason.empty()) how += "; not run: " + text(mask.reason);
    }
    content.clocks.heading = "Clocks";
    content.clocks.columns = {"clock", "rate", "unit intervals", "how"};
    for (const ClockResult &clock : results.clocks) {
        const ClockEntry &entry = *findEntry(results.document->clocks, clock.id);
        QString how =
            entry.method == "pll"
                ? QString("loop of order %1, %2").arg(entry.order).arg(text(quantityText(entry.bandwidth, "Hz", {}, 4)))
                : QString("fixed");
        how += entry.rate ? ", rate given" : ", rate found";
        if (!clock.reason.empty()) {
            content.clocks.rows.push_back({text(clock.id), "—", "—", text(clock.reason)});
            continue;
        }
        content.clocks.rows.push_back({text(clock.id),
                                       text(quantityWithUncertainty(clock.rate, "Bd", clock.rateUncertainty)),
                                       QString::number(clock.unitIntervals), how});
    }
    content.captures.heading = "Captures";
    content.captures.columns = {"capture", "file", "samples", "interval", "SHA-256"};
    for (const CaptureResult &capture : results.captures) {
        QString file = text(capture.file);
        for (const Finding &finding : capture.findings) file += "; " + text(finding.level + ": " + finding.text);
        content.captures.rows.push_back({text(capture.id), file,
                                         QString("%1 × %2").arg(capture.channels).arg(capture.samples),
                                         text(quantityText(capture.sampleInterval, "s", {}, 6)), text(capture.sha256)});
    }
    content.stated.heading = "What the files say of themselves";
    content.stated.columns = {"capture", "what", "stated"};
    for (const CaptureResult &capture : results.captures) {
        for (const StatedFact &fact : capture.stated)
            content.stated.rows.push_back({text(capture.id), text(fact.what), text(fact.value)});
    }
}

} // namespace

std::set<std::string> tracesInReport(const Document &document)
{
    std::set<std::string> shown;
    for (const SheetEntry &sheet : document.sheets) {
        for (const TileEntry &tile : sheet.tiles) {
            if (tile.kind == "traces") shown.insert(tile.of.begin(), tile.of.end());
        }
    }
    for (const MaskEntry &mask : document.masks) {
        if (!mask.source.empty()) shown.insert(mask.source);
        if (const EyeEntry *eye = findEntry(document.eyes, mask.eye)) shown.insert(eye->source);
    }
    return shown;
}

ReportContent reportContent(const Results &results, const ProjectFacts &facts, Progress &progress)
{
    const Document &document = *results.document;
    ReportContent content;
    content.title = document.title.empty() ? "Untitled project" : text(document.title);
    const DeviceEntry &device = document.device;
    if (!device.name.empty())
        content.facts << "Device: " + text(device.name) +
                             (device.serial.empty() ? QString() : ", serial " + text(device.serial));
    if (!device.comment.empty()) content.facts << text(device.comment);
    content.facts << "Made " + text(facts.made) + " by Fulvex " + fulvexVersion;
    if (!facts.sha256.empty()) content.facts << "Project SHA-256 " + text(facts.sha256);
    ProjectFacts own = facts;
    own.files.clear(); // it is one file
    content.resultsJson = resultsJson(results, own);
    addVerdict(content, results);
    addLedger(content, results);
    const auto section = [&](const char *title) { content.sections.push_back({title, content.figures.size()}); };
    section("Failures on the trace");
    addFailures(content, results);
    section("Eyes and distributions");
    addFigures(content, results, progress);
    section("Trends and their spectra");
    addPlots(content, results, progress);
    section("Spectra");
    addSpectra(content, results, progress);
    section("Jitter and phase noise");
    addJitter(content, results, progress);
    section("Traces");
    addTraces(content, results);
    addKeptOut(content, results);
    addProvenance(content, results);
    for (const NoteEntry &note : document.notes)
        content.facts << "Note at " + text(quantityText(note.time, "s", {}, 7)) + " on " + text(note.channel) + ": " +
                             text(note.text);
    return content;
}

} // namespace fulvex
