#pragma once

#include "results.h"

#include <optional>
#include <string>
#include <utility>
#include <vector>

namespace fulvex {

/// A question about results: where in the record is that? It is about an entry of the document by its id (a capture, a
/// measurement, an eye, a mask), and of that only about what lies within the given spans, each from its first value
/// to before its second.
struct Question {
    using Span = std::optional<std::pair<double, double>>;
    std::string id;
    Span times = {};     ///< s
    Span values = {};    ///< of a measurement's occurrences, its unit; of an eye's box, the channel's unit
    Span phases = {};    ///< of an eye's box, unit intervals from a unit interval's first crossing on; of an overlay
                         ///< at edges s from the edge
    bool byTime = false; ///< occurrences in the order of time, not farthest from the mean first
    /// Where more answer by time than are wanted: those before and after that moment, s; else the first ones.
    std::optional<double> around = {};
    /// Of a measurement: those at the crests of its trend's component of that frequency, Hz.
    std::optional<double> frequency = {};
    /// Of a spectrum: where in time what lies between them, Hz, is strongest.
    Span frequencies = {};
    bool ofRun = false;                   ///< of all captures of a run, whose results these are
    std::string symbols = {};             ///< of an eye: where these follow on each other, see placesOf()
    std::optional<std::size_t> part = {}; ///< of a jitter budget: the piece that moments are asked of; of phase noise
                                          ///< the line
    bool narrowed() const { return times || values || phases || frequency || frequencies || part || !symbols.empty(); }
    bool operator==(const Question &) const = default;
};

/// A span of the record, as it is shown on a channel.
struct RecordSpan {
    double from = 0, to = 0; ///< s; as long as nothing: it has no place
    std::string channel;
    bool failure = false;
    std::vector<double> instants = {}; ///< s, between which something was measured, or at which
    std::string words = {};            ///< what it measures
    std::string capture = {};          ///< of a run; empty: the one that is shown
};

/// The moments that answer a question, worst first: of a measurement those that are kept out of it, then its
/// occurrences, farthest from the mean first; of
/// a mask, or an eye with one, what failed it, deepest first; of an eye's box the unit intervals that pass through it,
/// in time; of a band of a spectrum when it is strongest; of a capture what its check found.
struct Evidence {
    enum class Of { nothing, findings, occurrences, failures, passes, strongest } of = Of::nothing;
    std::string title;               ///< what the moments are of
    std::string unit;                ///< of the values
    std::string none;                ///< why there are no moments, where there are none
    std::string order;               ///< of occurrences, in words
    std::string pattern, rhythm;     ///< of failures and passes: what symbols they share, how they lie to each other
    std::int64_t count = 0, all = 0; ///< that answer, of how many
    double step = 0;                 ///< s, to which a moment can be told
    double mean = 0, std = 0;        ///< of all occurrences, in `unit`
    bool atEdges = false;            ///< failures, passes: about edges, which have neither unit intervals nor symbols
    struct Item {
        double time = 0; ///< s
        RecordSpan place;
        double value = 0;              ///< occurrences, passes: `unit`; strongest: rms of the band; failures: how
                                       ///< deep, in areas
        std::int64_t unitInterval = 0; ///< failures, passes
        std::string symbols;           ///< failures, passes: those about it, see SymbolContext
        std::string words;             ///< failures: the area; findings: what was found; kept out: why
        std::string keptOutBy;         ///< occurrences: id of the entry that keeps it out; empty: it counts
        bool warning = false;          ///< findings
    };
    std::vector<Item> items; ///< as many as were wanted
};

/// O(n) in the occurrences; for a box a walk over the eye's samples on all cores. A cancel of `progress` ends it with
/// Cancelled.
Evidence evidenceFor(const Results &results, const Question &question, std::size_t wanted, Progress &progress);

/// Where in time the occurrences of a measurement lie, s, that are farther from its mean than one would expect in so
/// many of a normal distribution (Chauvenet's criterion: less than half an occurrence); the farthest of them, at most
/// `wanted`.
std::vector<double> outliersOf(const Results &results, const std::string &row, std::size_t wanted, Progress &progress);

/// Whether what the answer rests on is not the last word.
bool isPending(const Results &results, const Question &question);

} // namespace fulvex
