#pragma once

#include <QString>
#include <QStringList>
#include <string>
#include <vector>

namespace fulvex {

/// Of a widget: where the manual tells of it ("guide.md#evidence").
inline constexpr const char *manualProperty = "manual";

/// A term of the trade as docs/terms.md explains it: what it is, why one wants it, what it depends on.
struct Term {
    QString title, words;
    QStringList keys; ///< what it explains: a quantity ("rise_time"), a field ("clock.bandwidth"), a tile ("tile.eye")
    QString place() const; ///< in the manual
};

const std::vector<Term> &allTerms(); ///< in the order of the file

/// The term that explains something; a field of any entry is found by "*.key" as well. Null where none does.
const Term *termOf(const std::string &key);

/// For tooltips, in lines of a readable length; empty where nothing explains it. `before`: what is said first.
QString explained(const std::string &key, const QString &before = {});

} // namespace fulvex
