#include "import_draft.h"

#include "axis_painter.h"
#include "capture_reader.h"
#include "document_json.h"
#include "error.h"
#include "failure_text.h"
#include "fingerprint.h"
#include "number_text.h"
#include "raw_guess.h"

#include <QFileInfo>
#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>
#include <QSettings>
#include <cmath>

namespace fulvex {

namespace {

constexpr std::int64_t compared = 1 << 18; ///< samples in which legs are compared
constexpr std::int64_t pictured = 300;     ///< samples in a column's picture

std::string channelWish(const ColumnDraft &column, std::size_t index, std::size_t columns)
{
    if (!column.label.isEmpty()) return column.label.toStdString();
    if (columns == 2) return index == 0 ? "p" : "n";
    return "ch" + std::to_string(index + 1);
}

/// A pipe is refused before it is waited for.
QByteArray headOf(const QString &file)
{
    constexpr std::size_t shown = 8192;
    const auto mapped = MappedFile::open(file.toStdString());
    const auto head = mapped->bytes().first(std::min(shown, mapped->bytes().size()));
    return QByteArray(reinterpret_cast<const char *>(head.data()), qsizetype(head.size()));
}

void fillPicture(const Waveform &waveform, ColumnDraft &column)
{
    column.first.resize(std::size_t(std::min(pictured, waveform.count)));
    waveform.read(0, column.first);
}

/// Whether one column goes down where the other goes up: correlation below -0.5 over the record's beginning.
bool areMirrored(const Waveform &first, const Waveform &second)
{
    const auto count = std::size_t(std::min({compared, first.count, second.count}));
    std::vector<double> a(count), b(count);
    first.read(0, a);
    second.read(0, b);
    double n = 0, sa = 0, sb = 0, aa = 0, bb = 0, ab = 0;
    for (std::size_t i = 0; i < count; ++i) {
        if (!(a[i] == a[i] && b[i] == b[i])) continue;
        ++n, sa += a[i], sb += b[i], aa += a[i] * a[i], bb += b[i] * b[i], ab += a[i] * b[i];
    }
    const double spread = std::sqrt((aa - sa * sa / n) * (bb - sb * sb / n));
    return n > 2 && spread > 0 && (ab - sa * sb / n) / spread < -0.5;
}

/// One capture with a channel for each used column; gives their ids.
std::vector<std::string> addDraft(Document &document, const ImportDraft &draft)
{
    CaptureEntry entry;
    entry.id = freeId(document, QFileInfo(draft.file).completeBaseName().toStdString());
    entry.file = QFileInfo(draft.file).absoluteFilePath().toStdString();
    entry.import = draft.options;
    document.captures.push_back(entry);
    std::vector<std::string> ids;
    for (std::size_t i = 0; i < draft.columns.size(); ++i) {
        const ColumnDraft &column = draft.columns[i];
        if (!column.used) continue;
        ChannelEntry channel;
        channel.id = freeId(document, channelWish(column, i, draft.columns.size()));
        channel.capture = entry.id;
        channel.column = int(i);
        channel.scale = column.factor;
        channel.offset = column.offset;
        if (!column.unit.isEmpty()) channel.unit = column.unit.toStdString();
        channel.label = column.label.toStdString();
        document.channels.push_back(channel);
        ids.push_back(channel.id);
    }
    return ids;
}

std::string addDifference(Document &document, const std::string &first, const std::string &second)
{
    ChannelEntry channel;
    channel.id = freeId(document, "link");
    channel.formula = first + " - " + second;
    document.channels.push_back(channel);
    return channel.id;
}

void addSheet(Document &document, const QString &title, const std::vector<std::string> &channels)
{
    TileEntry tile;
    tile.kind = "traces";
    tile.lanes = true;
    tile.of = channels;
    SheetEntry sheet;
    sheet.title = title.toStdString();
    sheet.id = freeId(document, title.toStdString() + "_sheet");
    sheet.tiles.push_back(tile);
    document.sheets.push_back(sheet);
}

bool isOneLeg(const ImportDraft &draft)
{
    return draft.complete() &&
           std::count_if(draft.columns.begin(), draft.columns.end(), [](const auto &c) { return c.used; }) == 1;
}

QString settingsKey(const ImportDraft &draft)
{
    return "corrections/" + text(sha256(shapeOf(draft).toStdString()).substr(0, 16));
}

/// Readings of a file of no known format as raw samples, for the user to choose from.
std::vector<RawOffer> rawOffers(const QString &file, Progress &progress)
{
    constexpr std::size_t offered = 3;
    std::vector<RawOffer> offers;
    const auto mapped = MappedFile::open(file.toStdString());
    for (const RawGuess &guess : guessRaw(mapped->bytes(), offered)) {
        const Capture capture = readCapture(file.toStdString(), guess.options, progress);
        ColumnDraft column;
        fillPicture(capture.columns[0], column);
        QString words = text(std::string(sampleTypeName(*guess.options.sampleType)));
        if (sampleSize(*guess.options.sampleType) > 1 && *guess.options.bigEndian) words += QObject::tr(", big-endian");
        if (*guess.options.interleave > 1) words += QObject::tr(", %1 channels").arg(*guess.options.interleave);
        offers.push_back({guess.options, words, std::move(column.first)});
    }
    return offers;
}

} // namespace

void readDraft(ImportDraft &draft, Progress &progress)
{
    try {
        if (draft.head.isEmpty()) draft.head = headOf(draft.file);
        if (draft.options == ImportOptions{} && draft.offers.empty() && !isRecognised(draft.file.toStdString())) {
            draft.offers = rawOffers(draft.file, progress);
            if (!draft.offers.empty()) draft.options = draft.offers[0].options;
        }
        auto capture = std::make_shared<const Capture>(readCapture(draft.file.toStdString(), draft.options, progress));
        std::vector<ColumnDraft> columns(capture->columns.size());
        for (std::size_t i = 0; i < columns.size(); ++i) {
            if (i < draft.columns.size()) columns[i] = draft.columns[i];
            if (!columns[i].yours.contains("label")) columns[i].label = text(capture->columns[i].name);
            if (!columns[i].yours.contains("unit")) columns[i].unit = text(capture->columns[i].unit);
            fillPicture(capture->columns[i], columns[i]);
        }
        if (!draft.capture && columns.size() == 2)
            draft.difference = areMirrored(capture->columns[0], capture->columns[1]);
        draft.columns = std::move(columns);
        draft.capture = std::move(capture);
        draft.problem.clear();
    } catch (const Cancelled &) {
        throw;
    } catch (...) {
        draft.problem = QString::fromStdString(failureText());
    }
}

bool takeReading(ImportDraft &draft, const ImportDraft &read)
{
    if (!(draft.options == read.options) || draft.file != read.file) return false;
    std::vector<ColumnDraft> columns = read.columns;
    for (std::size_t i = 0; i < std::min(columns.size(), draft.columns.size()); ++i) {
        const ColumnDraft &said = draft.columns[i];
        ColumnDraft &column = columns[i];
        if (said.yours.contains("label")) column.label = said.label;
        if (said.yours.contains("unit")) column.unit = said.unit;
        if (said.yours.contains("factor")) column.factor = said.factor;
        if (said.yours.contains("offset")) column.offset = said.offset;
        if (said.yours.contains("used")) column.used = said.used;
        column.yours = said.yours;
    }
    const bool difference = draft.capture ? draft.difference : read.difference; // ticked meanwhile, or proposed first
    draft.problem = read.problem;
    draft.capture = read.capture;
    draft.head = read.head;
    draft.offers = read.offers;
    if (read.problem.isEmpty()) draft.columns = std::move(columns);
    draft.difference = difference;
    return true;
}

QString shapeOf(const ImportDraft &draft)
{
    QStringList parts{QFileInfo(draft.file).suffix()};
    if (draft.capture) {
        parts << text(draft.capture->format);
        for (const Waveform &column : draft.capture->columns)
            parts << text(column.name) << text(column.unit) << text(std::string(sampleTypeName(column.type)));
    }
    return parts.join('\x1f');
}

void rememberCorrections(const ImportDraft &draft)
{
    QJsonArray columns;
    bool any = !(draft.options == ImportOptions{});
    for (const ColumnDraft &column : draft.columns) {
        QJsonObject kept;
        if (column.yours.contains("label")) kept["label"] = column.label;
        if (column.yours.contains("unit")) kept["unit"] = column.unit;
        if (column.yours.contains("factor")) kept["factor"] = column.factor;
        if (column.yours.contains("offset")) kept["offset"] = column.offset;
        if (column.yours.contains("used")) kept["used"] = column.used;
        any |= !kept.isEmpty();
        columns << kept;
    }
    if (!any) return QSettings().remove(settingsKey(draft));
    const QJsonObject all{
        {"import", QJsonDocument::fromJson(QByteArray::fromStdString(importText(draft.options))).object()},
        {"columns", columns}};
    QSettings().setValue(settingsKey(draft), QJsonDocument(all).toJson(QJsonDocument::Compact));
}

bool recallCorrections(ImportDraft &draft)
{
    const QJsonObject all = QJsonDocument::fromJson(QSettings().value(settingsKey(draft)).toByteArray()).object();
    if (all.isEmpty()) return false;
    try {
        draft.options = parseImport(QJsonDocument(all["import"].toObject()).toJson().toStdString());
    } catch (const Error &) {
        return false; // of another version
    }
    const QJsonArray columns = all["columns"].toArray();
    for (std::size_t i = 0; i < std::min(draft.columns.size(), std::size_t(columns.size())); ++i) {
        const QJsonObject kept = columns[qsizetype(i)].toObject();
        ColumnDraft &column = draft.columns[i];
        for (const QString &key : kept.keys()) column.yours.insert(key);
        if (kept.contains("label")) column.label = kept["label"].toString();
        if (kept.contains("unit")) column.unit = kept["unit"].toString();
        column.factor = kept["factor"].toDouble(column.factor);
        column.offset = kept["offset"].toDouble(column.offset);
        column.used = kept["used"].toBool(column.used);
    }
    draft.recalled = true;
    return true;
}

QString typedQuantity(double value, const std::string &unit)
{
    constexpr int digits = 9;
    return QString::fromStdString(withoutIdleZeros(quantityText(value, unit, {}, digits)));
}

std::optional<double> parseFactor(const QString &words)
{
    QString bare = words.trimmed();
    if (bare.endsWith("dB")) { // an attenuator takes it off, so the signal before it was larger
        const auto decibels = parseQuantity(bare.chopped(2).trimmed().toStdString(), "");
        return decibels ? std::optional(std::pow(10, *decibels / 20)) : std::nullopt;
    }
    if (bare.endsWith(":1"))
        bare.chop(2);
    else if (bare.endsWith('x', Qt::CaseInsensitive) || bare.endsWith(u'×'))
        bare.chop(1);
    else if (bare.startsWith('x', Qt::CaseInsensitive) || bare.startsWith(u'×'))
        bare.remove(0, 1);
    const auto factor = parseQuantity(bare.trimmed().toStdString(), "");
    return factor && std::isfinite(*factor) && *factor != 0 ? factor : std::nullopt;
}

bool arePair(const ImportDraft &first, const ImportDraft &second)
{
    return isOneLeg(first) && isOneLeg(second) && first.capture->axis == second.capture->axis &&
           first.columns[0].unit == second.columns[0].unit;
}

void proposePairs(std::vector<ImportDraft> &drafts)
{
    for (std::size_t i = 0; i + 1 < drafts.size(); ++i) {
        if (!arePair(drafts[i], drafts[i + 1])) continue;
        drafts[i].difference = areMirrored(drafts[i].capture->columns[0], drafts[i + 1].capture->columns[0]);
        ++i;
    }
}

void addDrafts(Document &document, const std::vector<ImportDraft> &all)
{
    std::vector<ImportDraft> drafts;
    std::copy_if(all.begin(), all.end(), std::back_inserter(drafts), [](const ImportDraft &d) { return d.complete(); });
    const TimeAxis first = drafts.empty() || !drafts[0].capture ? TimeAxis{} : drafts[0].capture->axis;
    if (document.captures.empty() && !first.isFine()) document.timeOrigin = std::trunc(first.start);
    for (std::size_t i = 0; i < drafts.size(); ++i) {
        std::vector<std::string> channels = addDraft(document, drafts[i]);
        const bool pairOfFiles = i + 1 < drafts.size() && arePair(drafts[i], drafts[i + 1]);
        const bool difference = drafts[i].difference;
        if (pairOfFiles) {
            const auto second = addDraft(document, drafts[++i]);
            channels.insert(channels.end(), second.begin(), second.end());
        }
        if (channels.size() == 2 && difference) channels.push_back(addDifference(document, channels[0], channels[1]));
        addSheet(document, QFileInfo(drafts[i].file).completeBaseName(), channels);
    }
}

} // namespace fulvex
