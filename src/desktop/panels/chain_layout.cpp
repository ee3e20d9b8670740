#include "chain_layout.h"

#include "axis_painter.h"
#include "error.h"
#include "formula.h"
#include "formula_check.h"
#include "number_text.h"
#include "references.h"
#include "trace_figure.h"

#include <QFileInfo>
#include <map>

namespace fulvex {

namespace {

class Builder {
public:
    Builder(const Document &document, const Results *results) : m_document(document), m_results(results) {}

    ChainLayout build()
    {
        for (const CaptureEntry &capture : m_document.captures) {
            addCapture(capture);
            int lane = 0;
            for (const ChannelEntry &channel : m_document.channels) {
                if (channel.capture == capture.id) addChannel(channel, 16 + ChainLayout::indent * double(lane++ % 3));
            }
            addReadyFormulas();
        }
        for (const ProgramEntry &program : m_document.programs) addProgram(program);
        addReadyFormulas();
        m_layout.height = m_y + 8;
        return std::move(m_layout);
    }

private:
    double next()
    {
        const double y = m_y + ChainLayout::rowHeight / 2;
        m_y += ChainLayout::rowHeight;
        return y;
    }
    /// What they are of, as far as there is room; in full when the pointer rests there.
    void addWarnings(ChainLayout::Row &row, const std::vector<Finding> &findings)
    {
        QStringList names;
        for (const Finding &finding : findings) {
            if (finding.level != "warning") continue;
            row.remarks << text(finding.text);
            const QString name = text(finding.check).replace('_', ' ');
            if (!names.contains(name)) names << name;
        }
        if (names.empty()) return;
        row.problem = true;
        row.facts += QObject::tr(" · warning: ") + names.front();
        if (names.size() > 1) row.facts += QObject::tr(" and %1 more").arg(names.size() - 1);
    }
    static QString nameOf(const CaptureEntry &entry)
    {
        if (entry.file.empty()) return text(entry.live.address.empty() ? entry.id : entry.live.address);
        return text(memberName(QFileInfo(text(entry.file)).fileName().toStdString(), entry.import.segment));
    }
    void addCapture(const CaptureEntry &entry)
    {
        ChainLayout::Row row{{Selection::Kind::capture, entry.id}, nameOf(entry), {}, -1, 16, next(), false};
        const CaptureResult *result = m_results ? findEntry(m_results->captures, entry.id) : nullptr;
        if (entry.file.empty()) {
            row.facts = entry.live.address.empty() ? QObject::tr("no file yet: it is taken when it comes")
                                                   : QObject::tr("no capture yet: F5 takes one");
        } else if (result && !result->error.empty()) {
            row.facts = QObject::tr("cannot be read");
            row.problem = true;
        } else if (result) {
            row.facts = text(quantityText(1 / result->sampleInterval, "S/s", {}, 3) + " · " +
                             quantityText(result->sampleInterval * double(result->samples), "s", {}, 3));
            if (entry.isRun()) row.facts = QObject::tr("one of a run · ") + row.facts;
            addWarnings(row, result->findings);
        }
        m_at[entry.id] = {row.x, row.y};
        m_layout.rows.push_back(row);
    }
    void addChannel(const ChannelEntry &entry, double x)
    {
        ChainLayout::Row row{{Selection::Kind::channel, entry.id},
                             text(entry.shownName()),
                             {},
                             inkOf(m_document, entry.id),
                             x,
                             next(),
                             false};
        if (!entry.formula.empty()) row.title += text(" = " + entry.formula);
        const ChannelResult *result = m_results ? findEntry(m_results->channels, entry.id) : nullptr;
        QStringList facts;
        if (result && !result->error.empty()) row.problem = true, facts << QObject::tr("cannot be made");
        if (result && result->pyramid && !result->pyramid->whole().empty()) {
            const Extent whole = result->pyramid->whole();
            facts << text(quantityText(whole.low, result->unit, {}, 3) + " … " +
                          quantityText(whole.high, result->unit, {}, 3));
        }
        if (entry.delay != 0) facts << QObject::tr("deskewed by %1").arg(text(quantityText(-entry.delay, "s", {}, 3)));
        if (result && !result->remark.empty()) {
            facts << QObject::tr("its program says something");
            row.remarks << text(result->remark);
        }
        row.facts = facts.join(" · ");
        if (entry.formula.empty())
            join(entry.capture, {x, row.y}, row.ink);
        else
            for (const std::string &name : Formula::parse(entry.formula, ownFunctions(m_document)).names()) {
                for (const std::string &parent : channelsBehind(m_document, name))
                    join(parent, {x, row.y}, inkOf(m_document, parent));
                if (findEntry(m_document.programs, name)) join(name, {x, row.y}, row.ink);
            }
        m_at[entry.id] = {x, row.y};
        m_layout.rows.push_back(row);
        for (const ClockEntry &clock : m_document.clocks) {
            if (clock.source == entry.id) addClock(clock, row.ink);
        }
        for (const EyeEntry &overlay : m_document.eyes) {
            if (overlay.atEdges() && overlay.source == entry.id) addEye(overlay, row.ink);
        }
        for (const SpectrumEntry &spectrum : m_document.spectra) {
            if (channelOf(m_document, spectrum.id) == entry.id) addSpectrum(spectrum, entry.id, row.ink);
        }
        for (const PhaseNoiseEntry &noise : m_document.phaseNoise) {
            if (noise.clock.empty() && noise.source == entry.id) addPhaseNoise(noise, entry.id, row.ink);
        }
    }
    void addClock(const ClockEntry &entry, int ink)
    {
        const double x = m_at[entry.source].x() + ChainLayout::indent;
        ChainLayout::Row row{{Selection::Kind::clock, entry.id}, text(entry.id), {}, ink, x, next(), false};
        const ClockResult *result = m_results ? findEntry(m_results->clocks, entry.id) : nullptr;
        if (result && !result->clock) {
            row.facts = QObject::tr("no clock found");
            row.problem = !result->reason.empty();
        } else {
            row.facts =
                entry.method == "pll"
                    ? QObject::tr("order %1, %2").arg(entry.order).arg(text(quantityText(entry.bandwidth, "Hz", {}, 3)))
                : entry.method == "forwarded" ? QObject::tr("beside %1").arg(text(entry.from))
                                              : QObject::tr("fixed");
            if (entry.modulation > 2) row.facts += QObject::tr(", %1 levels").arg(entry.modulation);
            if (result) row.facts += ", " + text(quantityText(result->rate, "Bd", {}, 6));
            if (result) addWarnings(row, result->findings);
        }
        join(entry.source, {x, row.y}, ink);
        m_at[entry.id] = {x, row.y};
        m_layout.rows.push_back(row);
        for (const EyeEntry &eye : m_document.eyes) {
            if (eye.clock == entry.id && !eye.atEdges()) addEye(eye, ink);
        }
        for (const BudgetEntry &budget : m_document.budgets) {
            if (budget.clock == entry.id) addBudget(budget, ink);
        }
        for (const PhaseNoiseEntry &noise : m_document.phaseNoise) {
            if (noise.clock == entry.id) addPhaseNoise(noise, entry.id, ink);
        }
    }
    void addProgram(const ProgramEntry &entry)
    {
        ChainLayout::Row row{{Selection::Kind::program, entry.id}, text(entry.id), {}, -1, 16, next(), false};
        const ProgramStatus *status = m_results ? findEntry(m_results->programs, entry.id) : nullptr;
        row.facts = QFileInfo(text(entry.file)).fileName();
        if (status && status->state != ProgramStatus::State::allowed) {
            row.facts += status->state == ProgramStatus::State::missing ? QObject::tr(" · is not there")
                                                                        : QObject::tr(" · not allowed to run");
            row.problem = true;
        }
        m_at[entry.id] = {row.x, row.y};
        m_layout.rows.push_back(row);
    }
    void addSpectrum(const SpectrumEntry &entry, const std::string &channel, int ink)
    {
        const double x = m_at[channel].x() + ChainLayout::indent;
        ChainLayout::Row row{{Selection::Kind::spectrum, entry.id}, text(entry.id), {}, ink, x, next(), false};
        row.facts = entry.kind == "transfer" ? QObject::tr("transfer function to %1").arg(text(entry.to))
                                             : text(entry.kind + (entry.row.empty() ? "" : " of " + entry.row));
        const SpectrumResult *result = m_results ? findEntry(m_results->spectra, entry.id) : nullptr;
        if (result && result->spectrum && !result->spectrum->lines.empty())
            row.facts += QObject::tr(" · %1 strongest")
                             .arg(text(quantityText(result->spectrum->lines.front().frequency, "Hz", {}, 4)));
        if (result && !result->reason.empty()) row.facts = QObject::tr("cannot be made"), row.problem = true;
        join(channel, {x, row.y}, ink);
        m_layout.rows.push_back(row);
    }
    void addBudget(const BudgetEntry &entry, int ink)
    {
        const double x = m_at[entry.clock].x() + ChainLayout::indent;
        ChainLayout::Row row{{Selection::Kind::budget, entry.id}, text(entry.id), {}, ink, x, next(), false};
        const BudgetResult *result = m_results ? findEntry(m_results->budgets, entry.id) : nullptr;
        if (result && result->found)
            row.facts =
                QObject::tr("%1 UI eaten at %2")
                    .arg(text(fixedText(result->budget.total / result->budget.unitInterval, 3)), ratioText(entry.ber));
        if (result && !result->reason.empty()) row.facts = QObject::tr("cannot be told"), row.problem = true;
        if (result && result->verdict == Verdict::fail) row.problem = true;
        if (result)
            for (const std::string &remark : result->remarks) row.remarks << text(remark);
        join(entry.clock, {x, row.y}, ink);
        m_layout.rows.push_back(row);
    }
    void addPhaseNoise(const PhaseNoiseEntry &entry, const std::string &on, int ink)
    {
        const double x = m_at[on].x() + ChainLayout::indent;
        ChainLayout::Row row{{Selection::Kind::phaseNoise, entry.id}, text(entry.id), {}, ink, x, next(), false};
        const PhaseNoiseResult *result = m_results ? findEntry(m_results->phaseNoise, entry.id) : nullptr;
        if (result && result->found)
            row.facts = QObject::tr("%1 rms").arg(text(quantityText(result->jitter.value, "s", {}, 3)));
        if (result && !result->reason.empty()) row.facts = QObject::tr("cannot be told"), row.problem = true;
        if (result && result->verdict == Verdict::fail) row.problem = true;
        if (result)
            for (const std::string &remark : result->remarks) row.remarks << text(remark);
        join(on, {x, row.y}, ink);
        m_layout.rows.push_back(row);
    }
    void addEye(const EyeEntry &entry, int ink)
    {
        const std::string &on = entry.atEdges() ? entry.source : entry.clock;
        const double x = m_at[on].x() + ChainLayout::indent;
        ChainLayout::Row row{{Selection::Kind::eye, entry.id}, text(entry.id), {}, ink, x, next(), false};
        const EyeResult *result = m_results ? findEntry(m_results->eyes, entry.id) : nullptr;
        if (result && result->fold)
            row.facts = (entry.atUnitIntervals() ? QObject::tr("%1 UI")
                         : entry.atEdges()       ? QObject::tr("overlay of %1 edges")
                                                 : QObject::tr("overlay of %1 repeats"))
                            .arg(result->fold->unitIntervals);
        if (const MaskEntry *mask = maskOn(m_document, entry.id)) {
            const MaskRun *run = m_results ? findEntry(m_results->masks, mask->id) : nullptr;
            if (run && run->result)
                row.facts += run->result->failedUnitIntervals
                                 ? QObject::tr(" · %1 failed").arg(run->result->failedUnitIntervals)
                                 : QObject::tr(" · mask passes");
            row.problem |= run && run->verdict == Verdict::fail;
        }
        if (result && !result->reason.empty()) row.facts = QObject::tr("cannot be folded"), row.problem = true;
        join(on, {x, row.y}, ink);
        m_at[entry.id] = {x, row.y};
        m_layout.rows.push_back(row);
    }
    /// Formulas whose channels are all placed.
    void addReadyFormulas()
    {
        for (bool again = true; std::exchange(again, false);) {
            for (const ChannelEntry &channel : m_document.channels) {
                if (channel.formula.empty() || m_at.contains(channel.id)) continue;
                bool ready = true;
                double x = 16;
                for (const std::string &name : Formula::parse(channel.formula, ownFunctions(m_document)).names()) {
                    for (const std::string &parent : channelsBehind(m_document, name)) ready &= m_at.contains(parent);
                    if (findEntry(m_document.programs, name)) ready &= m_at.contains(name);
                }
                if (!ready) continue;
                addChannel(channel, x + ChainLayout::indent / 2);
                again = true;
            }
        }
    }
    void join(const std::string &from, QPointF to, int ink)
    {
        const auto found = m_at.find(from);
        if (found != m_at.end()) m_layout.rails.push_back({found->second, to, ink});
    }

    const Document &m_document;
    const Results *m_results;
    ChainLayout m_layout;
    std::map<std::string, QPointF> m_at;
    double m_y = 2;
};

} // namespace

ChainLayout chainLayout(const Document &document, const Results *results)
{
    return Builder(document, results).build();
}

} // namespace fulvex
