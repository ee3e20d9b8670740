#pragma once

#include "node_cache.h"
#include "progress.h"
#include "results_board.h"

#include <filesystem>
#include <functional>
#include <optional>
#include <set>

namespace fulvex {

/// Turns a document and its captures into results. One per program or window; what one evaluation computed, the next
/// finds in the cache as long as nothing it stands on has changed. evaluate() may be called from any one thread at a
/// time and works on all cores.
class Engine {
public:
    struct Options {
        bool pyramids = false;                            ///< what trace views need
        std::optional<std::set<std::string>> traces = {}; ///< of these channels only; none given: of all
        bool sketches = false;       ///< of long records a sketch will do at first, where no pyramid is kept
        bool fingerprints = false;   ///< SHA-256 of the capture files
        bool brokenMasksStop = true; ///< a mask that cannot be read ends it; else that mask alone says why
        bool check = false;          ///< the capture check
        bool mergeable = false;      ///< what accumulated() needs
        bool clockFacts = true;      ///< what makes a clock doubtful, and what its symbols repeat
        /// What is in view, most wanted first: ids of entries. It is computed before the rest, and eyes among it have a
        /// first picture of parts of the record before that.
        std::vector<std::string> first = {};
        std::function<void()> news = {};     ///< called when traces, then first pictures of eyes, are on the board
        std::function<void()> answered = {}; ///< called once all first answers are
        std::shared_ptr<const Results> older = {}; ///< what stands in for results that are not ready (see ResultsBoard)
    };
    /// `masks`: folder of the shipped masks. `budget`: bytes that the cache keeps to (see NodeCache).
    explicit Engine(std::filesystem::path masks, std::size_t budget = NodeCache::defaultBudget());
    /// `base`: folder that relative capture files are relative to. Each capture is opened once and hashed as it was
    /// read; one that is written to meanwhile becomes an error, with all that stands on it. Throws Error for a document
    /// that cannot be used (unknown quantity, missing mask) and Cancelled; a capture that cannot be read becomes an
    /// error in the results, and what depends on it unmeasurable. What is ready before the end is put on the board.
    Results evaluate(const Document &document, const std::filesystem::path &base, const Options &options,
                     Progress &progress, ResultsBoard *board = nullptr);
    /// Forgets what was computed, and lets the files go.
    void clear() { m_cache.clear(); }
    const std::filesystem::path &masks() const { return m_masks; }
    const NodeCache &cache() const { return m_cache; }

private:
    std::filesystem::path m_masks;
    NodeCache m_cache;
};

/// The results of several runs of one document (several captures in one capture's place) as one: populations are laid
/// one after the other, eyes and masks add up, one-number quantities become a population of one value per run.
enum class Told { now, later }; ///< later: what follows from sums that are added to others yet is left out
Results accumulated(const std::vector<Results> &runs, Told told = Told::now);

/// The finding about a clock of several captures whose rates differ by much.
constexpr const char *unlikeCaptures = "unlike captures";

/// Verdict of a row's mean against a limit; a limit on what could not be measured counts as failed.
Verdict verdictOf(const Row &row, const LimitEntry &limit);

} // namespace fulvex
