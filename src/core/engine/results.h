#pragma once

#include "autocorrelation.h"
#include "clock_recovery.h"
#include "clock_stability.h"
#include "document.h"
#include "error_ratio.h"
#include "eye_quantities.h"
#include "finding.h"
#include "jitter_budget.h"
#include "jitter_sums.h"
#include "mask_test_run.h"
#include "phase_noise.h"
#include "population_total.h"
#include "pyramid.h"
#include "spectral_lines.h"
#include "spectrogram.h"
#include "symbol_pattern.h"
#include "transfer_function.h"
#include "trend_spectrum.h"
#include "waveform.h"

#include <memory>
#include <optional>
#include <set>
#include <string>
#include <utility>
#include <vector>

namespace fulvex {

/// A snapshot of everything that follows from a document and its captures. Immutable once handed out. While it is being
/// computed, what is `pending` is not the last word: it is of an older revision, of a part of the record, or not
/// checked yet; an entry that nothing is known of is missing.

struct CaptureResult {
    std::string id, file, format, sha256;
    std::string error; ///< not empty: it could not be read
    bool pending = false;
    std::int64_t channels = 0, samples = 0;
    double sampleInterval = 0;
    std::vector<Finding> findings;
    std::vector<StatedFact> stated;                         ///< what the file says of itself
    std::vector<std::shared_ptr<const MappedFile>> sources; ///< files that it was read from
    /// Why it cannot be believed any more, since somebody wrote to its files; empty: nobody did.
    std::string disturbance() const;
};

struct ChannelResult {
    std::string id, unit;

    std::string error;
    bool pending = false;
    SourcePtr source;                       ///< null with an error
    std::shared_ptr<const Pyramid> pyramid; ///< null unless asked for
    bool unitStated = false;                ///< by the file, the document, or what a formula is of
    std::string remark = {};                ///< of a program that it was made by: what it printed
};

struct ClockResult {
    std::string id;
    std::string reason; ///< not empty: there is no clock, why, and what would help
    bool pending = false;
    std::shared_ptr<const Clock> clock = {};
    double rate = 0, rateUncertainty = 0;       ///< Bd
    std::int64_t unitIntervals = 0;             ///< that it runs through
    std::vector<double> levels = {};            ///< of more than two amplitude levels, the source's unit
    std::vector<std::int64_t> transitions = {}; ///< how often each occurs: from the first level to the first, second …
    std::vector<Finding> findings = {};         ///< what makes it doubtful, with what to try
    /// Told of the whole record alone: the samples that its symbols are read from, what they are told apart by, and
    /// what they repeat.
    SourcePtr samples = {};
    std::vector<double> thresholds = {};
    std::optional<SymbolPattern> pattern = {};
    std::shared_ptr<const TrendSpectrum> jitter = {}; ///< of a loop's edges against a straight line, s; null of others
};

enum class Verdict { none, pass, fail };
const char *verdictName(Verdict verdict);

struct Row {
    std::string id, quantity, title, source, unit;
    std::string reason; ///< not empty: unmeasurable
    bool pending = false;
    Statistics statistics;
    Verdict verdict = Verdict::none;
    std::shared_ptr<const Measured> measured;
    std::shared_ptr<const PopulationTotal> total; ///< of several captures added up, which `measured` is not of; or null
    ValueHistogram histogram;                     ///< of its population; empty without one
    double share = 1;                             ///< of the record or region that was looked at, as in EyeResult
    /// Occurrences that the document keeps out of the population, the first of them.
    struct KeptOut {
        double time = 0, lasts = 0, value = 0; ///< s, s, `unit`
        std::string by, reason;                ///< the entry's id
    };
    /// Reference levels of a channel, and which of them its instants were found at.
    struct Levels {
        std::string channel;
        ReferenceLevels levels;
        bool mid = false, lowAndHigh = false;
    };
    std::vector<Levels> levels;
    std::vector<KeptOut> keptOut;
    std::int64_t keptOutCount = 0;
    static constexpr std::size_t mostKeptOut = 1000; ///< that are listed
    /// How the number was made, as (what, how) in words: levels, clock, region, interpolation.
    std::vector<std::pair<std::string, std::string>> provenance;
    bool measurable() const { return reason.empty(); }
};

struct EyeResult {
    std::string id, source, clock;
    std::string reason;
    bool pending = false;
    std::shared_ptr<const EyeFold> fold;
    /// Of its openings, where they were asked for, or null: crossings, and transitions from 20 to 80 %.
    std::vector<std::shared_ptr<const EyeCrossings>> crossings, rises, falls;
    std::shared_ptr<const EyeErrorRatio> errors; ///< where these are shown; null for several records added up
    double unitInterval = 0;                     ///< s
    double resolution = 0;                       ///< of the source's values, in its unit; 0 unknown
    SourcePtr samples; ///< what was folded, by which clock and how; null for several records added up
    std::shared_ptr<const Clock> by;
    EyeRule rule;
    std::int64_t triggers = 0; ///< edges that an overlay is at; those within the lap of another begin none
    double share = 1;          ///< of its unit intervals that were folded: below 1, parts spread over the record
};

struct MaskRun {
    std::string id, eye;  ///< eye: empty of a template that names its edges itself
    std::string source;   ///< the channel
    bool atEdges = false; ///< a template, laid at edges: these count as unit intervals
    double lasts = 0;     ///< s, a unit interval, or what a template looks at
    std::string reason;
    bool pending = false;
    MaskDefinition definition;
    double zero = 0, one = 0; ///< channel's unit, the levels it was laid on
    double appliedMargin = 0;
    std::shared_ptr<const MaskResult> result;
    Verdict verdict = Verdict::none;
    /// Of several captures added up: what each gave, by the names of its files; without failures of their own.
    struct OfCapture {
        std::string files;
        std::int64_t unitIntervals = 0, hits = 0, failedUnitIntervals = 0;
        std::vector<std::int64_t> areaHits;
        std::optional<double> margin;
        std::string reason; ///< not empty: it could not be tested
        auto operator<=>(const OfCapture &) const = default;
    };
    std::vector<OfCapture> captures;           ///< sorted
    OfCapture counts(std::string files) const; ///< what this one gave
};

/// A program of the user's that the document names, as it lies there now.
struct ProgramStatus {
    std::string id, path, sha256;
    /// `unseen`: nobody here allowed its content; `another`: nor is it what the project was saved with.
    enum class State { allowed, unseen, another, missing } state = State::missing;
    std::string error;                          ///< why it is missing
    std::shared_ptr<const std::string> content; ///< that the fingerprint is of
    bool pending = false;
};

/// A channel over frequency or lag: of its kind alone one is there.
struct SpectrumResult {
    std::string id, kind, source, row, to, unit, toUnit; ///< source: of a row that channel that it is of
    std::string reason;
    bool pending = false;
    double share = 1; ///< of the record or region that was looked at, as in EyeResult
    std::shared_ptr<const Spectrum> spectrum;
    std::shared_ptr<const Spectrogram> spectrogram;
    std::shared_ptr<const TransferFunction> transfer;
    std::shared_ptr<const Autocorrelation> autocorrelation;
    SourcePtr samples; ///< what it is of; null for several records added up
    SampleRange range;
    std::vector<std::pair<std::string, std::string>> provenance; ///< as a Row's
    bool made() const { return spectrum || spectrogram || transfer || autocorrelation; }
};

/// Jitter taken apart.
struct BudgetResult {
    std::string id, source;
    std::string reason; ///< not empty: it cannot be told, why, and what would help
    bool pending = false;
    std::shared_ptr<const JitterMakeUp> found;
    std::shared_ptr<const JitterTails> tails; ///< null where they cannot be told
    bool byTails = false;                     ///< the budget's random part is theirs
    bool ofData = true;                       ///< not of a clock
    JitterBudget budget;
    std::vector<std::string> remarks; ///< what makes it doubtful, in sentences
    Verdict verdict = Verdict::none;
    std::shared_ptr<const Clock> by;
};

/// What a make-up of jitter adds to those of several captures.
struct JitterResult {
    std::string key; ///< of the entries that ask for it, see jitterKey()
    std::shared_ptr<const JitterSums> sums;
};

/// Phase noise of a carrier.
struct PhaseNoiseResult {
    std::string id, source;
    std::string reason; ///< not empty: it cannot be told, why, and what would help
    bool pending = false;
    std::shared_ptr<const PhaseNoise> found;
    std::shared_ptr<const JitterEdges> edges;        ///< that it is of; null for several records averaged
    std::shared_ptr<const ClockStability> stability; ///< as well
    std::shared_ptr<const Clock> by;                 ///< as well
    PhaseNoiseSpan span;                             ///< as far as can be told
    PhaseNoise::Value jitter;                        ///< s rms, over it
    std::optional<double> floor;                     ///< dBc/Hz, of what the channel's own noise does to instants
    std::vector<std::string> remarks;                ///< what makes it doubtful, in sentences
    Verdict verdict = Verdict::none;
    std::optional<PhaseNoise::Point> worst; ///< where it is nearest to its limit, dB below it
};

/// A capture that counts among others.
struct CountedCapture {
    std::string name, fingerprint;   ///< of its files, one behind the other
    std::vector<std::string> failed; ///< ids of what failed in it, rows and masks apart
    auto operator<=>(const CountedCapture &) const = default;
};

struct Results {
    std::shared_ptr<const Document> document;
    std::vector<CaptureResult> captures;
    std::vector<ChannelResult> channels;
    std::vector<ClockResult> clocks;
    std::vector<Row> rows;
    std::vector<EyeResult> eyes;
    std::vector<MaskRun> masks;
    std::vector<SpectrumResult> spectra;
    std::vector<BudgetResult> budgets;
    std::vector<PhaseNoiseResult> phaseNoise;
    std::vector<ProgramStatus> programs;
    std::vector<JitterResult> jitter;    ///< where results are to be added up; by key
    std::vector<CountedCapture> counted; ///< that were added up by a RunTally, sorted
    std::vector<std::string> varied;     ///< of these: captures that are others each time, see variedCaptures()

    // Compiled once, as a document's.
    Results();
    ~Results();
    Results(const Results &);
    Results(Results &&) noexcept;
    Results &operator=(const Results &);
    Results &operator=(Results &&) noexcept;

    template <typename Entry>
    static const Entry *find(const std::vector<Entry> &entries, const std::string &id)
    {
        return findEntry(entries, id);
    }
    /// The first file or channel that could not be used, as one line; empty when all could.
    std::string firstError() const;
    /// A limit or a mask, but for those of these entries.
    bool anyFailed(const std::set<std::string> &except = {}) const;
};

/// What the mask on an eye, or the template on an overlay, gave: see maskOn() of a document. Null where there is none.
const MaskRun *maskOn(const Results &results, const std::string &eye);

/// The record's whole span over the channels of a tile (all channels when it names none); empty without any.
std::optional<std::pair<double, double>> wholeSpan(const Results &results, const std::vector<std::string> &channels);

} // namespace fulvex
