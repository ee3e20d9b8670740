#include "report_figures.h"

#include "autocorrelation_figure.h"
#include "channel_spectrum_figure.h"
#include "eye_figure.h"
#include "formula.h"
#include "histogram_figure.h"
#include "level_bathtub.h"
#include "number_text.h"
#include "references.h"
#include "report_plots.h"
#include "row_words.h"
#include "scatter_figure.h"
#include "spectrogram_figure.h"
#include "spectrum_figure.h"
#include "trace_figure.h"
#include "transfer_figure.h"
#include "trend_figure.h"
#include "words_figure.h"

#include <algorithm>
#include <cmath>

namespace fulvex {

namespace {

using Figure = ReportContent::Figure;
using Making = ReportContent::Making;

constexpr QSizeF tall(456, 200);

Making makingOf(const std::vector<std::pair<std::string, std::string>> &provenance)
{
    Making making;
    for (const auto &[what, how] : provenance) making.emplace_back(text(what), text(how));
    return making;
}

Making makingOfRow(const Results &results, const std::string &id)
{
    const Row *row = findEntry(results.rows, id);
    return row ? makingOf(row->provenance) : Making();
}

Making makingOfEye(const Results &results, const EyeResult &eye)
{
    Making making = makingOf(results, eye.clock);
    if (eye.fold)
        making.emplace_back("eye",
                            QString("%1 unit intervals folded, %2")
                                .arg(eye.fold->unitIntervals)
                                .arg(eye.unitInterval > 0 ? text(quantityText(eye.unitInterval, "s", {}, 6)) + " each"
                                                          : text(eye.source)));
    const MaskRun *mask = maskOn(results, eye.id);
    if (!mask || !mask->result) return making;
    const ChannelResult *channel = findEntry(results.channels, mask->source);
    const std::string unit = channel ? channel->unit : std::string();
    QString how = text(mask->definition.title + ", " + mask->definition.source);
    how += QString("; levels %1 and %2").arg(text(quantityText(mask->zero, unit)), text(quantityText(mask->one, unit)));
    how += QString("; grown by %1").arg(text(quantityText(100 * mask->appliedMargin, "%", {}, 3)));
    if (mask->result->margin)
        how += QString("; largest that passes: %1").arg(text(quantityText(100 * *mask->result->margin, "%", {}, 3)));
    making.emplace_back("mask", how);
    return making;
}

/// The span of time that a tile shows, as the project was saved: `whole` where none was chosen.
std::pair<double, double> shownSpan(const SheetEntry &sheet, const TileEntry &tile, std::pair<double, double> whole)
{
    const auto &from = tile.ownView ? tile.from : sheet.from, &to = tile.ownView ? tile.to : sheet.to;
    return from && to && *from < *to ? std::pair(*from, *to) : whole;
}

ReportFigures histogramOf(const Results &results, HistogramFigure figure, Progress &progress)
{
    if (const auto from = figure.drawingFrom())
        figure.take(std::make_shared<const HistogramDrawing>(HistogramDrawing::of(*from)));
    if (!figure.empty.isEmpty() || figure.histogram.counts.empty()) return {};
    figure.statistics.clear(); // what is told stands beside the bars, not on them
    FunctionPlot plot = figure.plot();
    plot.words.clear();
    Figure made = plotted(figure.title + " of " + figure.facts, flatFigure, plot, progress);
    made.see = text(wordsOfValues(*findEntry(results.rows, figure.measurement),
                                  findEntry(results.document->measurements, figure.measurement),
                                  figure.drawing ? figure.drawing->rows.front().peaks : std::vector<ValuePeak>()));
    made.making = makingOfRow(results, figure.measurement);
    return {made};
}

ReportFigures trendOf(const Results &results, const TileEntry &tile, std::pair<double, double> span, Progress &progress)
{
    TrendFigure figure = trendFigure(results, tile, span.first, span.second);
    const auto from = figure.drawingFrom(QRectF(QPointF(0, 0), 2 * flatFigure));
    if (!figure.empty.isEmpty() || !from) return {};
    figure.drawing = std::make_shared<const TrendDrawing>(TrendDrawing::of(*from));
    Figure made = plotted(figure.title + " along the record, of " + figure.facts, flatFigure, figure.plot(), progress);
    made.see = text(wordsOfTrend(*findEntry(results.rows, figure.measurement)));
    made.making = makingOfRow(results, figure.measurement);
    return {made};
}

ReportFigures trendSpectrumOf(const Results &results, const TileEntry &tile, Progress &progress)
{
    SpectrumFigure figure = spectrumFigure(results, tile);
    if (const auto from = figure.drawingFrom())
        figure.take(std::make_shared<const SpectrumDrawing>(SpectrumDrawing::of(*from)));
    if (!figure.drawing || figure.drawing->spectrum.amplitudes.empty()) return {};
    FunctionPlot plot = figure.plot();
    const QStringList lines = std::exchange(plot.words, {}); // beside it, not on it
    Figure made = plotted("Spectrum of the trend: " + figure.title + " of " + figure.facts, flatFigure, plot, progress);
    made.see = figure.drawing->spectrum.peaks.empty() ? QString("No line stands out.")
                                                      : "Strongest lines: " + lines.mid(tile.linear ? 0 : 1).join("; ");
    made.making = makingOfRow(results, figure.measurement);
    return {made};
}

ReportFigures scatterOf(const Results &results, const TileEntry &tile, Progress &progress)
{
    ScatterFigure figure = scatterFigure(results, tile.of);
    if (const auto from = figure.drawingFrom(QRectF(QPointF(0, 0), 2 * tall), Look::onPaper()))
        figure.take(std::make_shared<const ScatterDrawing>(ScatterDrawing::of(*from)));
    if (!figure.drawing || figure.drawing->count == 0) return {};
    Figure made =
        plotted(figure.otherName + " against " + figure.title + ", " + figure.facts, tall, figure.plot(), progress);
    made.see = QString("%1 pairs, correlation %2")
                   .arg(figure.drawing->count)
                   .arg(text(fixedText(figure.drawing->correlation, 2)));
    made.making = makingOfRow(results, figure.measurement);
    return {made};
}

/// Made now, as a tile so wide would show it; nothing where there is none.
template <typename Drawing, typename SpectralKind>
bool draw(SpectralKind &figure, const QSizeF &size)
{
    if (!figure.empty.isEmpty()) return false;
    const auto from = figure.drawingFrom(FunctionPlot().plotRect(QRectF(QPointF(0, 0), size)).width() * 2);
    if (from) figure.take(std::make_shared<const Drawing>(Drawing::of(*from)));
    return figure.drawing != nullptr;
}

ReportFigures spectrogramOf(const Results &results, const SheetEntry &sheet, const TileEntry &tile)
{
    const SpectrumEntry *entry = tile.of.empty() ? nullptr : findEntry(results.document->spectra, tile.of.front());
    const auto whole = entry ? wholeSpan(results, {channelOf(*results.document, entry->id)}) : std::nullopt;
    if (!whole) return {};
    const auto [from, to] = shownSpan(sheet, tile, *whole);
    SpectrogramFigure figure = spectrogramFigure(results, tile, from, to);
    const auto drawn = figure.drawingFrom(QRectF(QPointF(0, 0), 2 * tall), Look::onPaper());
    if (!drawn) return {};
    figure.take(std::make_shared<const SpectrogramDrawing>(SpectrogramDrawing::of(*drawn)));
    return {{"Spectrogram: " + figure.title + ", " + figure.facts,
             {},
             tall,
             [figure](QPainter &painter, const QRectF &place) {
                 paintSpectrogram(painter, place, figure, Look::onPaper());
             }}};
}

/// Channels over frequency and lag.
ReportFigures spectralOf(const Results &results, const SheetEntry &sheet, const TileEntry &tile, Progress &progress)
{
    if (tile.kind == "spectrogram") return spectrogramOf(results, sheet, tile);
    ReportFigures made;
    const auto title = [](const char *what, const SpectralFigure &figure) {
        return QString(what) + ": " + figure.title + ", " + figure.facts;
    };
    if (tile.kind == "channel_spectrum") {
        auto figure = channelSpectrumFigure(results, tile);
        if (draw<ChannelSpectrumDrawing>(figure, tall)) {
            FunctionPlot plot = figure.plot();
            const QStringList lines = std::exchange(plot.words, {});
            made.push_back(plotted(title("Spectrum", figure), tall, plot, progress));
            made.back().see = lines.join("; ");
        }
    } else if (tile.kind == "autocorrelation") {
        auto figure = autocorrelationFigure(results, tile);
        if (draw<AutocorrelationDrawing>(figure, tall))
            made.push_back(plotted(title("Autocorrelation", figure), tall, figure.plot(), progress));
    } else if (tile.kind == "transfer") {
        auto figure = transferFigure(results, tile);
        if (draw<TransferDrawing>(figure, tall))
            made.push_back(
                plottedTogether(title("Transfer function", figure), tall, figure.plots(), transferAreas, progress));
    }
    const SpectrumResult *result = tile.of.empty() ? nullptr : findEntry(results.spectra, tile.of.front());
    if (result && !made.empty()) made.back().making = makingOf(result->provenance);
    return made;
}

/// What traces are drawn for: twice as fine as they are printed at 72 points an inch, or finer.
constexpr QRectF drawnFor(0, 0, 1000, 400);

/// The traces as a sheet shows them, with their notes, regions and markers.
ReportFigures tracesOf(const Results &results, const SheetEntry &sheet, const TileEntry &tile)
{
    const auto whole = wholeSpan(results, tile.of);
    if (tile.of.empty() || !whole) return {};
    const auto [from, to] = shownSpan(sheet, tile, *whole);
    TraceFigure figure = traceFigure(results, *results.document, tile, from, to);
    figure.draw(drawnFor, Look::onPaper());
    const auto isDrawn = [](const TraceFigure::Line &line) { return line.drawing && !line.drawing->empty(); };
    if (std::none_of(figure.lines.begin(), figure.lines.end(), isDrawn)) return {}; // evaluated without pictures
    QStringList names;
    for (const TraceFigure::Line &line : figure.lines) names << line.name;
    Making making;
    for (const std::string &channel : tile.of)
        for (auto &one : makingOf(results, channel)) making.push_back(std::move(one));
    return {{"Traces: " + names.join(", "),
             text(quantityText(from, "s", (to - from) / 1000) + " … " + quantityText(to, "s", (to - from) / 1000)),
             QSizeF(flatFigure.width(), tile.lanes ? 90.0 + 60.0 * figure.lanes : flatFigure.height()),
             [figure](QPainter &painter, const QRectF &area) { paintTraces(painter, area, figure, Look::onPaper()); },
             making}};
}

} // namespace

ReportFigures figuresOfMoment(const Results &results, const std::string &channel, double at, double lasts,
                              const QString &title)
{
    const ChannelResult *of = findEntry(results.channels, channel);
    if (!of || !of->source || !of->pyramid) return {};
    TileEntry tile;
    tile.of = {channel};
    TraceFigure figure = traceFigure(results, *results.document, tile, at - 6 * lasts, at + 6 * lasts);
    figure.draw(drawnFor, Look::onPaper());
    QColor wash = Look::onPaper().fail;
    wash.setAlpha(40);
    figure.marks.push_back({at - lasts / 2, at + lasts / 2, -1, wash});
    return {{title,
             {},
             flatFigure,
             [figure](QPainter &painter, const QRectF &area) { paintTraces(painter, area, figure, Look::onPaper()); },
             makingOf(results, channel)}};
}

ReportFigures figuresOfEye(const Results &results, const std::string &eyeId)
{
    const EyeResult *eye = findEntry(results.eyes, eyeId);
    if (!eye) return {};
    EyeFigure figure = eyeFigure(results, eyeId);
    if (!figure.empty.isEmpty()) return {};
    if (const auto from = figure.pictureFrom(Look::onPaper()))
        figure.picture = std::make_shared<const EyePicture>(EyePicture::of(*from));
    if (const auto from = figure.pathsFrom()) figure.paths = std::make_shared<const EyePaths>(EyePaths::of(*from));
    const QString see = figure.verdict.isEmpty() ? QString() : "Mask: " + figure.verdict;
    return {{(eye->rule.overlay() ? "Overlay " : "Eye ") + text(eye->id) + ": " + figure.title + ", " + figure.facts,
             see, QSizeF(flatFigure.width(), 250),
             [figure](QPainter &painter, const QRectF &area) { paintEye(painter, area, figure, Look::onPaper()); },
             makingOfEye(results, *eye)}};
}

ReportFigures figuresOfRow(const Results &results, const std::string &id, Progress &progress)
{
    const Row *row = findEntry(results.rows, id);
    if (!row || !row->measurable() || !row->measured || row->measured->single) return {};
    return histogramOf(results, histogramFigure(results, id), progress);
}

/// What somebody wrote on a sheet.
static ReportFigures wordsOf(const TileEntry &tile)
{
    const WordsFigure figure{text(tile.words)};
    if (figure.words.trimmed().isEmpty()) return {};
    const double width = flatFigure.width();
    return {
        {figure.title(),
         {},
         QSizeF(width, figure.heightAt(width, Look::onPaper())),
         [figure](QPainter &painter, const QRectF &place) { paintWords(painter, place, figure, Look::onPaper()); }}};
}

ReportFigures figuresOfTile(const Results &results, const SheetEntry &sheet, const TileEntry &tile, Progress &progress)
{
    if (tile.kind == "words") return wordsOf(tile);
    if (tile.of.empty()) return {};
    const std::string &of = tile.of.front();
    if (tile.kind == "traces") return tracesOf(results, sheet, tile);
    if (tile.kind == "eye") return figuresOfEye(results, of);
    if (tile.kind == "scatter") return scatterOf(results, tile, progress);
    if (tile.kind == "spectrum") return trendSpectrumOf(results, tile, progress);
    if (tile.kind == "level_bathtub") {
        const LevelBathtubFigure figure = levelBathtubFigure(results, of);
        if (!figure.empty.isEmpty()) return {};
        return {plotted("Bathtub over level: " + figure.title, flatFigure, figure.plot(), progress)};
    }
    if (tile.kind == "histogram" || tile.kind == "trend") {
        const auto whole = wholeSpan(results, {});
        if (!whole) return {};
        const auto span = shownSpan(sheet, tile, *whole);
        return tile.kind == "trend" ? trendOf(results, tile, span, progress)
                                    : histogramOf(results, histogramFigure(results, tile, span), progress);
    }
    ReportFigures made = spectralOf(results, sheet, tile, progress);
    return made.empty() ? figuresOfJitterTile(results, tile, progress) : made;
}

/// What was done to a channel's values and times: ", later by 40.0 ps".
static QString correctionOf(const Results &results, const ChannelEntry &channel)
{
    QString words;
    if (channel.delay != 0)
        words +=
            QString(", %1 by %2")
                .arg(channel.delay > 0 ? "later" : "earlier", text(quantityText(std::abs(channel.delay), "s", {}, 4)));
    if (channel.scale != 1) words += ", times " + text(plainText(channel.scale));
    const ChannelResult *result = findEntry(results.channels, channel.id);
    if (channel.offset != 0)
        words += ", plus " + text(quantityText(channel.offset, result ? result->unit : channel.unit, {}, 4));
    return words;
}

static QString methodOf(const ClockEntry &clock)
{
    if (clock.method == "pll")
        return QString("loop of order %1, %2").arg(clock.order).arg(text(quantityText(clock.bandwidth, "Hz", {}, 4)));
    return clock.method == "forwarded" ? "beside the data, from " + text(clock.from) : QString("fixed");
}

Making makingOf(const Results &results, const std::string &id)
{
    const Document &document = *results.document;
    if (const ClockEntry *clock = findEntry(document.clocks, id)) {
        const ClockResult *result = findEntry(results.clocks, id);
        QString how = text(clock->source) + ": ";
        how += methodOf(*clock);
        if (result && result->reason.empty())
            how += ", " + text(quantityWithUncertainty(result->rate, "Bd", result->rateUncertainty)) +
                   (clock->rate ? ", given" : ", found");
        Making making = makingOf(results, clock->source);
        making.emplace_back("clock", how);
        return making;
    }
    const ChannelEntry *channel = findEntry(document.channels, id);
    if (!channel) return {};
    if (!channel->formula.empty()) {
        QString how = text(id + " = " + channel->formula) + correctionOf(results, *channel);
        for (const std::string &used : Formula::namesIn(channel->formula)) { // legs that were deskewed
            const ChannelEntry *its = findEntry(document.channels, used);
            if (its && !correctionOf(results, *its).isEmpty())
                how += "; " + text(used) + correctionOf(results, *its).mid(1);
        }
        return {{text(id), how}};
    }
    const CaptureResult *capture = findEntry(results.captures, channel->capture);
    if (!capture || capture->sampleInterval <= 0) return {};
    return {{text(id), text(capture->file) +
                           QString(", %1 samples at %2")
                               .arg(capture->samples)
                               .arg(text(quantityText(1 / capture->sampleInterval, "S/s", {}, 4))) +
                           correctionOf(results, *channel)}};
}

} // namespace fulvex
