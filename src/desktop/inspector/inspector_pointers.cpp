// The Inspector's pages of what points at the traces: regions, markers, notes.

#include "described_fields.h"
#include "inspector_view.h"
#include "number_text.h"
#include "references.h"
#include "trace_figure.h"

#include <algorithm>
#include <cmath>

namespace fulvex {

void InspectorView::fillRegion(InspectorForm &form, const std::string &id)
{
    form.heading(tr("Region"));
    addDescribedFields(form, m_bench, id);
    form.fact(tr("length"), [this, id] {
        const RegionEntry *region = findEntry(m_bench.document().regions, id);
        return region ? text(quantityText(region->stop - region->start, "s", {}, 5)) : QString();
    });
    form.fact({}, [this, id] {
        QStringList users;
        for (const std::string &user : usersOf(m_bench.document(), id)) users << text(user);
        return users.isEmpty() ? tr("Eyes and measurements take it under \"region\".")
                               : tr("used by ") + users.join(", ");
    });
    form.button(tr("Show it"), "showRegion", [this, id] {
        if (const RegionEntry *region = findEntry(m_bench.document().regions, id)) {
            const double side = 0.05 * (region->stop - region->start);
            m_bench.setView(region->start - side, region->stop + side, Workbench::wholeSheet, true);
        }
    });
    form.button(tr("Remove it"), "removeRegion", [this, id] {
        m_bench.change(tr("remove region"), [&](Document &document) { removeWithDependents(document, id); });
    });
}

void InspectorView::fillMarker(InspectorForm &form, const std::string &id)
{
    const auto &markers = m_bench.document().markers;
    const MarkerEntry &entry = *findEntry(markers, id);
    form.heading(tr("Marker %1").arg(markerLetter(markers, entry)));
    const Row *row = m_bench.results() ? findEntry(m_bench.results()->rows, entry.row) : nullptr;
    const std::string unit = row ? row->unit : m_bench.unitOf(entry.channel);
    if (!entry.time)
        form.fact(tr("value of"), [of = text(entry.row.empty() ? entry.channel : entry.row)] { return of; });
    addDescribedFields(form, m_bench, id);
    const auto valueOf = [this](const MarkerEntry &marker) {
        const ChannelResult *result =
            m_bench.results() ? findEntry(m_bench.results()->channels, marker.channel) : nullptr;
        return marker.time && result && result->source ? traceValue(*result->source, *marker.time, false)
                                                       : marker.level;
    };
    const auto stepOf = [this](const MarkerEntry &marker) { // what can be told apart on its channel, or of its row
        const Row *of = m_bench.results() ? findEntry(m_bench.results()->rows, marker.row) : nullptr;
        if (of && of->statistics.std) return *of->statistics.std / 100;
        const ChannelResult *result =
            m_bench.results() ? findEntry(m_bench.results()->channels, marker.channel) : nullptr;
        if (!result || !result->source || !result->pyramid || result->pyramid->whole().empty()) return 0.0;
        const Extent whole = result->pyramid->whole();
        return std::max(result->source->resolution(), 1e-6 * double(whole.high - whole.low));
    };
    form.fact(tr("value"), [this, id, unit, valueOf, stepOf] {
        const MarkerEntry *marker = findEntry(m_bench.document().markers, id);
        const auto value = marker ? valueOf(*marker) : std::nullopt;
        return value ? text(quantityText(*value, unit, stepOf(*marker))) : tr("none: it sits on no trace");
    });
    form.fact(tr("from others"), [this, id, unit, valueOf, stepOf] {
        const auto &all = m_bench.document().markers;
        const MarkerEntry *marker = findEntry(all, id);
        QStringList lines;
        for (std::size_t i = 0; marker && i < all.size(); ++i) {
            if (all[i].id == id || all[i].row != marker->row) continue;
            QStringList parts;
            const auto here = valueOf(*marker), there = valueOf(all[i]);
            const double dt = marker->time && all[i].time ? *marker->time - *all[i].time : 0;
            if (marker->time && all[i].time) parts << "dt " + text(quantityText(dt, "s", {}, 5));
            if (dt != 0) parts << "1/dt " + text(quantityText(1 / dt, "Hz"));
            if (here && there) parts << "dv " + text(quantityText(*here - *there, unit, stepOf(*marker)));
            if (here && there && dt != 0)
                parts << tr("slope ") +
                             text(quantityText((*here - *there) / dt, unit + "/s", stepOf(*marker) / std::abs(dt)));
            lines << tr("from %1: ").arg(markerLetter(all, all[i])) + parts.join(", ");
        }
        return lines.join("\n");
    });
    form.button(tr("Remove it"), "removeMarker", [this, id] {
        m_bench.change(tr("remove marker"), [&](Document &document) { removeWithDependents(document, id); });
    });
}

void InspectorView::fillNote(InspectorForm &form, const std::string &id)
{
    form.heading(tr("Note"));
    addDescribedFields(form, m_bench, id);
    form.button(tr("Box beside its pin"), "resetNote", [this, id] {
        m_bench.change(tr("note beside its pin"), [&](Document &document) {
            if (NoteEntry *note = findEntry(document.notes, id)) note->right = note->down = note->width = 0;
        });
    });
    form.button(tr("Remove it"), "removeNote", [this, id] {
        m_bench.change(tr("remove note"), [&](Document &document) { removeWithDependents(document, id); });
    });
}

} // namespace fulvex
