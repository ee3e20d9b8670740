// What the workbench does with a channel's samples and a row's occurrences beside the interface: writing them, keeping
// a copy, aligning.

#include "amplitude_levels.h"
#include "amplitude_survey.h"
#include "axis_painter.h"
#include "capture_writer.h"
#include "moved_captures.h"
#include "number_text.h"
#include "population_file.h"
#include "program_consent.h"
#include "workbench.h"

#include <QDateTime>
#include <QDir>
#include <QFileInfo>
#include <QStandardPaths>
#include <algorithm>
#include <cmath>

namespace fulvex {

void Workbench::exportChannel(const QString &path, const std::string &channel,
                              std::optional<std::pair<double, double>> span)
{
    const auto write = [this, path, channel, span] {
        const ChannelResult *result = results() ? findEntry(results()->channels, channel) : nullptr;
        if (!result || !result->source) {
            emit failed(tr("There is no channel to write: select one that could be computed."));
            return;
        }
        const ChannelEntry *entry = findEntry(document().channels, channel);
        const TimeAxis &axis = result->source->axis();
        SampleRange range{0, axis.count};
        if (span) range = samplesWithin(axis, span->first, span->second);
        m_errands.run(
            [path, range, written = WrittenChannel{entry ? entry->shownName() : channel, result->unit, result->source}](
                Progress &progress) { writeCapture(path.toStdString(), std::span(&written, 1), range, progress); });
    };
    whenUpToDate(QFileInfo(path).fileName(), write, true);
}

void Workbench::exportPopulation(const QString &path, const std::string &id)
{
    const auto write = [this, path, id] {
        const Row *row = results() ? findEntry(results()->rows, id) : nullptr;
        if (!row || !row->measured) return; // it was removed meanwhile
        m_errands.run([path, row = *row](Progress &progress) { writePopulation(path.toStdString(), row, progress); });
    };
    whenUpToDate(QFileInfo(path).fileName(), write);
}

void Workbench::exportHistogram(const QString &path, const std::string &id)
{
    const auto write = [this, path, id] {
        const Row *row = results() ? findEntry(results()->rows, id) : nullptr;
        if (!row || !row->measured) return; // it was removed meanwhile
        std::optional<std::size_t> bins;
        for (const SheetEntry &sheet : document().sheets) {
            for (const TileEntry &tile : sheet.tiles) {
                const bool shows = tile.kind == "histogram" && !tile.of.empty() && tile.of.front() == id;
                if (shows && tile.bins && !bins) bins = std::size_t(*tile.bins);
            }
        }
        m_errands.run([path, row = *row, bins](Progress &) {
            const bool counted = bins && row.measurable() && !row.measured->single;
            writeHistogram(path.toStdString(), row,
                           counted ? histogramOf(row.measured->population, *bins) : row.histogram);
        });
    };
    whenUpToDate(QFileInfo(path).fileName(), write);
}

void Workbench::addCopy(const std::string &of, ChannelEntry copy, std::optional<CaptureEntry> capture)
{
    std::string id;
    change(tr("keep a copy of %1").arg(text(of)), [&](Document &document) {
        if (capture) {
            capture->id = copy.capture = freeId(document, capture->id);
            document.captures.push_back(*capture);
        }
        copy.id = id = freeId(document, of + "_kept");
        copy.label = findEntry(document.channels, of)->shownName() + ", kept";
        document.channels.push_back(copy);
        for (SheetEntry &sheet : document.sheets) {
            for (TileEntry &tile : sheet.tiles) {
                if (tile.kind == "traces" && std::find(tile.of.begin(), tile.of.end(), of) != tile.of.end())
                    tile.of.push_back(id);
            }
        }
    });
    if (!id.empty()) select({Selection::Kind::channel, id});
}

/// A name that no file has yet, also where two copies are made within a second.
static QString freshFile(const QString &folder, const QString &name)
{
    const QString stem = folder + "/" + name + QDateTime::currentDateTimeUtc().toString("-yyyyMMdd-hhmmss");
    static int count = 0; // what is asked for may not be written yet
    return stem + QString("-%1.npy").arg(++count);
}

void Workbench::keepCopy(const std::string &channel)
{
    const auto keep = [this, channel] {
        const ChannelEntry *entry = findEntry(document().channels, channel);
        const ChannelResult *result = results() ? findEntry(results()->channels, channel) : nullptr;
        if (!entry || !result || !result->source) {
            emit failed(tr("There is no trace to keep: select a channel that could be computed."));
            return;
        }
        if (entry->formula.empty()) return addCopy(channel, *entry, {}); // its samples lie in a file already
        const QString folder = path().isEmpty()
                                   ? QStandardPaths::writableLocation(QStandardPaths::AppDataLocation) + "/kept"
                                   : text(base().string()) + "/" + QFileInfo(path()).completeBaseName() + "-kept";
        ChannelEntry copy = *entry;
        CaptureEntry capture;
        capture.id = channel + "_kept_samples";
        copy.formula.clear();
        copy.unit = result->unit;
        const TimeAxis axis = result->source->axis();
        copy.delay = axis.shift;
        const QString file = freshFile(folder, text(capture.id));
        capture.file = file.toStdString();
        capture.import.sampleInterval = axis.interval;
        capture.import.start = axis.start + document().timeOrigin;
        m_errands.run(
            [file, folder, written = WrittenChannel{channel, result->unit, result->source}](Progress &progress) {
                QDir().mkpath(folder);
                writeCapture(file.toStdString(), std::span(&written, 1), {0, written.source->axis().count}, progress);
            },
            m_project.here([this, channel, copy, capture] {
                if (findEntry(document().channels, channel)) addCopy(channel, copy, capture);
            }));
    };
    whenUpToDate(tr("a copy of %1").arg(text(channel)), keep, true);
}

void Workbench::measureLevels(const std::string &channel)
{
    const auto begin = [this, channel] {
        const ChannelResult *result = results() ? findEntry(results()->channels, channel) : nullptr;
        if (!result || !result->source) {
            emit failed(tr("There are no levels to find: select a channel that could be computed."));
            return;
        }
        const auto found = std::make_shared<std::vector<AmplitudeLevel>>();
        m_errands.run(
            [found, source = result->source](Progress &progress) {
                *found =
                    amplitudeLevels(surveyAmplitudes(*source, {0, source->axis().count}, progress, false).histogram);
            },
            m_project.here([this, channel, found] {
                if (!findEntry(document().channels, channel)) return;
                if (found->empty()) {
                    emit failed(tr("The amplitudes of %1 gather nowhere: it has too few samples.").arg(text(channel)));
                    return;
                }
                constexpr std::size_t most = 16;
                make(tr("measure the levels of %1").arg(text(channel)), Selection::Kind::measurement,
                     [&](Document &document) {
                         for (std::size_t level = 1; level <= std::min(most, found->size()); ++level)
                             document.measurements.push_back({.id = freeId(document, "level_" + std::to_string(level)),
                                                              .quantity = "amplitude_level",
                                                              .source = channel,
                                                              .level = int(level)});
                         return document.measurements.back().id;
                     });
            }));
    };
    whenUpToDate(tr("the levels of %1").arg(text(channel)), begin, true);
}

void Workbench::addProgram(const QString &path)
{
    make(tr("add program"), Selection::Kind::program, [&](Document &document) {
        const std::filesystem::path file = path.toStdString();
        const std::string id = freeId(document, file.stem().string());
        document.programs.push_back({.id = id, .file = keptPath(file, base()), .arguments = {"signal"}});
        return id;
    });
}

void Workbench::allowProgram(const std::string &id, const std::string &sha256)
{
    m_errands.run([sha256](Progress &) { fulvex::allowProgram(sha256); },
                  m_project.here([this, id, sha256] { // in another project it is allowed all the same
                      change(tr("allow program"), [&](Document &document) {
                          if (ProgramEntry *entry = findEntry(document.programs, id)) entry->sha256 = sha256;
                      });
                      evaluateAnew();
                  }));
}

void Workbench::forbidProgram(const std::string &sha256)
{
    m_errands.run([sha256](Progress &) { fulvex::forbidProgram(sha256); }, [this] { evaluateAnew(); });
}

} // namespace fulvex
