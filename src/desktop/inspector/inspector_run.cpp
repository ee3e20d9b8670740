// A run, and an instrument that its captures come from, in the Inspector.

#include "axis_painter.h"
#include "inspector_view.h"
#include "number_text.h"

namespace fulvex {

static QString stateOf(const LiveState &state)
{
    QStringList lines;
    if (!state.identity.empty()) lines << text(state.identity);
    if (state.captures > 0)
        lines << QObject::tr("%1 captures, %2 a second")
                     .arg(state.captures)
                     .arg(text(fixedText(state.perSecond, state.perSecond < 10 ? 1 : 0)));
    if (!state.message.empty()) lines << QObject::tr("▲ %1").arg(text(state.message));
    if (lines.isEmpty()) lines << (state.running ? QObject::tr("connecting …") : QObject::tr("not asked yet"));
    return lines.join('\n');
}

void InspectorView::fillRun(InspectorForm &form, const std::string &id)
{
    const CaptureEntry *entry = findEntry(m_bench.document().captures, id);
    if (!entry || !entry->isRun()) return;
    form.heading(tr("Run"));
    form.fact(tr("counted"), [this] {
        const auto &run = m_bench.run();
        if (!run) return QString("…");
        return tr("%1 of %2").arg(run->counted).arg(run->members.size()) +
               (run->failed ? tr(", %1 failed").arg(run->failed) : QString()) +
               (run->unread ? tr(", %1 not read").arg(run->unread) : QString());
    });
    if (!entry->live.address.empty()) {
        form.fact(tr("instrument"), [this, id] {
            return m_bench.live().capture() == id ? stateOf(m_bench.live().state()) : tr("not asked yet");
        });
        form.button(tr("Acquire one (F5)"), "liveOne", [this, id] { m_bench.acquire(id, 1); });
        if (m_bench.live().running())
            form.button(tr("Stop (Shift+F6)"), "liveStop", [this] { m_bench.live().stop(); });
        else
            form.button(tr("Again and again (F6)"), "liveRepeat", [this, id] { m_bench.acquire(id, 0); });
    }
    form.button(tr("Count anew"), "runAnew", [this] { m_bench.runKeeper().countAnew(); });
}

} // namespace fulvex
