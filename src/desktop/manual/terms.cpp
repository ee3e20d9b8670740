#include "terms.h"

#include "manual_index.h"

#include <QFile>
#include <QHash>
#include <QRegularExpression>
#include <vector>

namespace fulvex {

namespace {

struct Terms {
    std::vector<Term> all;
    QHash<QString, std::size_t> byKey;
};

Terms readTerms()
{
    Terms terms;
    QFile file(manualFolder() + "/terms.md");
    if (!file.open(QIODevice::ReadOnly)) return terms;
    static const QRegularExpression keys("^<!-- (.+) -->$");
    while (!file.atEnd()) {
        const QString line = QString::fromUtf8(file.readLine()).trimmed();
        if (line.startsWith("### ")) {
            terms.all.push_back({line.mid(4), {}, {}});
        } else if (line.startsWith('#')) {
            continue;
        } else if (const auto named = keys.match(line); named.hasMatch() && !terms.all.empty()) {
            for (const QString &key : named.captured(1).split(' ', Qt::SkipEmptyParts)) {
                terms.all.back().keys << key;
                terms.byKey.insert(key, terms.all.size() - 1);
            }
        } else if (!terms.all.empty() && !line.isEmpty()) {
            terms.all.back().words += (terms.all.back().words.isEmpty() ? "" : " ") + QString(line).remove('*');
        }
    }
    return terms;
}

} // namespace

QString Term::place() const
{
    return "terms.md#" + anchorOf(title);
}

static const Terms &terms()
{
    static const Terms read = readTerms();
    return read;
}

const std::vector<Term> &allTerms()
{
    return terms().all;
}

const Term *termOf(const std::string &key)
{
    const Terms &known = terms();
    const QString wanted = QString::fromStdString(key);
    auto found = known.byKey.constFind(wanted);
    if (found == known.byKey.cend()) found = known.byKey.constFind("*" + wanted.mid(wanted.indexOf('.')));
    return found == known.byKey.cend() ? nullptr : &known.all[*found];
}

QString explained(const std::string &key, const QString &before)
{
    const Term *term = termOf(key);
    if (!term) return before;
    // Qt breaks lines of tooltips that are marked text.
    return QString("<qt>%1<b>%2.</b> %3</qt>")
        .arg(before.isEmpty() ? QString() : before.toHtmlEscaped().replace('\n', "<br>") + "<br>",
             term->title.toHtmlEscaped(), term->words.toHtmlEscaped());
}

} // namespace fulvex
