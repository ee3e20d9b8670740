#pragma once

#include "results.h"
#include "setting_differences.h"

#include <memory>
#include <optional>
#include <string>
#include <vector>

namespace fulvex {

/// A number of a result, as far as another one is laid beside it.
struct ComparedNumber {
    std::string id, quantity, title, unit;
    std::string reason;                ///< not empty: it is unmeasurable, and why
    std::optional<double> value;       ///< the mean; unit
    std::optional<double> uncertainty; ///< standard; unit
    Verdict verdict = Verdict::none;
};

/// A result that is compared: its numbers and what they were made by.
struct ComparedResult {
    std::string name;                         ///< for people: of the file that it is from
    std::string version;                      ///< of the program that made it
    std::shared_ptr<const Document> document; ///< null: it does not hold it
    struct Record {
        std::string id, file, sha256;
    };
    std::vector<Record> captures;
    std::vector<ComparedNumber> rows, masks; ///< of a mask: the unit intervals that failed
};

ComparedResult comparedOf(const Results &results, const std::string &name, const std::string &version);

/// Two results side by side: what is set differently first.
struct Comparison {
    struct Pair {
        ComparedNumber first, second;
        std::optional<double> difference;  ///< second - first; unit
        std::optional<double> uncertainty; ///< of that: both together, as independent (JCGM 100:2008, 5.1.2)
        std::optional<double> times;       ///< the difference in those
        bool setDifferently = false;       ///< a setting that the number follows from differs
        /// More than chance makes of two measurements of the same thing, at 95 %: JCGM 100:2008, 6.3.3.
        bool differs() const;
        bool verdictDiffers() const { return first.verdict != second.verdict; }
        bool isOther() const { return differs() || verdictDiffers(); }
    };
    std::string firstName, secondName, firstVersion, secondVersion;
    std::vector<SettingDifference> settings;
    std::vector<Pair> rows, masks;
    std::vector<std::string> onlyFirst, onlySecond; ///< ids of rows and masks that have no other
    std::vector<std::string> otherCaptures;         ///< ids of captures that are not the same file
    bool settingsKnown = true;                      ///< false: a result does not hold what it was made by
    /// A verdict or a number differs, or is there in one alone.
    bool differs() const;
    /// Ids of the numbers that stand on a setting and differ, in the first result.
    std::vector<std::string> movedBy(const SettingDifference &setting) const;
};

/// Rows by their ids; of those left, by quantity and what they are of, where that is clear.
Comparison compared(const ComparedResult &first, const ComparedResult &second);

/// What it comes to, in a sentence or two: why the numbers differ.
std::string summaryOf(const Comparison &comparison);

} // namespace fulvex
