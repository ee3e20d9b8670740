// The Inspector's pages of what points at the traces: regions, markers, notes.

#include "document_edits.h"
#include "entry_fields.h"
#include "inspector_view.h"
#include "number_text.h"
#include "trace_figure.h"

#include <algorithm>
#include <cmath>

namespace fulvex {

void InspectorView::fillRegion(InspectorForm &form, const std::string &id)
{
    form.heading(tr("Region"));
    form.textField(
        tr("name"), "name", [id](const Document &) { return text(id); },
        [this, id](Document &document, const QString &words) {
            const std::string fresh = renameRegion(document, id, words.toStdString());
            QMetaObject::invokeMethod(
                this,
                [this, fresh] {
                    m_bench.select({Selection::Kind::region, fresh});
                },
                Qt::QueuedConnection);
        });
    form.quantityField(tr("start"), "start", "s", false, numberOf(&Document::regions, id, &RegionEntry::start),
                       setNumber(&Document::regions, id, &RegionEntry::start));
    form.quantityField(tr("stop"), "stop", "s", false, numberOf(&Document::regions, id, &RegionEntry::stop),
                       setNumber(&Document::regions, id, &RegionEntry::stop));
    form.fact(tr("length"), [this, id] {
        const RegionEntry *region = findEntry(m_bench.document().regions, id);
        return region ? text(quantityText(region->stop - region->start, "s", {}, 5)) : QString();
    });
    form.fact({}, [this, id] {
        QStringList users;
        for (const EyeEntry &eye : m_bench.document().eyes)
            if (eye.region == id) users << text(eye.id);
        for (const MeasurementEntry &row : m_bench.document().measurements)
            if (row.region == id) users << text(row.id);
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
        m_bench.change(tr("remove region"), [&](Document &document) {
            removeWithDependents(document, {Selection::Kind::region, id});
        });
    });
}

void InspectorView::fillMarker(InspectorForm &form, const std::string &id)
{
    const auto &markers = m_bench.document().markers;
    const MarkerEntry &entry = *findEntry(markers, id);
    form.heading(tr("Marker %1").arg(markerLetter(std::size_t(&entry - markers.data()))));
    const std::string unit = m_bench.unitOf(entry.channel);
    if (entry.time) {
        Choices places = idsOf(m_bench.document().channels);
        places.insert(places.begin(), {tr("no trace: a free moment"), ""});
        form.choiceField(tr("sits on"), "sitsOn", places, getMember(&Document::markers, id, &MarkerEntry::channel),
                         setMember<std::string>(&Document::markers, id, &MarkerEntry::channel));
        form.quantityField(tr("time"), "time", "s", false, getMember(&Document::markers, id, &MarkerEntry::time),
                           setMember<std::optional<double>>(&Document::markers, id, &MarkerEntry::time));
    } else {
        form.fact(tr("value of"), [channel = text(entry.channel)] { return channel; });
        form.quantityField(tr("level"), "level", unit, false, getMember(&Document::markers, id, &MarkerEntry::level),
                           setMember<std::optional<double>>(&Document::markers, id, &MarkerEntry::level));
    }
    const auto valueOf = [this](const MarkerEntry &marker) {
        const ChannelResult *result =
            m_bench.results() ? findEntry(m_bench.results()->channels, marker.channel) : nullptr;
        return marker.time && result && result->source ? traceValue(*result->source, *marker.time, false)
                                                       : marker.level;
    };
    const auto stepOf = [this](const MarkerEntry &marker) { // what can be told apart on its channel
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
            if (all[i].id == id) continue;
            QStringList parts;
            const auto here = valueOf(*marker), there = valueOf(all[i]);
            const double dt = marker->time && all[i].time ? *marker->time - *all[i].time : 0;
            if (marker->time && all[i].time) parts << "dt " + text(quantityText(dt, "s", {}, 5));
            if (dt != 0) parts << "1/dt " + text(quantityText(1 / dt, "Hz"));
            if (here && there) parts << "dv " + text(quantityText(*here - *there, unit, stepOf(*marker)));
            if (here && there && dt != 0)
                parts << tr("slope ") +
                             text(quantityText((*here - *there) / dt, unit + "/s", stepOf(*marker) / std::abs(dt)));
            lines << tr("from %1: ").arg(markerLetter(i)) + parts.join(", ");
        }
        return lines.join("\n");
    });
    form.button(tr("Remove it"), "removeMarker", [this, id] {
        m_bench.change(tr("remove marker"), [&](Document &document) {
            removeWithDependents(document, {Selection::Kind::marker, id});
        });
    });
}

void InspectorView::fillNote(InspectorForm &form, const std::string &id)
{
    const std::string channel = findEntry(m_bench.document().notes, id)->channel;
    form.heading(tr("Note"));
    form.textField(tr("text"), "text", textOf(&Document::notes, id, &NoteEntry::text),
                   setText(&Document::notes, id, &NoteEntry::text));
    form.choiceField(tr("on"), "noteChannel", idsOf(m_bench.document().channels),
                     getMember(&Document::notes, id, &NoteEntry::channel),
                     setMember<std::string>(&Document::notes, id, &NoteEntry::channel));
    form.quantityField(tr("time"), "time", "s", false, numberOf(&Document::notes, id, &NoteEntry::time),
                       setNumber(&Document::notes, id, &NoteEntry::time));
    form.quantityField(tr("level"), "level", unitOf(channel), false, numberOf(&Document::notes, id, &NoteEntry::level),
                       setNumber(&Document::notes, id, &NoteEntry::level));
    form.button(tr("Box beside its pin"), "resetNote", [this, id] {
        m_bench.change(tr("note beside its pin"), [&](Document &document) {
            if (NoteEntry *note = findEntry(document.notes, id)) note->right = note->down = note->width = 0;
        });
    });
    form.button(tr("Remove it"), "removeNote", [this, id] {
        m_bench.change(tr("remove note"), [&](Document &document) {
            removeWithDependents(document, {Selection::Kind::note, id});
        });
    });
}

} // namespace fulvex
