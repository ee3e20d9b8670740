#pragma once

#include "results.h"

#include <functional>
#include <string>
#include <vector>

namespace fulvex {

/// One row of the Ledger as people read it; the same words on screen, in reports and on the terminal.
struct LedgerLine {
    std::string id, quantity, of, mean, spread, min, max, count, limit, verdict, uncertainty, last;
    Verdict state = Verdict::none;
    std::string reason; ///< why there is no number
    bool isMask = false;
    std::int64_t keptOut = 0; ///< moments that do not count
    bool pending = false;     ///< not the last word
    bool operator==(const LedgerLine &) const = default;
};

/// All measurements, then all masks.
std::vector<LedgerLine> ledgerLines(const Results &results);

/// The same for results that follow on each other: what did not change is not put into words again.
class LedgerLines {
public:
    const std::vector<LedgerLine> &of(const Results &results);

private:
    /// All that a line of a measurement follows from.
    struct Origin {
        MeasurementEntry entry;
        std::shared_ptr<const Measured> measured;     ///< null: it is not known yet
        std::shared_ptr<const PopulationTotal> total; ///< of several captures
        bool pending;
        Verdict verdict;
        std::string title, source, unit;
        bool operator==(const Origin &) const = default;
    };
    std::vector<Origin> m_origins;
    std::vector<LedgerLine> m_lines; ///< as many, and one a mask
};

/// Plain SI numbers, RFC 4180, one line a measurement and mask.
std::string measurementsCsv(const Results &results);

/// A table with aligned columns for the terminal, and below it why clocks, eyes and numbers are not to be had.
std::string terminalTable(const Results &results);

/// Lines of cells below each other, each column as wide as its widest as people see it; `isLeft(column)`: it begins at
/// the left, else it ends at the right.
std::string alignedText(const std::vector<std::vector<std::string>> &lines,
                        const std::function<bool(std::size_t)> &isLeft);

} // namespace fulvex
