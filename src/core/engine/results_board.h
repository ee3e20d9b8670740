#pragma once

#include "results.h"

#include <memory>
#include <mutex>
#include <optional>

namespace fulvex {

/// Where an evaluation puts what is ready, for whoever looks at it meanwhile. Thread-safe.
class ResultsBoard {
public:
    /// `older`: what was shown till now, may be null. Its entries stand in, marked as pending, for those that are not
    /// ready yet. Call it again to begin anew.
    void begin(std::shared_ptr<const Document> document, std::shared_ptr<const Results> older);
    /// Puts the result of the entry at that index of the document's list; one that is there is replaced.
    void put(std::size_t index, CaptureResult result);
    void put(std::size_t index, ChannelResult result);
    void put(std::size_t index, ClockResult result);
    void put(std::size_t index, Row result);
    void put(std::size_t index, EyeResult result);
    void put(std::size_t index, MaskRun result);
    /// All that is known by now in the document's order, with the older stand-ins.
    Results all() const;
    /// The same, or nothing where nothing was put since the last time.
    std::optional<Results> news();

private:
    template <typename Result>
    void place(std::vector<std::optional<Result>> &slots, std::size_t index, Result &&result);
    Results collected() const;
    mutable std::mutex m_mutex;
    std::shared_ptr<const Document> m_document;
    std::shared_ptr<const Results> m_older;
    std::vector<std::optional<CaptureResult>> m_captures;
    std::vector<std::optional<ChannelResult>> m_channels;
    std::vector<std::optional<ClockResult>> m_clocks;
    std::vector<std::optional<Row>> m_rows;
    std::vector<std::optional<EyeResult>> m_eyes;
    std::vector<std::optional<MaskRun>> m_masks;
    bool m_changed = false;
};

} // namespace fulvex
