#pragma once

#include "document.h"

#include <filesystem>

namespace fulvex {

/// What a capture of a step has to be, so that no time is lost on one that is not. Fields that are empty ask nothing.
struct CaptureWants {
    std::optional<int> channels;                       ///< at least
    std::optional<double> sampleRate, length, samples; ///< samples/s; s; at least
    std::string levelOf;                               ///< a channel of the setup
    std::optional<double> levelLeast, levelMost;       ///< its unit, of its amplitude between states
    std::string rateOf;                                ///< a clock of the setup
    std::optional<double> symbolRate, ppm;             ///< Bd; how far it may be off
    std::string patternOf;                             ///< a clock of the setup
    std::optional<int> patternLength;                  ///< UI
    bool clipping = false;                             ///< it may be clipped
    bool operator==(const CaptureWants &) const = default;
};

/// A capture that a step needs: a slot for one file, or for several of the same thing.
struct PlanSlot {
    std::string id;    ///< unique in the plan: what files are given for
    std::string title; ///< for people
    std::string as;    ///< the setup's capture; empty: that of the same id
    int count = 1;     ///< files at least; several are added up
    CaptureWants wants;
    bool operator==(const PlanSlot &) const = default;
    const std::string &capture() const { return as.empty() ? id : as; }
};

/// A limit on a number of the setup, or the verdict on a mask, a budget or phase noise that carries its own.
struct PlanTest {
    std::string id, title;          ///< title: for people; empty: what it is of
    std::string of;                 ///< a row, mask, budget or phase noise of the setup
    std::string statistic = "mean"; ///< of a row's values: mean, std, min, max
    std::string unit;               ///< that the limit is in, for people's sake; empty, or the row's own
    LimitEntry limit;               ///< of a row
    std::string clause, condition;  ///< of the standard or the customer; what it holds under
    bool operator==(const PlanTest &) const = default;
};

/// What the operator does, which captures come of it, and what they are tested for.
struct PlanStep {
    std::string id, title;
    std::string text;    ///< what to do
    std::string picture; ///< a file beside the plan; may be empty
    std::string state;   ///< the device's, for people
    std::string setup;   ///< id of the document that it is measured by
    std::vector<PlanSlot> captures;
    std::vector<PlanTest> tests;
    bool operator==(const PlanStep &) const = default;
};

/// A document whose captures are filled in by a step's.
struct PlanSetup {
    std::string id;
    Document document;
    bool operator==(const PlanSetup &) const = default;
};

/// An acceptance test: steps worked down one after the other. A file of our own, see docs/plans.md.
struct Plan {
    std::string id, title, revision, source; ///< source: the standard or agreement that it follows
    std::vector<PlanSetup> setups;
    std::vector<PlanStep> steps;
    bool operator==(const Plan &) const = default;
    const PlanStep *step(const std::string &name) const { return findEntry(steps, name); }
    /// The step that has a slot; null where none has.
    const PlanStep *stepOf(const std::string &slot) const;
};

/// The file of a setup's capture, which a step's slot fills.
constexpr const char *unfilledFile = "(a step's capture)";

std::vector<Field> fieldsOf(PlanSlot &slot);
std::vector<Field> fieldsOf(PlanTest &test);
std::vector<Field> fieldsOf(PlanStep &step);
std::vector<Field> fieldsOf(Plan &plan);

/// Parses and checks: ids, what tests and slots refer to, and every setup as a project is checked. Throws Error:
/// `name`, the JSON path, what is wrong, what would mend it.
Plan parsePlan(const std::string &json, const std::string &name);
std::string planText(const Plan &plan);
Plan loadPlan(const std::filesystem::path &file);

constexpr const char *planEnding = ".fulvexplan";

} // namespace fulvex
