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
    /// Which of the numbers that an entry gives: of a row its mean and how its values spread.
    enum class Part { whole, spread, total, random };
    EntryKind kind = EntryKind::measurement; ///< a row, a mask, a budget, phase noise
    std::string id, quantity, title, unit;   ///< id: of the entry that gives it
    std::string reason;                      ///< not empty: it is unmeasurable, and why
    Part part = Part::whole;
    std::optional<double> value;       ///< unit; of a mask the unit intervals that failed
    std::optional<double> uncertainty; ///< standard; unit
    Verdict verdict = Verdict::none;
};

/// For people, behind what gives it: ": spread"; nothing of a whole.
const char *partWords(ComparedNumber::Part part);
/// For people: "rise time", "rise time: spread".
std::string titleOf(const ComparedNumber &number);

/// The sample standard deviation of a row's values as a number of its own, for `mean` with `count` values and a
/// deviation; `scatter` is the standard uncertainty that their scatter leaves of their mean. Its own is
/// std / sqrt(2 (n - 1)) (JCGM 100:2008, E.4.3), n being how many independent values would have that scatter: where
/// neighbours are alike, these are fewer.
ComparedNumber spreadOf(const ComparedNumber &mean, std::int64_t count, double std, std::optional<double> scatter);

/// A result that is compared: its numbers and what they were made by.
struct ComparedResult {
    std::string name;                         ///< for people: of the file that it is from
    std::string version;                      ///< of the program that made it
    std::shared_ptr<const Document> document; ///< null: it does not hold it
    struct Record {
        std::string id, file, sha256;
    };
    std::vector<Record> captures;
    std::vector<ComparedNumber> numbers; ///< of rows, masks, budgets and phase noise, in that order
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
        /// Whether it is told where only what matters is: a spread that is the same says something only of values about
        /// nothing, whose mean says nothing.
        bool matters = true;
    };
    std::string firstName, secondName, firstVersion, secondVersion;
    std::vector<SettingDifference> settings;
    std::vector<Pair> pairs;                        ///< in the first result's order
    std::vector<std::string> onlyFirst, onlySecond; ///< ids of what has no other
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
