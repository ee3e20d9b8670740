#pragma once

#include "workbench.h"

namespace fulvex {

/// What traces are painted from besides view, selection and look: tells whether there is anything new to paint. Results
/// and documents follow each other quickly while something is dragged, and most change nothing of a trace.
class PaintedFrom {
public:
    enum class With { traces, clocksAndMasks };
    /// Takes what is there now; whether it is other than the last time.
    bool changes(const Workbench &bench, With with);

private:
    struct Inputs {
        std::vector<const void *> results; ///< of channels, the selected row; clocks and masks where they are shown
        std::vector<ChannelEntry> channels;
        std::vector<RegionEntry> regions;
        std::vector<MarkerEntry> markers;
        std::vector<NoteEntry> notes;
        std::vector<SheetEntry> sheets;
        bool operator==(const Inputs &) const = default;
    };
    Inputs m_inputs;
};

} // namespace fulvex
