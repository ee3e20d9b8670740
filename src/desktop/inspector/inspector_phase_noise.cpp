// The Inspector's page of phase noise: how it is made, what is integrated, limits, its lines.

#include "axis_painter.h"
#include "described_fields.h"
#include "inspector_view.h"
#include "number_text.h"
#include "phase_noise_edits.h"
#include "phase_noise_lines.h"
#include "suspects.h"

namespace fulvex {

void InspectorView::fillPhaseNoise(InspectorForm &form, const std::string &id)
{
    const auto result = [this, id]() -> const PhaseNoiseResult * {
        return m_bench.results() ? findEntry(m_bench.results()->phaseNoise, id) : nullptr;
    };
    form.heading(tr("Phase noise"));
    addDescribedFields(form, m_bench, id);
    form.fact({}, [result] {
        const PhaseNoiseResult *made = result();
        if (!made || !made->found) return made ? text(made->reason) : QString();
        const PhaseNoise &found = *made->found;
        const auto hertz = [](double value) { return text(quantityText(value, "Hz", {}, 4)); };
        QStringList lines{tr("%1 ± %2 rms")
                              .arg(text(quantityText(made->jitter.value, "s", made->jitter.uncertainty)),
                                   text(quantityText(made->jitter.uncertainty, "s", {}, 1))),
                          tr("told from %1 to %2").arg(hertz(found.lowest), hertz(found.highest))};
        if (made->floor) lines << tr("the capture's own floor: %1 dBc/Hz").arg(text(fixedText(*made->floor, 1)));
        for (const std::string &remark : made->remarks) lines << text(remark);
        return lines.join("\n");
    });
    form.heading(tr("Limit"));
    form.textField(
        tr("levels at offsets"), "phaseNoiseLimit",
        [id](const Document &document) {
            const PhaseNoiseEntry *entry = findEntry(document.phaseNoise, id);
            return entry ? limitText(*entry) : QString();
        },
        [this, id](Document &document, const QString &typed) {
            PhaseNoiseEntry *entry = findEntry(document.phaseNoise, id);
            const auto limit = limitFrom(typed);
            if (!entry) return;
            if (limit)
                std::tie(entry->limitOffsets, entry->limitLevels) = *limit;
            else
                emit m_bench.told(tr("A limit is a list of offsets and levels by turns, each offset once: "
                                     "1k -90, 100k -120, 10M -140"));
        },
        tr("1k -90, 100k -120"));
    form.button(
        tr("Rows at the limit's offsets"), "limitRows", [this, id] { addLimitRows(m_bench, id); },
        [this, id] {
            const PhaseNoiseEntry *entry = findEntry(m_bench.document().phaseNoise, id);
            return entry && !entry->limitOffsets.empty();
        });
    form.button(tr("Rows at each decade"), "decadeRows", [this, id] { addDecadeRows(m_bench, id); });
    form.heading(tr("Its lines"));
    form.widget(new PhaseNoiseLines(m_bench, id));
    form.fact({}, [this, id, result] {
        const PhaseNoiseResult *made = result();
        const Question &question = m_bench.question();
        if (!made || !made->found || question.id != id || !question.part || *question.part >= made->found->lines.size())
            return QString();
        return text(seenElsewhere(*m_bench.results(), id, made->found->lines[*question.part].offset));
    });
    fillTiles(form, id);
}

} // namespace fulvex
