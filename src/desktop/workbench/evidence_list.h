#pragma once

#include "workbench.h"

#include <QString>
#include <vector>

namespace fulvex {

/// The moments behind what is selected, worst first.
struct EvidenceList {
    QString heading, facts, empty;
    QStringList columns;
    struct Item {
        QStringList cells;
        Moment moment; ///< as long as nothing: it has no place
    };
    std::vector<Item> items;
    static constexpr std::size_t kept = 1000;
};

/// Of a measurement: its occurrences, farthest from the mean first. Of a mask or an eye with one: its failures, deepest
/// first. O(n) in the occurrences; not for the interface thread.
/// Whether what the evidence of a selection rests on is not the last word.
bool isPending(const Results &results, const Selection &selection);

EvidenceList evidenceOf(const Results &results, const Selection &selection);

} // namespace fulvex
