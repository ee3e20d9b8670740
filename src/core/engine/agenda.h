#pragma once

#include "evaluation.h"
#include "results_board.h"

#include <set>

namespace fulvex {

/// Computes all of a document in the order in which it is waited for, and puts each result on the board as it is ready:
/// captures and traces first, then a first picture of what is in view, then that in full, then the Ledger and
/// everything else, checks and hashes last.
class Agenda {
public:
    Agenda(Evaluation &evaluation, const Engine::Options &options, ResultsBoard &board);
    /// Throws Error for a document that cannot be used, and Cancelled.
    void run();

private:
    void look();
    void firstPictures();
    void put(const ChannelEntry &entry, bool sketchWillDo);
    void compute(const ChannelEntry &entry);
    void compute(const ClockEntry &entry);
    void compute(const EyeEntry &entry);
    void compute(const MaskEntry &entry);
    void compute(const MeasurementEntry &entry);
    template <typename Entry>
    void once(const Entry &entry);
    template <typename Entry>
    void onceOf(const std::vector<Entry> &entries, const std::string &id);

    Evaluation &m_evaluation;
    const Document &m_document;
    const Engine::Options &m_options;
    ResultsBoard &m_board;
    std::set<std::string> m_done; ///< in full
};

} // namespace fulvex
