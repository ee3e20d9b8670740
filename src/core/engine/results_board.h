#pragma once

#include "results.h"

#include <memory>
#include <mutex>
#include <optional>
#include <tuple>

namespace fulvex {

/// Where an evaluation puts what is ready, for whoever looks at it meanwhile. Thread-safe.
class ResultsBoard {
public:
    /// `older`: what was shown till now, may be null. Its entries stand in, marked as pending, for those that are not
    /// ready yet. Call it again to begin anew.
    void begin(std::shared_ptr<const Document> document, std::shared_ptr<const Results> older);
    /// Puts the result of the entry at that index of the document's list; one that is there is replaced.
    template <typename Result>
    void put(std::size_t index, Result result)
    {
        const std::lock_guard lock(m_mutex);
        std::get<Slots<Result>>(m_slots)[index] = std::move(result);
        m_changed = true;
    }
    /// See Results::jitter.
    void putJitter(std::vector<JitterResult> jitter);
    /// All that is known by now in the document's order, with the older stand-ins.
    Results all() const;
    /// The same, or nothing where nothing was put since the last time.
    std::optional<Results> news();

private:
    template <typename Result>
    using Slots = std::vector<std::optional<Result>>;
    Results collected() const;
    mutable std::mutex m_mutex;
    std::shared_ptr<const Document> m_document;
    std::shared_ptr<const Results> m_older;
    std::tuple<Slots<CaptureResult>, Slots<ChannelResult>, Slots<ClockResult>, Slots<Row>, Slots<EyeResult>,
               Slots<MaskRun>, Slots<SpectrumResult>, Slots<BudgetResult>, Slots<PhaseNoiseResult>,
               Slots<ProgramStatus>>
        m_slots; ///< one an entry of the document's list
    std::vector<JitterResult> m_jitter;
    bool m_changed = false;
};

} // namespace fulvex
