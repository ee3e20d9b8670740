#pragma once

#include "document.h"
#include "edge_finder.h"
#include "eye_quantities.h"
#include "numbered_edges.h"
#include "population.h"
#include "transition_finder.h"

#include <exception>
#include <span>
#include <string>

namespace fulvex {

/// A reason not to measure, thrown by QuantityInputs and turned into an unmeasurable row.
struct Unmeasurable final : std::exception {
    explicit Unmeasurable(std::string why = {}) : reason(std::move(why)) {}
    const char *what() const noexcept override { return reason.c_str(); }
    std::string reason;
};

/// What a quantity may ask for. Each getter computes once (see NodeCache), notes in the row's provenance what was
/// used, and throws Unmeasurable with a reason when it is not to be had.
class QuantityInputs {
public:
    virtual ~QuantityInputs() = default;
    virtual const MeasurementEntry &entry() const = 0;
    virtual TimeAxis axis() = 0;
    virtual AmplitudeStats stats() = 0;
    virtual double resolution() = 0; ///< of the stored values, in the channel's unit; 0 unknown
    virtual ReferenceLevels levels() = 0;
    virtual std::shared_ptr<const EdgeList> edges() = 0;
    virtual std::shared_ptr<const Transitions> transitions(EdgeChoice choice) = 0;
    virtual std::shared_ptr<const Clock> clock() = 0;
    virtual double rateUncertainty() = 0; ///< of clock()
    virtual EyeQuantities eye(bool withCrossings) = 0;
    virtual Progress &progress() = 0;
    /// Whether a sample position of axis() lies in the region.
    virtual bool inRegion(double position) = 0;
    /// The entry's "edge", or the quantity's own default.
    EdgeChoice edge(EdgeChoice standard) const;
};

enum class Needs { source, clock, eye };

/// One line of the table of quantities. The table drives the interface, the command line, the JSON names and the
/// user guide's list.
struct Quantity {
    const char *name;  ///< as the document names it
    const char *title; ///< for people
    const char *unit;  ///< null where it is the channel's
    Needs needs;
    Measured (*measure)(QuantityInputs &in); ///< null: of a later version
    /// Keys of a row's settings that it is made with beside what it needs; any other means nothing to it.
    const char *settings = "";
    const char *per = ""; ///< behind the channel's unit: "/s"
    /// Whether a row's setting with that key has a meaning for it.
    bool takes(std::string_view key) const;
};

std::span<const Quantity> quantities();
const Quantity *findQuantity(const std::string &name);

} // namespace fulvex
