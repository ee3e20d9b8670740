#pragma once

#include "clock_symbols.h"
#include "document.h"
#include "eye_box.h"
#include "eye_quantities.h"
#include "jitter_make_up.h"
#include "numbered_edges.h"
#include "phase_noise.h"
#include "population.h"
#include "power_spectrum.h"
#include "pulse_shape.h"
#include "symbol_errors.h"

#include <exception>
#include <span>
#include <string>

namespace fulvex {

/// Rising, falling or both as a document's word says; `standard` for an empty one.
EdgeChoice choiceOf(const std::string &word, EdgeChoice standard);

/// A reason not to measure, thrown by QuantityInputs and turned into an unmeasurable row.
struct Unmeasurable final : std::exception {
    explicit Unmeasurable(std::string why = {}) : reason(std::move(why)) {}
    const char *what() const noexcept override { return reason.c_str(); }
    std::string reason;
};

/// Throws Unmeasurable where an eye has fewer openings than to have that one.
void needOpening(std::optional<int> opening, std::size_t openings);

/// What a quantity may ask for. Each getter computes once (see NodeCache), notes in the row's provenance what was
/// used, and throws Unmeasurable with a reason when it is not to be had; as they stand here, nothing is.
class QuantityInputs {
public:
    virtual ~QuantityInputs() = default;
    virtual const MeasurementEntry &entry() const = 0;
    virtual Progress &progress() = 0;
    /// Of the row's channel, in its region.
    virtual TimeAxis axis() { throw Unmeasurable{}; }
    virtual SourcePtr samples() { throw Unmeasurable{}; }
    virtual SampleRange range() { throw Unmeasurable{}; }
    virtual std::shared_ptr<const AmplitudeSurvey> survey() { throw Unmeasurable{}; }
    virtual double resolution() { throw Unmeasurable{}; } ///< of the stored values, in the channel's unit; 0 unknown
    virtual std::string unit() { return {}; }             ///< the channel's
    virtual double noise()
    {
        throw Unmeasurable{};
    } ///< from sample to sample, rms, as sampleNoise() of its survey tells
    /// Averaged, by the window of seven terms, in segments as long as the region gives several of.
    virtual std::shared_ptr<const PowerSpectrum> spectrum() { throw Unmeasurable{}; }
    virtual ReferenceLevels levels() { throw Unmeasurable{}; }
    virtual StateUncertainty stateUncertainty() { throw Unmeasurable{}; } ///< of their states
    virtual bool percentLevels() { return false; }                        ///< the levels lie in percent of the states
    virtual std::shared_ptr<const EdgeList> edges() { throw Unmeasurable{}; }
    virtual std::shared_ptr<const Transitions> transitions(EdgeChoice) { throw Unmeasurable{}; }
    virtual std::shared_ptr<const Aberrations> aberrations(EdgeChoice) { throw Unmeasurable{}; } ///< of those
    /// The same of the channel that the row's "to" names.
    virtual QuantityInputs &to() { throw Unmeasurable{}; }
    /// Of both channels, where they overlap in time; in the row's region.
    using Surveys = std::pair<std::shared_ptr<const AmplitudeSurvey>, std::shared_ptr<const AmplitudeSurvey>>;
    virtual Surveys surveysInCommon() { throw Unmeasurable{}; }
    virtual std::shared_ptr<const Clock> clock() { throw Unmeasurable{}; }
    virtual std::shared_ptr<const ClockSymbols> symbols() { throw Unmeasurable{}; } ///< of clock()
    /// Of some of those, against what the row expects.
    virtual std::shared_ptr<const SymbolErrors> symbolErrors(SampleRange /*unitIntervals*/) { throw Unmeasurable{}; }
    virtual double rateUncertainty() { throw Unmeasurable{}; } ///< of clock()
    /// Of clock()'s edges in the row's region, as its settings say.
    virtual std::shared_ptr<const JitterMakeUp> jitter() { throw Unmeasurable{}; }
    virtual std::shared_ptr<const JitterTails> jitterTails() { throw Unmeasurable{}; } ///< of that
    /// By the row's clock, or by a fixed one found from its channel.
    virtual std::shared_ptr<const PhaseNoise> phaseNoise() { throw Unmeasurable{}; }
    virtual std::shared_ptr<const JitterEdges> phaseEdges() { throw Unmeasurable{}; } ///< that it would be of
    enum class EyeLook { fold, crossings, rises, falls };
    virtual EyeQuantities eye(EyeLook) { throw Unmeasurable{}; } ///< with that beside its fold
    /// What lies in a box of the row's eye, see eye_box.h: levels, or times.
    virtual Population eyeBox(const EyeBox &, bool /*levels*/) { throw Unmeasurable{}; }
    /// Whether a sample position of axis() lies in the region.
    virtual bool inRegion(double /*position*/) { return true; }
    /// Adds to the row's provenance what was done how.
    virtual void note(const std::string & /*what*/, const std::string & /*how*/) {}
    /// The entry's "edge", or the quantity's own default.
    EdgeChoice edge(EdgeChoice standard) const;
    EdgeChoice toEdge(EdgeChoice standard) const;
};

enum class Needs { source, clock, eye };

/// One line of the table of quantities. The table drives the interface, the command line, the JSON names and the
/// user guide's list.
struct Quantity {
    const char *name;  ///< as the document names it
    const char *title; ///< for people
    const char *unit;  ///< null where it is the channel's
    Needs needs;
    Measured (*measure)(QuantityInputs &in);
    /// Keys of a row's settings that it is made with beside what it needs; any other means nothing to it.
    const char *settings = "";
    const char *per = ""; ///< behind the channel's unit: "/s"
    /// Whether a row's setting with that key has a meaning for it.
    bool takes(std::string_view key) const;
};

} // namespace fulvex
