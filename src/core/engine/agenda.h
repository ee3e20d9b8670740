#pragma once

#include "evaluation.h"
#include "results_board.h"

#include <map>
#include <set>
#include <utility>

namespace fulvex {

/// Computes all of a document in the order in which it is waited for, and puts each result on the board as it is ready:
/// captures and traces first, then first answers of parts of the record to what is in view, then that in full, then the
/// Ledger and everything else, checks and hashes last.
class Agenda {
public:
    Agenda(Evaluation &evaluation, const Engine::Options &options, ResultsBoard &board);
    /// Throws Error for a document that cannot be used, and Cancelled.
    void run();

private:
    void look();
    void firstPictures(); ///< of eyes in view
    void firstSpectra();  ///< in view
    void firstNumbers();  ///< of rows in view
    void tell() const;
    /// What takes all bytes of the captures, side by side; captureResult() tells it.
    void hashAndCheck();
    void addJitter();
    /// What of the view is first answered together, as a document of its own.
    struct Glimpse {
        std::shared_ptr<Document> of = std::make_shared<Document>();
        void addEye(const EyeEntry &eye);
        void addRow(const MeasurementEntry &row, const EyeEntry *eye);
    };
    using Glimpses = std::map<std::pair<double, double>, Glimpse>; ///< by the span that they are asked of
    void glance(const Glimpses &glimpses);
    /// Computes it of parts spread over a span of time, where that is much less than the whole of it.
    void glance(const Glimpse &glimpse, std::pair<double, double> span);
    std::pair<double, double> spanOf(const std::string &channel, const std::string &region);
    double intervalOf(const std::string &channel); ///< s; 0 where there is none
    void put(Evaluation &evaluation, const ChannelEntry &entry, bool sketchWillDo);
    void compute(const ChannelEntry &entry);
    void compute(const ClockEntry &entry);
    void compute(const EyeEntry &entry);
    void compute(const MaskEntry &entry);
    void compute(const MeasurementEntry &entry);
    void compute(const SpectrumEntry &entry);
    void compute(const BudgetEntry &entry);
    void compute(const PhaseNoiseEntry &entry);
    template <typename Entry>
    void once(const Entry &entry);
    template <typename Entry>
    void onceOf(const std::vector<Entry> &entries, const std::string &id);

    Evaluation &m_evaluation;
    std::optional<Evaluation> m_first; ///< answers
    const Document &m_document;
    const Engine::Options &m_options;
    ResultsBoard &m_board;
    std::set<std::string> m_done; ///< in full
};

} // namespace fulvex
