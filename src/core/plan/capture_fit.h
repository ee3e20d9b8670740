#pragma once

#include "engine.h"
#include "plan.h"

namespace fulvex {

/// One thing that a capture has to be, and whether it is.
struct CaptureFit {
    std::string what, wanted, found; ///< in words: "sample rate", "8 GSa/s or more", "8.00 GSa/s"
    bool holds = false;
};

/// Looks at a capture in a slot: first what the file says, then, where that holds, its level, symbol rate and pattern
/// by the setup's own channels and clocks. `document`: the setup with the slot's file in its capture. What is found on
/// the way stays in the engine's cache. Of a capture that cannot be read one that says so. Throws Cancelled.
std::vector<CaptureFit> fitOf(const PlanSlot &slot, const Document &document, const std::filesystem::path &base,
                              Engine &engine, Progress &progress);

/// Whether all of them hold.
bool fits(const std::vector<CaptureFit> &checks);

} // namespace fulvex
