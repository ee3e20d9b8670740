#include "inspector_view.h"

#include "axis_painter.h"
#include "document_edits.h"
#include "entry_fields.h"
#include "loop_plot.h"
#include "number_text.h"
#include "quantity_table.h"
#include "share_folder.h"

namespace fulvex {

InspectorView::InspectorView(Workbench &bench, QWidget *parent)
    : QWidget(parent), m_bench(bench), m_scroll(new QScrollArea)
{
    auto *layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 6, 0, 0);
    m_scroll->setObjectName("inspectorScroll");
    m_scroll->setWidgetResizable(true);
    m_scroll->setFrameShape(QFrame::NoFrame);
    m_scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    layout->addWidget(m_scroll);
    for (auto changed : {&Workbench::documentChanged, &Workbench::resultsChanged, &Workbench::selectionChanged,
                         &Workbench::lookChanged})
        connect(&bench, changed, this, &InspectorView::follow);
    rebuild();
}

static Choices regionChoices(const Document &document)
{
    Choices regions = idsOf(document.regions);
    regions.insert(regions.begin(), {InspectorView::tr("whole record"), ""});
    return regions;
}

QString InspectorView::shape() const
{
    const Selection &selection = m_bench.selection();
    QString shape = QString::number(int(selection.kind)) + text(selection.id);
    if (const ClockEntry *clock = findEntry(m_bench.document().clocks, selection.id))
        shape += text(clock->method) + QString::number(clock->order);
    for (const MaskEntry &mask : m_bench.document().masks) shape += text(mask.id + mask.eye);
    shape += QString::number(m_bench.document().clocks.size()) + QString::number(m_bench.document().channels.size()) +
             QString::number(m_bench.document().eyes.size()) + QString::number(m_bench.document().markers.size()) +
             QString::number(m_bench.document().regions.size());
    if (selection.kind == Selection::Kind::capture) {
        for (const Remedy &remedy : remediesOf(selection.id)) shape += text(remedy.words);
    }
    return shape;
}

void InspectorView::follow()
{
    if (shape() != m_shape)
        rebuild();
    else
        m_form->refresh();
}

void InspectorView::rebuild()
{
    m_shape = shape();
    m_form = new InspectorForm(m_bench);
    m_form->setObjectName("inspectorForm");
    fill(*m_form, m_bench.selection());
    m_form->refresh();
    if (QWidget *old = m_scroll->takeWidget()) old->deleteLater(); // it may be the sender
    m_scroll->setWidget(m_form);
}

void InspectorView::fill(InspectorForm &form, const Selection &selection)
{
    const Document &document = m_bench.document();
    if (selection.kind == Selection::Kind::capture && findEntry(document.captures, selection.id))
        fillCapture(form, selection.id);
    else if (selection.kind == Selection::Kind::channel && findEntry(document.channels, selection.id))
        fillChannel(form, selection.id);
    else if (selection.kind == Selection::Kind::clock && findEntry(document.clocks, selection.id))
        fillClock(form, selection.id);
    else if (selection.kind == Selection::Kind::eye && findEntry(document.eyes, selection.id))
        fillEye(form, selection.id);
    else if (selection.kind == Selection::Kind::mask && findEntry(document.masks, selection.id))
        fillEye(form, findEntry(document.masks, selection.id)->eye);
    else if (selection.kind == Selection::Kind::measurement && findEntry(document.measurements, selection.id))
        fillMeasurement(form, selection.id);
    else if (selection.kind == Selection::Kind::region && findEntry(document.regions, selection.id))
        fillRegion(form, selection.id);
    else if (selection.kind == Selection::Kind::marker && findEntry(document.markers, selection.id))
        fillMarker(form, selection.id);
    else if (selection.kind == Selection::Kind::note && findEntry(document.notes, selection.id))
        fillNote(form, selection.id);
    else
        fillNothing(form);
}

std::function<std::string()> InspectorView::unitOf(const std::string &channel) const
{
    return [this, channel] { return m_bench.unitOf(channel); };
}

void InspectorView::fillNothing(InspectorForm &form)
{
    form.heading(tr("Project"));
    form.textField(
        tr("title"), "title", [](const Document &d) { return text(d.title); },
        [](Document &d, const QString &w) { d.title = w.toStdString(); });
    form.textField(
        tr("device"), "device", [](const Document &d) { return text(d.device.name); },
        [](Document &d, const QString &w) { d.device.name = w.toStdString(); });
    form.textField(
        tr("serial"), "serial", [](const Document &d) { return text(d.device.serial); },
        [](Document &d, const QString &w) { d.device.serial = w.toStdString(); });
    form.textField(
        tr("comment"), "comment", [](const Document &d) { return text(d.device.comment); },
        [](Document &d, const QString &w) { d.device.comment = w.toStdString(); });
    form.fact(
        {}, [] { return tr("Select something in the Chain, the Ledger or on the sheet: its settings appear here."); });
}

std::vector<Remedy> InspectorView::remediesOf(const std::string &capture) const
{
    std::vector<Remedy> remedies;
    const CaptureResult *result = m_bench.results() ? findEntry(m_bench.results()->captures, capture) : nullptr;
    if (!result || !m_bench.upToDate()) return remedies;
    for (const Finding &finding : result->findings) {
        if (finding.remedy) remedies.push_back(*finding.remedy);
    }
    return remedies;
}

void InspectorView::fillCapture(InspectorForm &form, const std::string &id)
{
    form.heading(tr("Capture"));
    form.textField(tr("file"), "file", textOf(&Document::captures, id, &CaptureEntry::file),
                   setText(&Document::captures, id, &CaptureEntry::file));
    form.quantityField(
        tr("interval"), "interval", "s", true,
        [id](const Document &d) {
            const auto *e = findEntry(d.captures, id);
            return e ? e->import.sampleInterval : std::nullopt;
        },
        [id](Document &d, std::optional<double> v) {
            if (CaptureEntry *e = findEntry(d.captures, id)) e->import.sampleInterval = v;
        });
    form.fact(tr("holds"), [this, id] {
        const CaptureResult *result = m_bench.results() ? findEntry(m_bench.results()->captures, id) : nullptr;
        if (!result) return QString();
        if (!result->error.empty()) return text(result->error);
        return tr("%1, %2 × %3 samples, %4")
            .arg(text(result->format))
            .arg(result->channels)
            .arg(result->samples)
            .arg(text(quantityText(1 / result->sampleInterval, "S/s")));
    });
    form.fact(tr("check"), [this, id] {
        const CaptureResult *result = m_bench.results() ? findEntry(m_bench.results()->captures, id) : nullptr;
        if (!result || !m_bench.complete()) return tr("is being made");
        const auto warnings = std::count_if(result->findings.begin(), result->findings.end(),
                                            [](const Finding &finding) { return finding.level == "warning"; });
        const auto counted = [](qsizetype count, const QString &one, const QString &many) {
            return QString::number(count) + " " + (count == 1 ? one : many);
        };
        if (result->findings.empty()) return tr("nothing to remark");
        return (warnings ? counted(warnings, tr("warning"), tr("warnings"))
                         : counted(qsizetype(result->findings.size()), tr("remark"), tr("remarks"))) +
               tr(", in Evidence below");
    });
    for (const Remedy &remedy : remediesOf(id)) {
        form.button(text(remedy.words), "remedy", [this, remedy] {
            m_bench.change(text(remedy.words), [&](Document &document) { applyRemedy(document, remedy); });
        });
    }
    form.fact("SHA-256", [this, id] {
        const CaptureResult *result = m_bench.results() ? findEntry(m_bench.results()->captures, id) : nullptr;
        return result ? text(result->sha256.substr(0, 16)) + (result->sha256.empty() ? "" : "…") : QString();
    });
}

void InspectorView::fillChannel(InspectorForm &form, const std::string &id)
{
    const ChannelEntry &entry = *findEntry(m_bench.document().channels, id);
    form.heading(tr("Channel %1").arg(text(id)));
    form.textField(tr("label"), "label", textOf(&Document::channels, id, &ChannelEntry::label),
                   setText(&Document::channels, id, &ChannelEntry::label));
    form.textField(tr("unit"), "unit", textOf(&Document::channels, id, &ChannelEntry::unit),
                   setText(&Document::channels, id, &ChannelEntry::unit));
    if (entry.formula.empty()) {
        form.quantityField(tr("scale"), "scale", "", false, numberOf(&Document::channels, id, &ChannelEntry::scale),
                           setNumber(&Document::channels, id, &ChannelEntry::scale));
        form.quantityField(tr("offset"), "offset", unitOf(id), false,
                           numberOf(&Document::channels, id, &ChannelEntry::offset),
                           setNumber(&Document::channels, id, &ChannelEntry::offset));
        form.quantityField(tr("delay"), "delay", "s", false, numberOf(&Document::channels, id, &ChannelEntry::delay),
                           setNumber(&Document::channels, id, &ChannelEntry::delay));
    } else {
        form.textField(tr("formula"), "formula", textOf(&Document::channels, id, &ChannelEntry::formula),
                       setText(&Document::channels, id, &ChannelEntry::formula));
    }
    form.fact({}, [this, id] {
        const ChannelResult *result = m_bench.results() ? findEntry(m_bench.results()->channels, id) : nullptr;
        return result ? text(result->error) : QString();
    });
    form.button(tr("Keep a copy of the trace"), "keepCopy", [this, id] { m_bench.keepCopy(id); });
    form.button(tr("Add a loop clock"), "addLoop", [this, id] { addClock(m_bench, id, "pll"); });
    form.button(tr("Add a fixed clock"), "addFixed", [this, id] { addClock(m_bench, id, "fixed"); });
}

void InspectorView::fillClock(InspectorForm &form, const std::string &id)
{
    const ClockEntry &entry = *findEntry(m_bench.document().clocks, id);
    form.heading(tr("Clock %1").arg(text(id)));
    form.choiceField(tr("source"), "source", idsOf(m_bench.document().channels),
                     getMember(&Document::clocks, id, &ClockEntry::source),
                     setMember<std::string>(&Document::clocks, id, &ClockEntry::source));
    form.choiceField(tr("method"), "method", {{tr("fixed line"), "fixed"}, {tr("loop (PLL)"), "pll"}},
                     getMember(&Document::clocks, id, &ClockEntry::method),
                     setMember<std::string>(&Document::clocks, id, &ClockEntry::method));
    form.quantityField(tr("rate"), "rate", "Bd", true, getMember(&Document::clocks, id, &ClockEntry::rate),
                       setMember<std::optional<double>>(&Document::clocks, id, &ClockEntry::rate));
    if (entry.method == "pll") {
        form.choiceField(
            tr("order"), "order", {{"1", "1"}, {"2", "2"}},
            [id](const Document &d) {
                const auto *e = findEntry(d.clocks, id);
                return std::to_string(e ? e->order : 2);
            },
            [id](Document &d, const std::string &v) {
                if (ClockEntry *e = findEntry(d.clocks, id)) e->order = v == "1" ? 1 : 2;
            });
        form.quantityField(tr("bandwidth"), "bandwidth", "Hz", false,
                           numberOf(&Document::clocks, id, &ClockEntry::bandwidth),
                           setNumber(&Document::clocks, id, &ClockEntry::bandwidth));
        form.decadeSlider("bandwidthSlider", id, 1e4, 1e8, getMember(&Document::clocks, id, &ClockEntry::bandwidth),
                          setMember<double>(&Document::clocks, id, &ClockEntry::bandwidth));
        if (entry.order == 2)
            form.quantityField(tr("damping"), "damping", "", false,
                               numberOf(&Document::clocks, id, &ClockEntry::damping),
                               setNumber(&Document::clocks, id, &ClockEntry::damping));
        form.widget(new LoopPlot(m_bench, id));
    }
    form.fact(tr("found"), [this, id] {
        const ClockResult *result = m_bench.results() ? findEntry(m_bench.results()->clocks, id) : nullptr;
        if (!result) return QString();
        if (!result->clock) return text(result->reason);
        QString words = text(quantityWithUncertainty(result->rate, "Bd", result->rateUncertainty)) +
                        tr("\n%1 unit intervals").arg(result->clock->unitIntervals());
        if (result->clock->settleTime() > 0)
            words += tr("\nsettled after %1, left out before")
                         .arg(text(quantityText(result->clock->settleTime(), "s", {}, 3)));
        return words + (result->clock->edges().interpolatedBySinc ? tr("\ninstants by windowed sinc")
                                                                  : tr("\ninstants on straight lines"));
    });
    form.button(tr("Add an eye"), "addEye", [this, id] { addEye(m_bench, id); });
    form.button(tr("Measure its time interval error"), "addTie", [this, id] {
        const std::string made = addMeasurement(m_bench, "time_interval_error", id);
        m_bench.change(tr("add histogram"), [&](Document &document) {
            TileEntry tile;
            tile.kind = "histogram";
            tile.of = {made};
            addTile(document, m_bench.sheet(), tile);
        });
    });
}

void InspectorView::fillEye(InspectorForm &form, const std::string &id)
{
    const Document &document = m_bench.document();
    const EyeEntry &entry = *findEntry(document.eyes, id);
    form.heading(tr("Eye of %1").arg(text(entry.source)));
    form.choiceField(tr("clock"), "clock", idsOf(document.clocks), getMember(&Document::eyes, id, &EyeEntry::clock),
                     setMember<std::string>(&Document::eyes, id, &EyeEntry::clock));
    form.choiceField(tr("region"), "region", regionChoices(document), getMember(&Document::eyes, id, &EyeEntry::region),
                     setMember<std::string>(&Document::eyes, id, &EyeEntry::region));
    form.choiceField(
        tr("fold"), "interpolate",
        {{tr("interpolated below 8 a UI"), "auto"}, {tr("samples only"), "none"}, {tr("interpolated"), "sinc"}},
        getMember(&Document::eyes, id, &EyeEntry::interpolate),
        setMember<std::string>(&Document::eyes, id, &EyeEntry::interpolate));
    form.fact(tr("holds"), [this, id] {
        const EyeResult *result = m_bench.results() ? findEntry(m_bench.results()->eyes, id) : nullptr;
        if (!result) return QString();
        if (!result->fold) return text(result->reason);
        return tr("%1 UI, %2 samples").arg(result->fold->unitIntervals).arg(result->fold->samples);
    });
    for (const MaskEntry &mask : document.masks) {
        if (mask.eye == id) return fillMask(form, mask.id);
    }
    const auto shipped = maskIds(shareFolder() / "masks");
    form.heading(tr("Mask"));
    for (const std::string &mask : shipped)
        form.button(tr("Test against %1").arg(text(mask)), "mask_" + text(mask),
                    [this, id, mask] { addMask(m_bench, id, mask); });
}

void InspectorView::fillMask(InspectorForm &form, const std::string &id)
{
    form.heading(tr("Mask"));
    form.choiceField(
        tr("areas"), "maskChoice",
        [] {
            Choices choices;
            for (const std::string &mask : maskIds(shareFolder() / "masks")) choices.emplace_back(text(mask), mask);
            return choices;
        }(),
        getMember(&Document::masks, id, &MaskEntry::mask),
        setMember<std::string>(&Document::masks, id, &MaskEntry::mask));
    form.quantityField(
        tr("margin %"), "margin", "%", false,
        [id](const Document &d) {
            const auto *e = findEntry(d.masks, id);
            return std::optional(e ? 100 * e->margin : 0);
        },
        [id](Document &d, std::optional<double> v) {
            if (MaskEntry *e = findEntry(d.masks, id); e && v) e->margin = *v / 100;
        });
    form.fact(tr("result"), [this, id] {
        const MaskRun *run = m_bench.results() ? findEntry(m_bench.results()->masks, id) : nullptr;
        if (!run) return QString();
        if (!run->result) return text(run->reason);
        QString words = tr("%1 of %2 UI failed, %3 hits")
                            .arg(run->result->failedUnitIntervals)
                            .arg(run->result->unitIntervals)
                            .arg(run->result->hits);
        for (std::size_t i = 0; i < run->definition.areas.size(); ++i)
            words += "\n" + text(run->definition.areas[i].name) + ": " + QString::number(run->result->areaHits[i]);
        if (run->result->margin)
            words +=
                tr("\nlargest margin that passes: %1").arg(text(quantityText(100 * *run->result->margin, "%", {}, 3)));
        return words;
    });
    form.button(tr("Grow to the largest margin"), "findMargin", [this, id] {
        const MaskRun *run = m_bench.results() ? findEntry(m_bench.results()->masks, id) : nullptr;
        if (!run || !run->result || !run->result->margin) return;
        const double margin = std::max(-0.999, std::floor(*run->result->margin * 1000) / 1000);
        m_bench.change(tr("set margin"), [&](Document &document) {
            if (MaskEntry *entry = findEntry(document.masks, id)) entry->margin = margin;
        });
    });
    form.button(tr("Remove the mask"), "removeMask", [this, id] {
        m_bench.change(tr("remove mask"), [&](Document &document) {
            removeWithDependents(document, {Selection::Kind::mask, id});
        });
    });
}

void InspectorView::fillMeasurement(InspectorForm &form, const std::string &id)
{
    const MeasurementEntry &entry = *findEntry(m_bench.document().measurements, id);
    const Row *row = m_bench.results() ? findEntry(m_bench.results()->rows, id) : nullptr;
    form.heading(row ? text(row->title) : text(entry.quantity));
    const auto unit = [this, id]() -> std::string { // the table's, or the channel's, which may be known only later
        const MeasurementEntry *e = findEntry(m_bench.document().measurements, id);
        const Quantity *quantity = e ? findQuantity(e->quantity) : nullptr;
        if (!quantity) return {};
        if (quantity->unit) return quantity->unit;
        const EyeEntry *eye = findEntry(m_bench.document().eyes, e->eye);
        const ClockEntry *clock = findEntry(m_bench.document().clocks, e->clock);
        return m_bench.unitOf(eye                          ? eye->source
                              : e->source.empty() && clock ? clock->source
                                                           : e->source) +
               quantity->per;
    };
    if (!entry.source.empty())
        form.choiceField(tr("of"), "source", idsOf(m_bench.document().channels),
                         getMember(&Document::measurements, id, &MeasurementEntry::source),
                         setMember<std::string>(&Document::measurements, id, &MeasurementEntry::source));
    if (!entry.clock.empty())
        form.choiceField(tr("clock"), "clock", idsOf(m_bench.document().clocks),
                         getMember(&Document::measurements, id, &MeasurementEntry::clock),
                         setMember<std::string>(&Document::measurements, id, &MeasurementEntry::clock));
    if (!entry.eye.empty())
        form.choiceField(tr("eye"), "eye", idsOf(m_bench.document().eyes),
                         getMember(&Document::measurements, id, &MeasurementEntry::eye),
                         setMember<std::string>(&Document::measurements, id, &MeasurementEntry::eye));
    if (entry.eye.empty() && !m_bench.document().regions.empty())
        form.choiceField(tr("region"), "region", regionChoices(m_bench.document()),
                         getMember(&Document::measurements, id, &MeasurementEntry::region),
                         setMember<std::string>(&Document::measurements, id, &MeasurementEntry::region));
    const auto limit = [id](const Document &d) {
        const auto *e = findEntry(d.measurements, id);
        return e && e->limit ? *e->limit : LimitEntry{};
    };
    const auto setLimit = [id](Document &d, const LimitEntry &l) {
        MeasurementEntry *e = findEntry(d.measurements, id);
        if (!e) return;
        if (l.min || l.max)
            e->limit = l;
        else
            e->limit.reset();
    };
    form.quantityField(
        tr("at least"), "limitMin", unit, true, [limit](const Document &d) { return limit(d).min; },
        [=](Document &d, std::optional<double> v) {
            LimitEntry l = limit(d);
            l.min = v;
            setLimit(d, l);
        });
    form.quantityField(
        tr("at most"), "limitMax", unit, true, [limit](const Document &d) { return limit(d).max; },
        [=](Document &d, std::optional<double> v) {
            LimitEntry l = limit(d);
            l.max = v;
            setLimit(d, l);
        });
    form.heading(tr("How it was made"));
    form.fact({}, [this, id] {
        const Row *made = m_bench.results() ? findEntry(m_bench.results()->rows, id) : nullptr;
        if (!made) return QString();
        QStringList lines;
        if (!made->reason.empty()) lines << tr("unmeasurable: ") + text(made->reason);
        for (const auto &[what, how] : made->provenance) lines << text(what + ": " + how);
        if (made->statistics.count > 1)
            lines << tr("population: %1 values; uncertainty of the mean by batch means").arg(made->statistics.count);
        return lines.join("\n");
    });
    form.button(tr("Add its histogram to the sheet"), "addHistogram", [this, id] {
        m_bench.change(tr("add histogram"), [&](Document &document) {
            TileEntry tile;
            tile.kind = "histogram";
            tile.of = {id};
            addTile(document, m_bench.sheet(), tile);
        });
    });
}

} // namespace fulvex
