// The Inspector's page of a clock.

#include "axis_painter.h"
#include "described_fields.h"
#include "eye_edits.h"
#include "inspector_view.h"
#include "loop_plot.h"
#include "loop_presets.h"
#include "measurement_edits.h"
#include "number_text.h"
#include "tile_edits.h"
#include "transition_plot.h"

namespace fulvex {

/// A loop as a standard defines it, in place of the present one's order and bandwidth.
void InspectorView::fillPresets(InspectorForm &form, const std::string &id)
{
    const auto rate = [this, id] {
        const ClockResult *found = m_bench.results() ? findEntry(m_bench.results()->clocks, id) : nullptr;
        return found && found->clock ? found->rate : 0;
    };
    Choices choices{{tr("none of those listed"), ""}};
    for (const LoopPreset &preset : loopPresets()) choices.emplace_back(tr(preset.words), preset.words);
    const auto isIt = [rate](const LoopPreset &preset, const ClockEntry &clock) {
        const double wanted = preset.bandwidthAt(rate());
        return clock.order == preset.order && wanted > 0 && std::abs(clock.bandwidth / wanted - 1) < 1e-3 &&
               clock.bandwidthOf == "transfer";
    };
    form.choiceField(
        tr("as defined by"), "preset", choices,
        [id, isIt](const Document &document) -> std::string {
            const ClockEntry *clock = findEntry(document.clocks, id);
            for (const LoopPreset &preset : loopPresets())
                if (clock && isIt(preset, *clock)) return preset.words;
            return {};
        },
        [id, rate](Document &document, const std::string &words) {
            ClockEntry *clock = findEntry(document.clocks, id);
            for (const LoopPreset &preset : loopPresets()) {
                if (!clock || words != preset.words || !(preset.bandwidthAt(rate()) > 0)) continue;
                clock->order = preset.order;
                clock->bandwidth = preset.bandwidthAt(rate());
                clock->damping = preset.damping;
                clock->bandwidthOf = "transfer";
            }
        });
    form.fact({}, [this, id, isIt] {
        const ClockEntry *clock = findEntry(m_bench.document().clocks, id);
        for (const LoopPreset &preset : loopPresets())
            if (clock && isIt(preset, *clock)) return tr(preset.source);
        return QString();
    });
}

void InspectorView::fillClock(InspectorForm &form, const std::string &id)
{
    const ClockEntry &entry = *findEntry(m_bench.document().clocks, id);
    form.heading(tr("Clock %1").arg(text(id)));
    addDescribedFields(form, m_bench, id);
    if (entry.method == "pll") {
        fillPresets(form, id);
        form.widget(new LoopPlot(m_bench, id));
    }
    const auto found = [this, id]() -> const ClockResult * {
        return m_bench.results() ? findEntry(m_bench.results()->clocks, id) : nullptr;
    };
    form.fact(tr("found"), [found] {
        const ClockResult *result = found();
        if (!result) return QString();
        if (!result->clock) return text(result->reason);
        QString words = text(quantityWithUncertainty(result->rate, "Bd", result->rateUncertainty)) +
                        tr("\n%1 unit intervals").arg(result->clock->map.runningUnitIntervals());
        if (result->clock->map.settleTime() > 0)
            words += tr("\nsettled after %1, left out before")
                         .arg(text(quantityText(result->clock->map.settleTime(), "s", {}, 3)));
        return words + (result->clock->edges.edges().interpolatedBySinc ? tr("\ninstants by windowed sinc")
                                                                        : tr("\ninstants on straight lines"));
    });
    form.fact(tr("sends"), [found] {
        const ClockResult *result = found();
        return result && result->pattern ? text(wordsOf(*result->pattern)) : QString();
    });
    const std::vector<Finding> *findings = findingsOf(id);
    if (findings && !findings->empty()) {
        form.heading(tr("Doubts"));
        form.fact({}, [this, id] {
            QStringList words;
            if (const std::vector<Finding> *now = findingsOf(id)) {
                for (const Finding &finding : *now) words << text(finding.text);
            }
            return words.join("\n");
        });
        fillRemedies(form, id);
    }
    if (entry.modulation > 2) {
        form.fact(tr("levels"), [this, found, source = entry.source] {
            const ClockResult *result = found();
            QStringList levels;
            for (std::size_t i = result ? result->levels.size() : 0; i-- > 0;)
                levels
                    << tr("%1 at %2").arg(i).arg(text(quantityText(result->levels[i], m_bench.unitOf(source), {}, 4)));
            return levels.join("\n");
        });
        form.widget(new TransitionPlot(m_bench, id));
    }
    fillLevels(form, id, entry.levels);
    form.button(tr("Add an eye"), "addEye", [this, id] { addEye(m_bench, id); });
    form.button(tr("Measure its time interval error"), "addTie", [this, id] {
        const std::string made = addMeasurement(m_bench, "time_interval_error", id);
        addTileOf(m_bench, "histogram", {made});
    });
    form.button(tr("Count its bit errors"), "addBitErrors", [this, id] {
        addMeasurement(m_bench, "bit_error_ratio", id);
        addMeasurement(m_bench, "bit_errors", id);
    });
}

} // namespace fulvex
