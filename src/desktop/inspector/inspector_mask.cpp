// The Inspector's page of a mask: which, how it is laid and tested, what came of it, its corners.

#include "axis_painter.h"
#include "described_fields.h"
#include "inspector_view.h"
#include "mask_edits.h"
#include "mask_list.h"
#include "mask_table.h"
#include "number_text.h"
#include "references.h"

namespace fulvex {

namespace {

const Choices grounds{{"the eye", "fitted"}, {"its crossings", "V"}, {"nothing", "s V"}};

const char *wordOf(MaskScale scale)
{
    return scale.seconds ? "s V" : scale.normalised ? "fitted" : "V";
}

QString resultWords(const MaskRun &run)
{
    if (!run.result) return text(run.reason);
    const MaskResult &result = *run.result;
    QString words =
        (run.atEdges ? QObject::tr("%1 of %2 edges failed, %3 hits") : QObject::tr("%1 of %2 UI failed, %3 hits"))
            .arg(result.failedUnitIntervals)
            .arg(result.unitIntervals)
            .arg(result.hits);
    if (result.stopped) words += QObject::tr("\nstopped there: what comes behind was not tested");
    for (std::size_t i = 0; i < run.definition.areas.size(); ++i)
        words += "\n" + text(run.definition.areas[i].name) + ": " + QString::number(result.areaHits[i]);
    if (result.margin)
        words +=
            QObject::tr("\nlargest margin that passes: %1").arg(text(quantityText(100 * *result.margin, "%", {}, 3)));
    return words;
}

} // namespace

void InspectorView::fillMask(InspectorForm &form, const std::string &id)
{
    const auto run = [this, id] { return m_bench.results() ? findEntry(m_bench.results()->masks, id) : nullptr; };
    const MaskEntry &mask = *findEntry(m_bench.document().masks, id);
    form.heading(tr("Mask"));
    auto *masks = new MaskList(m_bench, mask.own() ? std::string() : mask.mask);
    connect(masks, &MaskList::picked, this,
            [this, id](const std::string &picked) { exchangeMask(m_bench, id, picked); });
    form.widget(masks);
    form.fact(tr("from"), [run] { return run() ? text(run()->definition.source) : QString(); });
    const EyeEntry *eye = findEntry(m_bench.document().eyes, mask.eye);
    const bool hasOpenings = eye && !eye->atEdges();
    addDescribedFields(form, m_bench, id,
                       [&](const Field &field) { return hasOpenings || field.key != std::string_view("opening"); });
    if (hasOpenings) {
        form.choiceField(
            tr("fitted to"), "maskScale", grounds,
            [id, run](const Document &document) -> std::string {
                const MaskEntry *entry = findEntry(document.masks, id);
                if (entry && entry->own()) return wordOf(scaleOf(*entry));
                return wordOf({false, !run() || run()->definition.normalised});
            },
            [this, id](Document &document, const std::string &word) {
                rescaleMask(m_bench, document, id, {word == "s V", word == "fitted"});
            });
    }
    form.fact(tr("result"), [run] { return run() ? resultWords(*run()) : QString(); });
    const auto largest = [run] { return run() && run()->result ? run()->result->margin : std::nullopt; };
    form.button(
        tr("Grow to the largest margin"), "findMargin",
        [this, id, largest] {
            if (!largest()) return; // another result than a moment ago
            const double margin = std::max(-0.999, std::floor(*largest() * 1000) / 1000);
            m_bench.change(tr("set margin"), [&](Document &document) {
                if (MaskEntry *entry = findEntry(document.masks, id)) entry->margin = margin;
            });
        },
        [largest] { return largest().has_value(); });
    if (mask.own()) {
        form.heading(tr("Its corners"));
        form.fact({}, [] {
            return tr("On the eye: drag a corner, or an area by its cross; double click a side for another corner; "
                      "Delete takes it away, arrows move it.");
        });
        auto *table = new MaskTable(m_bench, id);
        connect(&m_bench, &Workbench::documentChanged, table, &MaskTable::refresh);
        form.widget(table);
        form.button(tr("Add an area"), "addMaskArea", [this, id] { addArea(m_bench, id); });
        form.button(tr("Remove this area"), "removeMaskArea",
                    [this, id, table] { removeArea(m_bench, id, table->chosenArea()); });
    }
    if (!mask.eye.empty()) form.button(tr("Edit it on the eye"), "editMask", [this, id] { editMask(m_bench, id); });
    form.button(tr("Remove the mask"), "removeMask", [this, id] {
        m_bench.change(tr("remove mask"), [&](Document &document) { removeWithDependents(document, id); });
    });
}

} // namespace fulvex
