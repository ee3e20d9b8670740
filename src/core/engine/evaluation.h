#pragma once

#include "engine.h"
#include "error.h"
#include "formula.h"
#include "program_run.h"
#include "quantity.h"
#include "symbol_edges.h"

#include <functional>
#include <map>

namespace fulvex {

/// One run over a document: each node is computed through the cache under a key made of its inputs' keys.
class Evaluation {
public:
    Evaluation(const Document &document, std::filesystem::path base, std::filesystem::path masks, NodeCache &cache,
               Progress &progress);

    /// A node and the key that names it.
    template <typename T>
    struct Node {
        std::string key;
        std::shared_ptr<const T> value;
    };
    struct ChannelNode {
        std::string key;
        SourcePtr source;
        std::string unit; ///< the channel's, else the file's or that of the channels it adds up, else V
        bool unitStated = false;
        bool estimated = false; ///< near to what it is: only where first answers are made
    };
    struct EyeNode {
        std::string key;
        SourcePtr source; ///< on the clock's grid
        std::shared_ptr<const Clock> clock;
        std::shared_ptr<const EyeFold> fold;
        SymbolLevels levels;
        EyeRule rule;
        std::int64_t triggers = 0; ///< edges that an overlay is at, those among them that have no lap of their own
        EdgeInterpolation instants = EdgeInterpolation::instants;
    };
    struct ClockNode {
        std::string key;
        std::shared_ptr<const Clock> clock;
        double rateUncertainty = 0;
        std::string remark;                         ///< where it pauses
        std::shared_ptr<const SymbolLevels> levels; ///< of more than two
    };

    /// Opened once an evaluation, whatever is put at its path meanwhile: everything is computed from the same bytes.
    Node<Capture> capture(const CaptureEntry &entry);
    /// SHA-256 of those bytes. From any thread.
    std::string fingerprint(const Node<Capture> &read);
    /// Why a capture that was read cannot be believed, since its files were written to meanwhile; empty: it can.
    std::string disturbance(const CaptureEntry &entry) const;
    /// From here on the capture, and all that stands on it, is an error for that reason.
    void spoil(const CaptureEntry &entry, const std::string &why);
    ChannelNode channel(const std::string &id);
    ProgramStatus programStatus(const ProgramEntry &entry);
    /// Whether a program runs before that entry is there.
    bool standsOnProgram(const std::string &id);
    /// The column that a channel of a file is.
    Waveform column(const ChannelEntry &entry);
    /// What a check of these channels found, cached by them.
    using Check = std::function<std::vector<Finding>(Progress &)>;
    std::shared_ptr<const std::vector<Finding>> checked(const std::vector<std::string> &channels,
                                                        const std::string &further, const Check &check);
    /// `sketchWillDo`: where the pyramid of a long record would have to be built, gives a sketch of it.
    Node<Pyramid> pyramid(const std::string &channelId, bool sketchWillDo);
    /// What of an axis lies in a region, samples; an empty one: all.
    std::pair<double, double> positionsIn(const std::string &region, const TimeAxis &axis) const;
    /// Samples of a region (empty id: all). Throws Unmeasurable when none lie in it.
    SampleRange range(const SampleSource &source, const std::string &region) const;
    /// Throws Unmeasurable where nothing can be computed from the samples.
    Node<AmplitudeSurvey> survey(const std::string &channelId, const std::string &region);
    /// Averaged, by the window of seven terms, in segments of the usual length.
    Node<PowerSpectrum> spectrum(const std::string &channelId, const std::string &region);
    Node<double> noise(const std::string &channelId, const std::string &region); ///< from sample to sample, rms
    /// `mid`: that one in place of the rule's, in its unit.
    Node<ReferenceLevels> levels(const std::string &channelId, const std::string &region, const std::string &levelsId,
                                 std::optional<double> mid = {});
    StateUncertainty stateUncertainty(const std::string &channelId, const std::string &region,
                                      const std::string &levelsId); ///< of those levels' states
    Node<EdgeList> edges(const std::string &channelId, const std::string &region, const std::string &levelsId,
                         const std::string &interpolate, std::optional<double> mid = {});
    /// Among those edges.
    Node<Transitions> transitions(const std::string &channelId, const std::string &region, const std::string &levelsId,
                                  EdgeChoice choice, const std::string &interpolate);
    /// Beside those transitions.
    Node<Aberrations> aberrations(const std::string &channelId, const std::string &region, const std::string &levelsId,
                                  EdgeChoice choice, const std::string &interpolate);
    /// Throws Unmeasurable.
    ClockNode clock(const std::string &id);
    ClockNode clock(const ClockEntry &entry); ///< which may be none of the document
    /// Of a clock's edges against a straight line, s. Throws Unmeasurable.
    std::shared_ptr<const TrendSpectrum> jitterSpectrum(const ClockEntry &entry);
    /// The symbols of a clock's unit intervals, as far as it has settled; `first` of them, 0: all. Throws Unmeasurable.
    Node<ClockSymbols> symbols(const ClockEntry &entry, std::int64_t first = 0);
    /// Some of them against what is expected, see expectedBy(). Throws Unmeasurable.
    std::shared_ptr<const SymbolErrors> symbolErrors(const ClockEntry &entry, SampleRange unitIntervals,
                                                     const std::string &expected);
    /// What they repeat. Throws Unmeasurable.
    std::shared_ptr<const SymbolPattern> pattern(const ClockEntry &entry);
    /// Of a clock's edges, as a row's settings say. Throws Unmeasurable.
    Node<JitterMakeUp> jitter(const MeasurementEntry &entry);
    Node<JitterSums> jitterSums(const MeasurementEntry &entry); ///< of that, to be added up
    Node<JitterTails> jitterTails(const MeasurementEntry &entry);
    /// By a row's clock, or by a fixed one found from its source. Throws Unmeasurable.
    Node<PhaseNoise> phaseNoise(const MeasurementEntry &entry);
    /// The edges that it is of, and by which clock.
    Node<JitterEdges> phaseEdges(const MeasurementEntry &entry);
    EyeNode eye(const std::string &id); ///< throws Unmeasurable
    std::shared_ptr<const EyeErrorRatio> errorRatios(const EyeNode &node);
    /// Of one of its openings, the lowest first; null where rising and falling transitions do not meet. `known`: only
    /// where they are in the cache.
    std::shared_ptr<const EyeCrossings> eyeCrossings(const EyeNode &node, std::size_t opening, bool known = false);
    /// Transitions between its two symbols, from level to level; null where one of the symbols does not occur.
    std::shared_ptr<const EyeCrossings> eyeTransitions(const EyeNode &node, std::size_t opening, const LevelRule &rule,
                                                       bool rising, bool known = false);
    MaskRun mask(const MaskEntry &entry);
    /// A first answer is of segments spread over the record, where there are many more. Throws Unmeasurable.
    SpectrumResult spectrum(const SpectrumEntry &entry);
    BudgetResult budget(const BudgetEntry &entry);             ///< throws Unmeasurable
    PhaseNoiseResult phaseNoise(const PhaseNoiseEntry &entry); ///< throws Unmeasurable
    /// What a spectrum is of: a channel, or a row's values on an even grid.
    ChannelNode spectrumSource(const SpectrumEntry &entry);
    Row row(const MeasurementEntry &entry); ///< after checkUse()
    /// What an entry's results follow from: its own fields and all that they refer to, down to the bytes of captures.
    /// No input can be left out, since it is made from what is said of the fields. Empty: a capture cannot be read.
    std::string definition(const std::string &id);
    /// The result of an entry, kept by its definition. `make(lasts)` sets `lasts` to false where it would not be the
    /// same the next time.
    template <typename Result>
    Result kept(const std::string &id, const std::function<Result(bool &lasts)> &make)
    {
        bool lasts = true;
        const auto whole = [&] { return make(lasts); };
        const std::string key = definition(id);
        if (key.empty()) return whole();
        const auto result = m_cache.get<Result>(key, whole, m_first);
        if (!lasts) m_cache.drop(key);
        return *result;
    }
    template <typename Result>
    bool isKept(const std::string &id)
    {
        const std::string key = definition(id);
        return !key.empty() && m_cache.peek<Result>(key);
    }
    /// The same, but that only what lies in this span of time (s) is looked at. Captures are those that this one
    /// opened.
    Evaluation within(double from, double to) const;
    /// The same for first answers, of which nobody asks how certain they are. `estimates`: channels may be estimated
    /// where they would take a scan of the record.
    Evaluation forFirstAnswers(bool estimates) const;
    /// What it gives is added up with that of other captures.
    void addUp() { m_addsUp = true; }
    /// The unit of a channel, also of one that cannot be read.
    std::string unitOf(const std::string &channelId);

    /// Throws Error where the document asks for what nobody could compute: unknown quantities, missing settings; with
    /// `masks` as well for those that cannot be read, which else are told where they are tested.
    void checkUse(bool masks);

    bool ofAll() const { return !m_window && !m_first; } ///< neither of a part nor for first answers
    const Document &document() const { return m_document; }
    Progress &progress() { return m_progress; }

private:
    /// Whether stretches of a record are told apart, from which uncertainties follow: not for first answers, nor where
    /// what is added up has no row that asks for them.
    bool tellsUncertainties() const { return !m_first && !(m_addsUp && m_document.measurements.empty()); }
    /// Throw Unmeasurable.
    void testEye(const MaskEntry &entry, MaskRun &run);
    /// `at`: the overlay at whose edges it is laid.
    void testEdges(const MaskEntry &entry, const EyeEntry &at, MaskRun &run);
    MaskDefinition definitionOf(const MaskEntry &entry) const;
    /// The same over the whole record and exact, where this is of a part of it or for first answers. Captures are
    /// those that this one opened.
    template <typename Ask>
    auto overAll(const Ask &ask)
    {
        if (ofAll()) return ask(*this);
        Evaluation all = *this;
        all.m_window.reset();
        all.m_first = all.m_estimates = false;
        all.m_definitions.clear();
        std::erase_if(all.m_channels, [](const auto &known) { return known.second.estimated; });
        return ask(all);
    }

    Row rowOfAll(const MeasurementEntry &entry); ///< nothing kept out, nothing judged
    Row wholeRow(const MeasurementEntry &entry); ///< the same of the whole record
    /// Of a row, a clock, or an eye, where its laps begin; nothing for another id. Throws Error where there are none to
    /// be had.
    std::optional<FormulaMoments> momentsNamed(const std::string &id);
    /// Instants of a clock's source, and which unit interval each belongs to.
    struct Timed {
        Node<EdgeList> edges;
        Node<SymbolTiming> timing;
    };
    ClockNode forwarded(const ClockEntry &entry);
    /// A row's clock, or a fixed one found from its source.
    ClockNode carrierClock(const MeasurementEntry &entry);
    std::optional<double> phaseNoiseFloor(const MeasurementEntry &entry, const PhaseNoise &found, double unitInterval);
    /// What of a record an eye folds, but for its levels and how finely: by a clock; or what lies about edges.
    EyeNode byClock(const EyeEntry &entry);
    EyeNode aboutEdges(const EyeEntry &entry);
    /// The edges that an overlay or a template is laid at, on the axis of its channel. Throws Unmeasurable.
    Node<EdgeList> triggers(const EyeEntry &overlay);
    void foldOverlay(const EyeEntry &entry, EyeNode &node);
    SymbolLevels eyeLevels(const EyeEntry &entry, const ClockEntry &clockEntry, const EyeNode &node,
                           const std::string &key);
    std::string symbolEdgesKey(const ClockEntry &entry, const std::string &channelKey, SampleRange samples);
    /// Throws Unmeasurable.
    Node<SymbolEdges> symbolEdges(const ClockEntry &entry);
    std::shared_ptr<const SymbolLevels> levelsOf(const ClockEntry &entry); ///< null of two
    /// The instants that a clock's source is timed by; where they are in the cache.
    Node<EdgeList> crossings(const ClockEntry &entry);
    std::optional<Node<EdgeList>> knownCrossings(const ClockEntry &entry);
    Node<SymbolTiming> timing(const ClockEntry &entry, const Node<EdgeList> &crossings);
    /// Of the whole record, where its crossings are known already.
    std::optional<Timed> knownTimed(const ClockEntry &entry);
    Timed timed(const ClockEntry &entry);
    Node<Pyramid> pyramid(const SampleSource &source, const std::string &key, bool sketchWillDo);
    /// A row but for its id and verdict. `lasts`: it would be the same the next time.
    Row measured(const MeasurementEntry &entry, const Quantity &quantity, bool &lasts);
    const Document &m_document;
    std::shared_ptr<const EntryIndex> m_entries;
    std::filesystem::path m_base, m_masks;
    NodeCache &m_cache;
    Progress &m_progress;
    std::map<std::string, ChannelNode> m_channels;
    std::map<std::string, Node<Capture>> m_captures;
    /// As it was read first, with the reason where it could not be.
    struct ReadProgram {
        ProgramContent content;
        std::shared_ptr<const std::string> bytes;
        std::string error;
    };
    const ReadProgram &program(const ProgramEntry &entry);
    std::string programKey(const ProgramEntry &entry); ///< throws Error where it cannot be read
    SourcePtr run(const ProgramEntry &entry, ProgramTask task);
    /// What a formula or a part of it makes, kept under its key; for first answers perhaps an estimate, under another.
    /// `estimated` becomes true where it is one, and is what `make` sets.
    std::pair<std::string, SourcePtr> made(const std::string &key, bool &estimated,
                                           const std::function<SourcePtr()> &make);
    /// What fails is not tried again: it may take its time.
    SourcePtr madeOnce(const std::string &key, const std::function<SourcePtr()> &make);
    std::map<std::string, ReadProgram> m_programs;
    std::map<std::string, bool> m_onProgram; ///< by id
    std::map<std::string, Error> m_spoilt;
    std::map<std::string, std::string> m_definitions;  ///< by id
    std::optional<std::pair<double, double>> m_window; ///< s; none: everything
    bool m_addsUp = false;
    bool m_first = false, m_estimates = false; ///< answers, and these of channels that may be estimated
};

} // namespace fulvex
