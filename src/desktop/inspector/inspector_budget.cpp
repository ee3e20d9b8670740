// The Inspector's page of a jitter budget: how it is made, the chosen piece, what to doubt, its lines.

#include "axis_painter.h"
#include "budget_edits.h"
#include "described_fields.h"
#include "inspector_view.h"
#include "jitter_fields.h"
#include "loop_presets.h"
#include "number_text.h"
#include "suspects.h"

namespace fulvex {

namespace {

using PartKind = JitterBudget::Part::Kind;

QString seconds(double value, double uncertainty)
{
    return text(quantityText(value, "s", uncertainty) + " ± " + quantityText(uncertainty, "s", {}, 1));
}

QString wordsOf(const BudgetResult &result, const JitterBudget::Part &part)
{
    const JitterMakeUp &found = *result.found;
    QStringList lines;
    switch (part.kind) {
    case PartKind::dutyCycle:
        lines << QObject::tr("duty-cycle distortion") << QObject::tr("rising less falling edges, in the mean");
        break;
    case PartKind::pattern:
        lines << (found.data.pattern > 0 ? QObject::tr("the pattern of %1, %2 repeats")
                                               .arg(found.data.pattern)
                                               .arg(std::int64_t(found.data.repeats))
                                         : QObject::tr("%1 histories of symbols").arg(found.data.groups.size()));
        break;
    case PartKind::line: {
        const PeriodicLine &line = found.lines[part.line];
        lines << QObject::tr("the line at %1").arg(text(quantityText(line.frequency, "Hz", line.frequencyUncertainty)))
              << QObject::tr("peak to peak %1").arg(seconds(line.peakToPeak(), 2 * line.uncertainty));
        QStringList harmonics;
        for (const PeriodicLine &other : found.lines)
            if (other.harmonic > 1 && other.harmonicOf == part.line)
                harmonics << QObject::tr("%1 at %2")
                                 .arg(text(quantityText(other.peakToPeak(), "s", {}, 3)),
                                      text(quantityText(other.frequency, "Hz", {}, 4)));
        if (!harmonics.isEmpty()) lines << QObject::tr("harmonics: %1").arg(harmonics.join(", "));
        break;
    }
    case PartKind::bounded:
        lines << QObject::tr("bounded, of no line and no pattern, as two values");
        break;
    case PartKind::random:
        lines << QObject::tr("random, %1 rms").arg(text(quantityText(result.budget.random, "s", {}, 4)));
        break;
    }
    lines << QObject::tr("takes %1").arg(seconds(part.size, part.uncertainty));
    return lines.join("\n");
}

/// What remains without a line.
QString withoutIt(const JitterBudget &budget, double then)
{
    const auto change = [](double from, double to, const char *unit) {
        return text(quantityText(from, unit, {}, 4) + " → " + quantityText(to, unit, {}, 4));
    };
    return QObject::tr("without it: total %1\neye opening %2")
        .arg(change(budget.total, then, "s"),
             change(budget.open() / budget.unitInterval, 1 - then / budget.unitInterval, "UI"));
}

} // namespace

void InspectorView::fillBudget(InspectorForm &form, const std::string &id)
{
    const auto result = [this, id]() -> const BudgetResult * {
        const BudgetResult *made = m_bench.results() ? findEntry(m_bench.results()->budgets, id) : nullptr;
        return made && made->found ? made : nullptr;
    };
    const auto chosen = [this, id, result]() -> const JitterBudget::Part * {
        const BudgetResult *made = result();
        const Question &question = m_bench.question();
        if (!made || question.id != id || !question.part || *question.part >= made->budget.parts.size()) return nullptr;
        return &made->budget.parts[*question.part];
    };
    form.heading(tr("Jitter budget"));
    addDescribedFields(form, m_bench, id);
    addJitterFields(form, id);
    form.heading(tr("The chosen piece"));
    form.fact({}, [result, chosen] {
        const JitterBudget::Part *part = chosen();
        return part ? wordsOf(*result(), *part) : tr("Click a piece of the budget.");
    });
    form.fact({}, [result, chosen] {
        const JitterBudget::Part *part = chosen();
        return part && part->without ? withoutIt(result()->budget, *part->without) : QString();
    });
    form.fact({}, [this, id, result, chosen] {
        const JitterBudget::Part *part = chosen();
        if (!part || part->kind != PartKind::line) return QString();
        return text(seenElsewhere(*m_bench.results(), id, result()->found->lines[part->line].frequency));
    });
    form.button(
        tr("Leave the line out, or take it back"), "switchLine",
        [this, id] {
            const Question &question = m_bench.question();
            if (question.id == id && question.part) switchLine(m_bench, id, *question.part);
        },
        [chosen] { return chosen() && chosen()->kind == PartKind::line; });
    form.heading(tr("Side by side"));
    form.fact({}, [this, id, result] {
        const BudgetResult *made = result();
        if (!made) {
            const BudgetResult *none = m_bench.results() ? findEntry(m_bench.results()->budgets, id) : nullptr;
            return none ? text(none->reason) : QString();
        }
        QStringList lines{
            tr("random by its spectrum %1").arg(seconds(made->found->random, made->found->randomUncertainty))};
        if (made->tails)
            lines << tr("by its tails %1").arg(seconds(made->tails->fit.random, made->tails->fit.uncertainty()));
        for (const std::string &remark : made->remarks) lines << text(remark);
        return lines.join("\n");
    });
    const BudgetEntry *entry = findEntry(m_bench.document().budgets, id);
    const ClockEntry *clock = entry ? findEntry(m_bench.document().clocks, entry->clock) : nullptr;
    if (clock && clock->method == "fixed")
        form.button(tr("Let the clock be a loop: %1").arg(tr(loopPresets().front().words)), "followSlowJitter",
                    [this, id] { followSlowJitter(m_bench, id); });
    form.heading(tr("Its lines"));
    form.fact({}, [result] {
        const BudgetResult *made = result();
        if (!made) return QString();
        QStringList lines;
        for (const PeriodicLine &line : made->found->lines)
            lines << text(quantityText(line.frequency, "Hz", line.frequencyUncertainty) + ": " +
                          quantityText(line.peakToPeak(), "s", 2 * line.uncertainty) + " pp" +
                          (line.harmonic > 1 ? ", harmonic " + std::to_string(line.harmonic) : std::string()));
        if (lines.isEmpty()) return tr("none stands out");
        lines << tr("what is faster than %1, half the symbol rate, shows folded back below it")
                     .arg(text(quantityText(0.5 / made->budget.unitInterval, "Hz", {}, 3)));
        return lines.join("\n");
    });
    fillTiles(form, id);
}

} // namespace fulvex
