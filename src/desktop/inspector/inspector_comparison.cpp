// What another result says of a row, in the Inspector.

#include "axis_painter.h"
#include "difference_scale.h"
#include "inspector_view.h"
#include "number_text.h"

#include <algorithm>

namespace fulvex {

void InspectorView::fillBeside(InspectorForm &form, const std::string &id)
{
    if (m_bench.document().comparisons.empty()) return;
    const ComparisonEntry &entry = m_bench.document().comparisons.front();
    form.heading(tr("Beside %1").arg(text(std::filesystem::path(entry.file).stem().string())));
    form.fact({}, [this, id, comparison = entry.id] {
        const Compared *known = m_bench.comparedWith(comparison);
        if (!known || !known->found) return known && !known->error.empty() ? text(known->error) : tr("not known yet");
        QStringList lines;
        std::vector<std::string> moved; // ids in the other result
        for (const Comparison::Pair &pair : known->found->pairs) {
            if (pair.second.id != id || !pair.matters) continue;
            const QString part = partWords(pair.first.part);
            lines << tr("there%1 %2").arg(part, text(comparedText(pair.first)))
                  << tr("here%1 %2").arg(part, text(comparedText(pair.second)))
                  << tr("change %1").arg(text(differenceText(pair))) +
                         (pair.times ? tr(", %1 times its uncertainty").arg(text(quantityText(*pair.times, "", {}, 2)))
                                     : QString());
            if (pair.differs()) moved.push_back(pair.first.id);
        }
        for (const SettingDifference &setting : known->found->settings)
            if (std::ranges::find_first_of(setting.rows, moved) != setting.rows.end())
                lines << tr("because %1 of %2 differs: %3, here %4")
                             .arg(text(setting.setting), text(setting.of), text(setting.first), text(setting.second));
        return lines.isEmpty() ? tr("The other result has no such number.") : lines.join("\n");
    });
}

} // namespace fulvex
