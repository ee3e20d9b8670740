#pragma once

#include "document.h"
#include "progress.h"
#include "waveform.h"

#include <QByteArray>
#include <QString>
#include <QStringList>
#include <memory>
#include <optional>
#include <set>
#include <vector>

namespace fulvex {

/// A column of a file on its way into the project.
struct ColumnDraft {
    QString label, unit;
    double factor = 1, offset = 0; ///< value = as read * factor + offset
    bool used = true;
    std::set<QString> yours;   ///< which of "label", "unit", "factor", "offset", "used" the user corrected
    std::vector<double> first; ///< samples of its beginning, to be shown
};

/// A reading of a file that says nothing of itself as raw samples.
struct RawOffer {
    ImportOptions options;
    QString words;             ///< "i16, 2 channels"
    std::vector<double> first; ///< samples of its first channel, to be shown
};

/// A file that was read to be looked at before it is taken: what was understood, and what the user says about it.
struct ImportDraft {
    QString file, problem;                  ///< problem: it could not be read this way
    ImportOptions options;                  ///< what the user says; the rest the file states
    std::shared_ptr<const Capture> capture; ///< of the last reading that went well
    std::vector<ColumnDraft> columns;
    QByteArray head;              ///< the file's first bytes
    bool difference = false;      ///< of two legs: add the first less the second
    std::vector<RawOffer> offers; ///< where no format is recognised; the likeliest first, which is what was read
    bool recalled = false;        ///< corrections come from a file of the same shape
    bool complete() const { return capture && problem.isEmpty() && capture->intervalKnown; }
};

/// Reads the file with the draft's options and fills in what follows from it; corrections of columns stay. Not for the
/// interface thread. Never throws Error: a failure is the draft's problem.
void readDraft(ImportDraft &draft, Progress &progress);
/// Takes over what such a reading of a copy found. What the user said of the columns meanwhile stays; false, and
/// nothing taken, where the options are no longer those it was read with.
bool takeReading(ImportDraft &draft, const ImportDraft &read);

/// What makes files alike, so that corrections of one are good for the next: format, columns, their names and units.
QString shapeOf(const ImportDraft &draft);
/// Keeps the user's corrections for files of this shape, in the user's settings; takes them from there.
void rememberCorrections(const ImportDraft &draft);
bool recallCorrections(ImportDraft &draft);

/// A quantity of a file as a field has it: with all its digits, and no idle zeros behind them.
QString typedQuantity(double value, const std::string &unit);

/// A factor as engineers write it: "10", "10:1" or "10x" (a probe's ratio), "20 dB" (an attenuator's), "1m" (V an A …).
std::optional<double> parseFactor(const QString &words);

/// Adds those of the drafts that are complete to the project: captures, channels, differences of pairs, and a sheet for
/// each. Legs that lie in two files of one column each, alike in length and interval, count as a pair too.
void addDrafts(Document &document, const std::vector<ImportDraft> &drafts);
/// Whether two files may be the legs of one thing: one column each, alike in instants and unit.
bool arePair(const ImportDraft &first, const ImportDraft &second);
/// Proposes the difference of neighbouring files that are a pair and mirror each other. Reads samples: not for the
/// interface thread.
void proposePairs(std::vector<ImportDraft> &drafts);

} // namespace fulvex
