// A program of the user's in the Inspector: what it is called with, its text, and whether it may run.

#include "axis_painter.h"
#include "described_fields.h"
#include "inspector_view.h"
#include "plain_text.h"
#include "references.h"

#include <QPlainTextEdit>
#include <QRegularExpression>

namespace fulvex {

/// The names of arguments, as they are typed: parted by commas or blanks.
static std::vector<std::string> namesIn(const QString &typed)
{
    std::vector<std::string> names;
    for (const QString &one : typed.split(QRegularExpression("[,;\\s]+"), Qt::SkipEmptyParts))
        names.push_back(one.toStdString());
    return names;
}

static QString namesText(const std::vector<std::string> &names)
{
    QStringList all;
    for (const std::string &name : names) all << text(name);
    return all.join(", ");
}

void InspectorView::fillProgram(InspectorForm &form, const std::string &id)
{
    form.heading(tr("Program %1").arg(text(id)));
    const auto status = [this, id]() -> const ProgramStatus * {
        return m_bench.results() ? findEntry(m_bench.results()->programs, id) : nullptr;
    };
    const ProgramStatus *now = status();
    const auto names = [&](const QString &label, const QString &name, std::vector<std::string> ProgramEntry::*list,
                           const QString &none) {
        form.textField(
            label, name,
            [id, list](const Document &document) {
                const ProgramEntry *entry = findEntry(document.programs, id);
                return entry ? namesText(entry->*list) : QString();
            },
            [id, list](Document &document, const QString &typed) {
                if (ProgramEntry *entry = findEntry(document.programs, id)) entry->*list = namesIn(typed);
            },
            none);
    };
    form.fact(tr("state"), [status] {
        const ProgramStatus *its = status();
        if (!its) return QString();
        switch (its->state) {
        case ProgramStatus::State::allowed:
            return tr("this content is allowed to run here");
        case ProgramStatus::State::unseen:
            return tr("not allowed to run here yet: read it below. It would run with your rights on your files.");
        case ProgramStatus::State::another:
            return tr("not what the project was saved with: read it below before it runs with your rights.");
        case ProgramStatus::State::missing:
            return text(its->error);
        }
        return QString();
    });
    if (now && now->state == ProgramStatus::State::allowed)
        form.button(tr("Do not allow it any more"), "forbidProgram",
                    [this, sha256 = now->sha256] { m_bench.forbidProgram(sha256); });
    else if (now && now->content)
        form.button(tr("Allow this content to run"), "allowProgram",
                    [this, id, sha256 = now->sha256] { m_bench.allowProgram(id, sha256); });
    names(tr("signals"), "programSignals", &ProgramEntry::arguments, {});
    names(tr("constants"), "programConstants", &ProgramEntry::parameters, tr("none"));
    addDescribedFields(form, m_bench, id, [](const Field &field) {
        const std::string_view key = field.key;
        return key != "arguments" && key != "parameters";
    });
    form.fact(tr("call it"), [this, id] {
        const ProgramEntry *entry = findEntry(m_bench.document().programs, id);
        if (!entry) return QString();
        std::vector<std::string> all = entry->arguments;
        all.insert(all.end(), entry->parameters.begin(), entry->parameters.end());
        return text(id) + "(" + namesText(all) + ")";
    });
    form.fact(tr("used by"), [this, id] { return namesText(usersOf(m_bench.document(), id)); });
    if (!now || !now->content) return;
    form.heading(tr("Its text"));
    form.fact({}, [path = now->path, sha256 = now->sha256] {
        QString digits = "SHA-256";
        for (std::size_t at = 0; at < sha256.size(); at += 16) digits += " " + text(sha256.substr(at, 16));
        return text(path) + "\n" + digits;
    });
    auto *shown = new QPlainTextEdit;
    shown->setObjectName("programText");
    shown->setReadOnly(true);
    shown->setLineWrapMode(QPlainTextEdit::NoWrap);
    shown->setStyleSheet("font-family: monospace; font-size: 10px;");
    shown->setMinimumHeight(260);
    constexpr std::size_t most = 200'000;
    const bool isText =
        isUtf8(std::string_view(*now->content).substr(0, most), true) && now->content->find('\0') == std::string::npos;
    QString words = isText ? text(shownText(std::string_view(*now->content).substr(0, most), true))
                           : tr("It is no text: a program compiled for a machine, of %1 bytes. Allow it only where you "
                                "know where it comes from.")
                                 .arg(now->content->size());
    if (isText && now->content->size() > most) words += tr("\n… and %1 bytes more").arg(now->content->size() - most);
    shown->setPlainText(words);
    form.widget(shown);
}

} // namespace fulvex
