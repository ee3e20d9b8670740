#pragma once

#include <QString>
#include <QStringList>
#include <vector>

namespace fulvex {

/// A heading of the manual and what stands below it, up to the next.
struct ManualSection {
    QString file;   ///< in the folder of docs: "guide.md"
    QString anchor; ///< of the heading in that file: "one-mask-by-hand"
    QString title;
    int level = 1;
    QString words; ///< without marks
    QString place() const { return file + "#" + anchor; }
};

/// What a heading is found by behind a # in a link.
QString anchorOf(const QString &heading);

/// Files of the manual in the order in which one reads them, and what each is called.
const std::vector<std::pair<QString, QString>> &manualFiles();
QString manualFolder();

/// All sections of the installed manual, in its order; read once.
const std::vector<ManualSection> &manualSections();

/// Those in which words (beginnings of words, in any case) are found, best first: in the title before in the text.
/// What one asks with ("how do I …") counts for nothing.
std::vector<const ManualSection *> sectionsAbout(const QString &typed);

/// The words of a question that say what it is about; empty for one that is none ("how", "what", "where", "why", "?").
QStringList askedFor(const QString &typed);

} // namespace fulvex
