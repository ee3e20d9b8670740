#pragma once

#include "field.h"

namespace fulvex {

/// A test plan that is worked down in this project, see Plan: how far that went.
struct PlanEntry {
    std::string id, file;             ///< file: the plan's own
    Reasons skipped;                  ///< why steps are skipped, by their ids
    std::vector<std::string> without; ///< tests that are not to be run, as "step.test"
    bool operator==(const PlanEntry &) const = default;
};

/// A step of a plan done once, with captures. One done again is another; all are kept.
struct AttemptEntry {
    std::string id, plan, step;
    std::string when;                  ///< UTC, as 2026-11-25T09:12:00Z
    std::vector<std::string> captures; ///< as "slot=file", several files of a slot one after the other
    std::vector<std::string> sha256;   ///< of these files, in the same order
    Reasons found;                     ///< what was found then, in words, by the tests' ids
    bool operator==(const AttemptEntry &) const = default;
    /// A capture's slot and file.
    static std::pair<std::string, std::string> parted(const std::string &capture);
};

std::vector<Field> fieldsOf(PlanEntry &entry);
std::vector<Field> fieldsOf(AttemptEntry &entry);
void checkEntry(const AttemptEntry &entry, const std::string &where);

} // namespace fulvex
