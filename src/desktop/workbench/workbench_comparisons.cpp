// The workbench's comparisons: this project beside other results.

#include "axis_painter.h"
#include "error.h"
#include "make_alike.h"
#include "run_members.h"
#include "workbench.h"

#include <algorithm>

namespace fulvex {

void Workbench::followComparisons()
{
    ComparisonKeeper::Files files;
    for (const ComparisonEntry &entry : m_held ? std::vector<ComparisonEntry>() : document().comparisons)
        files[entry.id] = (base() / entry.file).lexically_normal();
    m_comparisons.follow(std::move(files), base(), session());
    compareAgain();
}

void Workbench::compareAgain()
{
    std::shared_ptr<const Results> own;
    if (hasRun(document()))
        own = m_run ? m_run->all : nullptr;
    else if (upToDate())
        own = sharedResults();
    if (own) m_comparisons.compareWith(std::move(own), session());
}

const Compared *Workbench::comparedWith(const std::string &comparison) const
{
    if (!m_compared) return nullptr;
    const auto known = m_compared->by.find(comparison);
    return known == m_compared->by.end() ? nullptr : &known->second;
}

std::string Workbench::compareWith(const QString &file)
{
    const std::string kept = keptPath(file.toStdString(), base());
    for (const ComparisonEntry &entry : document().comparisons)
        if (entry.file == kept) return entry.id;
    std::string id;
    const bool taken = change(tr("compare with %1").arg(file), [&](Document &document) {
        id = freeId(document, "beside");
        document.comparisons.push_back({id, kept});
    });
    return taken ? id : std::string();
}

void Workbench::makeAlike(const std::string &comparison, std::vector<SettingDifference> settings)
{
    const Compared *known = comparedWith(comparison);
    if (!known || !known->found || !known->other->numbers.document || settings.empty()) return;
    if (known->own != (hasRun(document()) ? (m_run ? m_run->all : nullptr) : sharedResults()) || !upToDate())
        return emit failed(tr("The settings changed meanwhile: wait until the comparison is that of now."));
    try {
        Document made = madeAlike(document(), *known->other->numbers.document, *known->found, settings);
        change(tr("set as %1 is").arg(text(known->file.stem().string())),
               [&](Document &document) { document = std::move(made); });
    } catch (const Error &error) {
        emit failed(text(error.what()));
    }
}

} // namespace fulvex
