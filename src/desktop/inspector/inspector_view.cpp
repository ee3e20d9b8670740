#include "inspector_view.h"

#include "action.h"
#include "axis_painter.h"
#include "clock_edits.h"
#include "count_words.h"
#include "described_fields.h"
#include "eye_edits.h"
#include "jitter_fields.h"
#include "loop_plot.h"
#include "mask_edits.h"
#include "mask_list.h"
#include "measurement_edits.h"
#include "number_text.h"
#include "quantity_table.h"
#include "references.h"
#include "remedy_edit.h"
#include "retire.h"
#include "tile_edits.h"

#include <QScrollBar>

namespace fulvex {

InspectorView::InspectorView(Workbench &bench, QWidget *parent)
    : QWidget(parent), m_bench(bench), m_scroll(new QScrollArea), m_page(new QWidget)
{
    auto *layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 6, 0, 0);
    m_scroll->setObjectName("inspectorScroll");
    m_scroll->setWidgetResizable(true);
    m_scroll->setFrameShape(QFrame::NoFrame);
    m_scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    layout->addWidget(m_scroll);
    auto *page = new QVBoxLayout(m_page);
    page->setContentsMargins(0, 0, 0, 0);
    m_scroll->setWidget(m_page);
    for (auto changed : {&Workbench::documentChanged, &Workbench::resultsChanged, &Workbench::selectionChanged,
                         &Workbench::comparisonsChanged, &Workbench::lookChanged})
        connect(&bench, changed, this, &InspectorView::follow);
    connect(&bench, &Workbench::runChanged, this, &InspectorView::follow);
    connect(&bench.live(), &LiveKeeper::changed, this, &InspectorView::follow);
    rebuild();
}

/// Tiles of the shown sheet that show a row first, and can be set.
static std::vector<const TileEntry *> tilesOf(const Workbench &bench, const std::string &row)
{
    std::vector<const TileEntry *> tiles;
    const auto &sheets = bench.document().sheets;
    if (std::size_t(bench.sheet()) >= sheets.size()) return tiles;
    for (const TileEntry &tile : sheets[std::size_t(bench.sheet())].tiles) {
        const bool shows = !tile.of.empty() && tile.of.front() == row;
        if (shows && tile.kind != "traces" && tile.kind != "eye" && tile.kind != "scatter") tiles.push_back(&tile);
    }
    return tiles;
}

/// What the fields of a set of levels go by.
static QString shapeOfLevels(const Document &document, const std::string &id)
{
    const LevelsEntry *levels = findEntry(document.levels, id);
    return text(id) + (levels ? text(levels->kind + levels->states) : "usual");
}

QString InspectorView::shape() const
{
    const Selection &selection = m_bench.selection();
    QString shape = QString::number(int(selection.kind)) + text(selection.id);
    for (const ComparisonEntry &one : m_bench.document().comparisons) shape += "|" + text(one.id);
    if (const ClockEntry *clock = findEntry(m_bench.document().clocks, selection.id))
        shape += text(clock->method) + QString::number(clock->order) + shapeOfLevels(m_bench.document(), clock->levels);
    if (const MeasurementEntry *row = findEntry(m_bench.document().measurements, selection.id)) {
        shape += shapeOfLevels(m_bench.document(), row->levels);
        for (const TileEntry *tile : tilesOf(m_bench, row->id))
            shape += text(tile->id + tile->kind) + (tile->smooth ? "smooth" : "");
        for (const std::string &other : m_bench.selectedWith()) shape += "+" + text(other);
    }
    if (const ProgramStatus *program =
            m_bench.results() ? findEntry(m_bench.results()->programs, selection.id) : nullptr)
        shape += text(program->sha256) + QString::number(int(program->state));
    if (const BudgetEntry *budget = findEntry(m_bench.document().budgets, selection.id)) {
        if (const ClockEntry *clock = findEntry(m_bench.document().clocks, budget->clock)) shape += text(clock->method);
    }
    if (const SpectrumEntry *spectrum = findEntry(m_bench.document().spectra, selection.id)) {
        for (const TileEntry *tile : tilesOf(m_bench, spectrum->id)) shape += text(tile->id + tile->kind);
    }
    for (const MaskEntry &mask : m_bench.document().masks)
        shape += text(mask.id + mask.eye + mask.mask) + (mask.own() ? "own" : "");
    forEachEntry(m_bench.document(), [&](const EntryList &list, std::size_t i, const std::string &) {
        if (list.kind() != EntryKind::measurement && list.kind() != EntryKind::tile) shape += " " + text(list.id(i));
    });
    if (fieldsOf(m_bench.document(), selection.id).empty()) shape += " gone"; // an undo may have taken it away
    if (selection.kind == Selection::Kind::capture) {
        if (const CaptureResult *result =
                m_bench.results() ? findEntry(m_bench.results()->captures, selection.id) : nullptr) {
            for (const StatedFact &fact : result->stated) shape += text(fact.what + fact.value);
        }
        if (const CaptureEntry *entry = findEntry(m_bench.document().captures, selection.id))
            shape += QString(entry->isRun() ? "run" : "") + (entry->live.address.empty() ? "" : "live") +
                     text(entry->live.keep);
        shape += m_bench.live().running() ? "acquiring" : "";
    }
    for (const Remedy &remedy : remediesOf(selection.id)) shape += text(remedy.words);
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
    retire(m_form);
    m_form = new InspectorForm(m_bench, m_page);
    m_form->setObjectName("inspectorForm");
    fill(*m_form, m_bench.selection());
    m_form->refresh();
    m_page->layout()->addWidget(m_form);
    m_form->show();
    if (m_of == m_bench.selection()) return;
    m_of = m_bench.selection();
    m_scroll->verticalScrollBar()->setValue(0);
}

void InspectorView::fill(InspectorForm &form, const Selection &selection)
{
    using Kind = Selection::Kind;
    static constexpr std::pair<Kind, void (InspectorView::*)(InspectorForm &, const std::string &)> fillers[] = {
        {Kind::capture, &InspectorView::fillCapture},
        {Kind::channel, &InspectorView::fillChannel},
        {Kind::clock, &InspectorView::fillClock},
        {Kind::eye, &InspectorView::fillEye},
        {Kind::mask, &InspectorView::fillMask},
        {Kind::measurement, &InspectorView::fillMeasurement},
        {Kind::region, &InspectorView::fillRegion},
        {Kind::parameter, &InspectorView::fillParameter},
        {Kind::function, &InspectorView::fillFunction},
        {Kind::budget, &InspectorView::fillBudget},
        {Kind::phaseNoise, &InspectorView::fillPhaseNoise},
        {Kind::spectrum, &InspectorView::fillSpectrum},
        {Kind::program, &InspectorView::fillProgram},
        {Kind::marker, &InspectorView::fillMarker},
        {Kind::note, &InspectorView::fillNote}};
    const auto own = std::ranges::find(fillers, selection.kind, [](const auto &filler) { return filler.first; });
    const std::vector<std::string> there = idsOf(m_bench.document(), selection.kind);
    if (own != std::end(fillers) && std::ranges::find(there, selection.id) != there.end())
        (this->*own->second)(form, selection.id);
    else
        fillNothing(form);
}

void InspectorView::fillNothing(InspectorForm &form)
{
    form.heading(tr("Project"));
    addDescribedFields(form, m_bench, {});
    form.fact(
        {}, [] { return tr("Select something in the Chain, the Ledger or on the sheet: its settings appear here."); });
}

const std::vector<Finding> *InspectorView::findingsOf(const std::string &id) const
{
    const auto results = m_bench.results();
    if (!results) return nullptr;
    if (const CaptureResult *capture = findEntry(results->captures, id)) return &capture->findings;
    if (const ClockResult *clock = findEntry(results->clocks, id)) return &clock->findings;
    return nullptr;
}

std::vector<Remedy> InspectorView::remediesOf(const std::string &id) const
{
    std::vector<Remedy> remedies;
    const std::vector<Finding> *findings = findingsOf(id);
    if (!findings || !m_bench.upToDate()) return remedies;
    for (const Finding &finding : *findings) {
        if (finding.remedy) remedies.push_back(*finding.remedy);
    }
    return remedies;
}

void InspectorView::fillRemedies(InspectorForm &form, const std::string &id)
{
    for (const Remedy &remedy : remediesOf(id)) {
        QString words = text(remedy.words);
        words.front() = words.front().toUpper();
        form.button(words, "remedy", [this, remedy] {
            m_bench.change(text(remedy.words), [&](Document &document) { applyRemedy(document, remedy); });
        });
    }
}

void InspectorView::fillCapture(InspectorForm &form, const std::string &id)
{
    fillRun(form, id);
    form.heading(tr("Capture"));
    addDescribedFields(form, m_bench, id);
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
        if (!result || (result->pending && result->findings.empty())) return tr("is being made");
        const auto warnings = std::count_if(result->findings.begin(), result->findings.end(),
                                            [](const Finding &finding) { return finding.level == "warning"; });
        if (result->findings.empty()) return tr("nothing to remark");
        return (warnings ? countOf(std::size_t(warnings), tr("warning"), tr("warnings"))
                         : countOf(result->findings.size(), tr("remark"), tr("remarks"))) +
               tr(", in Evidence below");
    });
    fillRemedies(form, id);
    if (const CaptureResult *result = m_bench.results() ? findEntry(m_bench.results()->captures, id) : nullptr;
        result && !result->stated.empty()) {
        form.heading(tr("What the file says"));
        for (const StatedFact &fact : result->stated)
            form.fact(text(fact.what), [value = text(fact.value)] { return value; });
    }
    form.fact("SHA-256", [this, id] {
        const CaptureResult *result = m_bench.results() ? findEntry(m_bench.results()->captures, id) : nullptr;
        return result ? text(result->sha256.substr(0, 16)) + (result->sha256.empty() ? "" : "…") : QString();
    });
}

void InspectorView::fillChannel(InspectorForm &form, const std::string &id)
{
    form.heading(tr("Channel %1").arg(text(id)));
    addDescribedFields(form, m_bench, id);
    form.fact({}, [this, id] {
        const ChannelResult *result = m_bench.results() ? findEntry(m_bench.results()->channels, id) : nullptr;
        return result ? text(result->error) : QString();
    });
    form.button(tr("Keep a copy of the trace"), "keepCopy", [this, id] { m_bench.keepCopy(id); });
    form.button(tr("Add an eye"), "addEyeOf", [this, id] { addEyeOf(m_bench, id); });
    form.button(tr("Add a loop clock"), "addLoop", [this, id] { addClock(m_bench, id, "pll"); });
    form.button(tr("Add a fixed clock"), "addFixed", [this, id] { addClock(m_bench, id, "fixed"); });
}

void InspectorView::fillParameter(InspectorForm &form, const std::string &id)
{
    form.heading(tr("Parameter %1").arg(text(id)));
    fillNamed(form, id);
}

void InspectorView::fillFunction(InspectorForm &form, const std::string &id)
{
    form.heading(tr("Function %1").arg(text(id)));
    fillNamed(form, id);
}

/// What formulas name.
void InspectorView::fillNamed(InspectorForm &form, const std::string &id)
{
    addDescribedFields(form, m_bench, id);
    form.fact(tr("used by"), [this, id] {
        QStringList users;
        for (const std::string &user : usersOf(m_bench.document(), id)) users << text(user);
        return users.empty() ? tr("nothing yet: write \"%1\" into a formula").arg(text(id)) : users.join(", ");
    });
}

void InspectorView::fillEye(InspectorForm &form, const std::string &id)
{
    const Document &document = m_bench.document();
    const EyeEntry &entry = *findEntry(document.eyes, id);
    form.heading((entry.atUnitIntervals() ? tr("Eye of %1") : tr("Overlay of %1")).arg(text(entry.source)));
    addDescribedFields(form, m_bench, id);
    form.fact(tr("holds"), [this, id] {
        const EyeResult *result = m_bench.results() ? findEntry(m_bench.results()->eyes, id) : nullptr;
        if (!result) return QString();
        if (!result->fold) return text(result->reason);
        const bool atEdges = result->rule.across.seconds;
        const QString words = atEdges                  ? tr("%1 of %3 edges,\n%2 samples")
                              : result->rule.overlay() ? tr("%1 repeats,\n%2 samples")
                                                       : tr("%1 UI, %2 samples");
        QString holds = words.arg(result->fold->unitIntervals).arg(result->fold->samples);
        return atEdges ? holds.arg(result->triggers) : holds;
    });
    if (entry.atEdges())
        form.fact({}, [] { return tr("Edges within the time of one before, and at the ends, are left out."); });
    if (!entry.atUnitIntervals())
        form.button(tr("Averaged trace as a channel"), "addAverage", [this, id] { addAverage(m_bench, id); });
    if (!entry.atEdges()) addSymbolSearch(form, id);
    if (const MaskEntry *mask = maskOn(document, id)) return fillMask(form, mask->id);
    if (entry.atPattern()) return; // a mask is of single unit intervals
    if (entry.atEdges()) {
        form.heading(tr("Test against a template"));
        form.button(tr("Draw one by hand"), "drawTemplate", [this, id] { drawMask(m_bench, id); });
        return;
    }
    form.heading(tr("Test against a mask"));
    auto *masks = new MaskList(m_bench, {});
    connect(masks, &MaskList::picked, this, [this, id](const std::string &mask) { addMask(m_bench, id, mask); });
    form.widget(masks);
}

void InspectorView::addSymbolSearch(InspectorForm &form, const std::string &id)
{
    auto *symbols = new QLineEdit;
    symbols->setObjectName("findSymbols");
    symbols->setPlaceholderText(tr("find symbols: 0011?1"));
    symbols->setToolTip(tr("Return: where these symbols follow on each other; ? is any"));
    connect(symbols, &QLineEdit::returnPressed, this,
            [this, id, symbols] { findSymbols(m_bench, id, symbols->text().toStdString()); });
    form.widget(symbols);
}

void InspectorView::fillMeasurement(InspectorForm &form, const std::string &id)
{
    const MeasurementEntry &entry = *findEntry(m_bench.document().measurements, id);
    const Quantity *quantity = findQuantity(entry.quantity);
    const std::vector<std::string> &others = m_bench.selectedWith();
    form.heading(!others.empty() ? tr("%1 rows").arg(others.size() + 1)
                 : quantity      ? tr(quantity->title)
                                 : text(entry.quantity));
    if (!others.empty()) form.fact({}, [] { return tr("What is set here is set in all of them that have it."); });
    if (others.empty()) fillBeside(form, id);
    addDescribedFields(
        form, m_bench, id,
        [&](const Field &field) {
            // "to" is another channel, or a frequency.
            const bool frequency =
                std::holds_alternative<std::optional<double> *>(field.value) && field.key == std::string_view("to");
            const std::string_view key = frequency ? "to_frequency" : field.key;
            return (key == "id" && others.empty()) || *field.group || !quantity || quantity->takes(key);
        },
        others);
    if (quantity && quantity->takes("pattern")) addJitterFields(form, id);
    if (!quantity || quantity->takes("levels")) fillLevels(form, id, entry.levels);
    form.heading(tr("How it was made"));
    form.fact({}, [this, id] {
        const Row *made = m_bench.results() ? findEntry(m_bench.results()->rows, id) : nullptr;
        if (!made) return QString();
        QStringList lines;
        if (!made->reason.empty()) lines << tr("unmeasurable: ") + text(made->reason);
        for (const auto &[what, how] : made->provenance) lines << text(what + ": " + how);
        if (made->statistics.count > 1) lines << tr("population: %1 values").arg(made->statistics.count);
        return lines.join("\n");
    });
    form.button(tr("Add its histogram to the sheet"), "addHistogram",
                [this, id] { addTileOf(m_bench, "histogram", {id}); });
    fillTiles(form, id);
}

void InspectorView::fillTiles(InspectorForm &form, const std::string &id)
{
    for (const TileEntry *tile : tilesOf(m_bench, id)) {
        form.heading(tr("Its %1 on this sheet").arg(text(tile->kind).remove("channel_").replace('_', ' ')));
        addDescribedFields(form, m_bench, tile->id);
    }
}

void InspectorView::fillSpectrum(InspectorForm &form, const std::string &id)
{
    const SpectrumEntry &entry = *findEntry(m_bench.document().spectra, id);
    form.heading(entry.kind == "transfer" ? tr("Transfer function of %1 to %2").arg(text(entry.source), text(entry.to))
                                          : (entry.kind == "spectrogram"       ? tr("Spectrogram of %1")
                                             : entry.kind == "autocorrelation" ? tr("Autocorrelation of %1")
                                                                               : tr("Spectrum of %1"))
                                                .arg(text(entry.row.empty() ? entry.source : entry.row)));
    addDescribedFields(form, m_bench, id);
    fillTiles(form, id);
    form.heading(tr("How it was made"));
    form.fact({}, [this, id] {
        const SpectrumResult *made = m_bench.results() ? findEntry(m_bench.results()->spectra, id) : nullptr;
        if (!made) return QString();
        if (!made->reason.empty()) return text(made->reason);
        QStringList lines;
        for (const auto &[what, how] : made->provenance) lines << text(what + ": " + how);
        return lines.join("\n");
    });
    if (entry.kind != "spectrum") return;
    form.heading(tr("Its lines"));
    form.fact({}, [this, id] {
        const SpectrumResult *made = m_bench.results() ? findEntry(m_bench.results()->spectra, id) : nullptr;
        if (!made || !made->spectrum) return QString();
        const double step = made->spectrum->power.step;
        QStringList lines;
        for (const SpectralLine &line : made->spectrum->lines) {
            if (lines.size() == 20) break;
            lines << text(quantityText(line.frequency, "Hz", step / 20) + ": " +
                          quantityText(line.rms(), made->unit, {}, 4) + " rms");
        }
        return lines.isEmpty() ? tr("none stands out of the noise") : lines.join("\n");
    });
}

} // namespace fulvex
