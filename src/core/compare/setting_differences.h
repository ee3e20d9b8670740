#pragma once

#include "document.h"

#include <string>
#include <vector>

namespace fulvex {

/// One thing that two documents have set differently, and that numbers follow from.
struct SettingDifference {
    EntryKind kind = EntryKind::none; ///< of the entry that it stands in
    std::string of;                   ///< that entry's name: its id in the first document, in the second where only
                                      ///< that has it
    std::string key;                  ///< in the document, its group before it: "import.separator"
    std::string setting;              ///< for people: "bandwidth"
    std::string first, second;        ///< for people, with units
    bool judges = false;              ///< verdicts alone follow from it
    std::vector<std::string> rows;    ///< what stands on it, by id in the first document
    /// The entries that differ so, as (id in the first document, id in the second); the same where one is shared.
    std::vector<std::pair<std::string, std::string>> entries;
};

/// The key of a setting in an entry that is no field of it: spans that other entries keep out of it.
constexpr const char *keptOutKey = "kept_out";

/// The key of a field as a SettingDifference names it, its group before it.
std::string wholeKeyOf(const Field &field);

/// Of two fields with the same key the entries that they refer to, side by side: one by one where they are as many;
/// of formulas what both name first, then the rest in order.
std::vector<std::pair<std::string, std::string>> pairsBehind(const Field &first, const Field &second);

/// The field as people read it: with its unit, or what it means that it is empty. `unit`: of a field that has another
/// one's.
std::string wordsOf(const Field &field, const std::string &unit);

/// What two documents set differently of all that an entry of the first and one of the second stand on, down to how
/// captures are read, but for which files they are and what they are called. Entries that are referred to alike are
/// compared by what they hold, not by their ids.
class SettingDifferences {
public:
    SettingDifferences(const Document &first, const Document &second);
    /// Looks at a pair; whether anything differs that its number follows from. `row`: what stands on it; of several
    /// pairs each difference is told once.
    bool add(const std::string &first, const std::string &second, const std::string &row);
    /// In the order in which they were found.
    const std::vector<SettingDifference> &found() const { return m_found; }

private:
    struct Side {
        Document document; ///< where the level set that is always there stands among the others
        EntryIndex entries;
        explicit Side(const Document &from);
    };
    using Pair = std::pair<std::string, std::string>;
    /// Of a pair of entries: what differs in it or behind it, places in m_found.
    std::vector<std::size_t> differencesOf(const Pair &pair, std::vector<Pair> &seen);
    /// Of a pair of rows: what they are judged by.
    std::vector<std::size_t> limitsOf(const Pair &pair);
    void give(const std::vector<std::size_t> &differences, const std::string &row);
    std::string wordsIn(const Side &side, const std::string &id, const Field &field, bool belongs) const;
    std::size_t note(const Pair &pair, EntryKind kind, const Field &field, std::string first, std::string second);
    std::string unitOf(const Side &side, const std::string &id, const Field &field) const;
    Side m_first, m_second;
    std::vector<SettingDifference> m_found;
};

} // namespace fulvex
