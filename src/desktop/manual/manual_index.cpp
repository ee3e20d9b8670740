#include "manual_index.h"

#include "program_folders.h"

#include <QCoreApplication>
#include <QFile>
#include <QRegularExpression>
#include <QSet>
#include <algorithm>

namespace fulvex {

namespace {

std::vector<ManualSection> sectionsOf(const QString &name)
{
    std::vector<ManualSection> sections;
    QFile file(manualFolder() + "/" + name);
    if (!file.open(QIODevice::ReadOnly)) return sections;
    static const QRegularExpression heading("^(#{1,4}) (.*)$"), marks("[*`|]|!?\\[([^\\]]*)\\]\\([^)]*\\)");
    bool code = false;
    while (!file.atEnd()) {
        const QString line = QString::fromUtf8(file.readLine()).trimmed();
        if (line.startsWith("```")) code = !code;
        const auto found = code ? QRegularExpressionMatch() : heading.match(line);
        if (found.hasMatch()) {
            const QString title = QString(found.captured(2)).remove('`').remove("**");
            sections.push_back({name, anchorOf(title), title, int(found.captured(1).size()), {}});
        } else if (!sections.empty() && !line.isEmpty() && !line.startsWith("<!--")) {
            sections.back().words += QString(line).replace(marks, "\\1") + " ";
        }
    }
    return sections;
}

const QSet<QString> &emptyWords()
{
    static const QSet<QString> words{
        "how",  "do",   "does", "i",    "can", "could", "to",   "a",    "an",    "the",   "what",  "is",   "are", "it",
        "of",   "my",   "me",   "in",   "on",  "for",   "with", "this", "that",  "why",   "where", "when", "one", "you",
        "need", "want", "get",  "make", "and", "or",    "by",   "from", "there", "which", "its",   "would"};
    return words;
}

/// How well a text has a word, or a beginning of one, without its ending as well. 0: not at all.
int likeness(const QString &text, const QString &word)
{
    const auto has = [&](const QString &part, bool whole) {
        qsizetype at = -1;
        while ((at = text.indexOf(part, at + 1, Qt::CaseInsensitive)) >= 0) {
            const bool begins = at == 0 || !text[at - 1].isLetterOrNumber();
            const qsizetype behind = at + part.size();
            if (begins && (!whole || behind == text.size() || !text[behind].isLetterOrNumber())) return true;
        }
        return false;
    };
    if (has(word, true)) return 3;
    for (const char *ending : {"", "s", "e", "ed", "es", "ing"}) { // compare, compared, comparing
        const QString stem =
            word.endsWith(QLatin1String(ending)) ? word.chopped(qsizetype(qstrlen(ending))) : QString();
        if (stem.size() >= std::min<qsizetype>(word.size(), 4) && has(stem, false)) return 2;
    }
    return 0;
}

} // namespace

QString anchorOf(const QString &heading)
{
    QString anchor;
    for (const QChar letter : heading.toLower())
        if (letter.isLetterOrNumber())
            anchor += letter;
        else if (letter == ' ' || letter == '-')
            anchor += '-';
    return anchor;
}

const std::vector<std::pair<QString, QString>> &manualFiles()
{
    const auto tr = [](const char *words) { return QCoreApplication::translate("Manual", words); };
    static const std::vector<std::pair<QString, QString>> files{{"guide.md", tr("Guide")},
                                                                {"terms.md", tr("Terms")},
                                                                {"formulas.md", tr("Formulas")},
                                                                {"programs.md", tr("Programs as functions")},
                                                                {"plans.md", tr("Test plans")},
                                                                {"live.md", tr("Instruments")},
                                                                {"scale.md", tr("Many machines")},
                                                                {"automation.md", tr("For programs")},
                                                                {"methods.md", tr("What each number means")},
                                                                {"formats.md", tr("File formats")}};
    return files;
}

QString manualFolder()
{
    return QString::fromStdString((shareFolder() / "docs").string());
}

const std::vector<ManualSection> &manualSections()
{
    static const std::vector<ManualSection> all = [] {
        std::vector<ManualSection> sections;
        for (const auto &[file, title] : manualFiles())
            for (ManualSection &section : sectionsOf(file)) sections.push_back(std::move(section));
        return sections;
    }();
    return all;
}

QStringList askedFor(const QString &typed)
{
    static const QRegularExpression apart("[^\\w./+-]+", QRegularExpression::UseUnicodePropertiesOption);
    QStringList words = typed.toLower().split(apart, Qt::SkipEmptyParts);
    static const QSet<QString> asks{"how", "what", "where", "why", "when", "which", "can"};
    if (words.isEmpty() || !(asks.contains(words.front()) || typed.trimmed().endsWith('?'))) return {};
    words.removeIf([](const QString &word) { return emptyWords().contains(word); });
    return words;
}

std::vector<const ManualSection *> sectionsAbout(const QString &typed)
{
    QStringList words = askedFor(typed);
    const bool question = !words.isEmpty();
    if (!question) words = typed.toLower().split(' ', Qt::SkipEmptyParts);
    const char *first = typed.trimmed().startsWith("what", Qt::CaseInsensitive) ? "terms.md" : "guide.md";
    std::vector<std::pair<int, const ManualSection *>> found;
    if (words.isEmpty()) return {};
    for (const ManualSection &section : manualSections()) {
        int rank = 0, missing = 0, titled = 0;
        for (const QString &word : words) {
            const int inTitle = likeness(section.title, word), inText = likeness(section.words, word);
            rank += 4 * inTitle + inText;
            missing += inTitle + inText == 0;
            titled += inTitle > 0;
        }
        // Of a question's words one may be another than the manual's; what is no question names what it is about.
        if (missing > (question && words.size() > 2 ? 1 : 0) || (!question && titled == 0)) continue;
        found.emplace_back(rank - 8 * missing + (section.file == first ? 4 : 0), &section);
    }
    std::stable_sort(found.begin(), found.end(), [](const auto &a, const auto &b) { return a.first > b.first; });
    std::vector<const ManualSection *> sections;
    for (const auto &[rank, section] : found) sections.push_back(section);
    return sections;
}

} // namespace fulvex
