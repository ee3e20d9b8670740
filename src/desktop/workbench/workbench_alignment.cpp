// Channels that belong on each other.

#include "alignment.h"
#include "axis_painter.h"
#include "number_text.h"
#include "references.h"
#include "workbench.h"

#include <algorithm>

namespace fulvex {

/// Whether a channel is made in both documents of the same, down to the files.
static bool isSame(const Document &then, const Document &now, const std::string &id)
{
    const EntryIndex before(then), after(now);
    const auto on = allBehind(before, id);
    return on == allBehind(after, id) && std::all_of(on.begin(), on.end(), [&](const std::string &one) {
               return computingText(before.fieldsOf(one)) == computingText(after.fieldsOf(one));
           });
}

void Workbench::align(const std::string &channel, const std::string &reference, bool byEdges)
{
    const ChannelEntry *entry = findEntry(document().channels, channel);
    if (entry && !entry->formula.empty()) {
        emit failed(
            tr("%1 is computed and has no delay of its own: align the channels it is made of.").arg(text(channel)));
        return;
    }
    withAlignment(tr("aligning %1").arg(text(channel)), channel, reference, byEdges, [=, this](const Alignment &found) {
        const QString by = text(quantityText(-found.lag, "s", found.uncertainty));
        change(tr("align %1 to %2: %3").arg(text(channel), text(reference), by), [&](Document &changed) {
            if (ChannelEntry *one = findEntry(changed.channels, channel)) one->delay -= found.lag;
        });
        emit told(tr("%1 is moved by %2 onto %3%4 (correlation %5%6).")
                      .arg(text(channel), by, text(reference), found.inverted ? tr(", turned over") : QString(),
                           text(fixedText(found.likeness, 3)),
                           found.edges ? tr(", %1 edges").arg(found.edges) : QString()));
    });
}

void Workbench::withAlignment(const QString &what, const std::string &channel, const std::string &reference,
                              bool byEdges, std::function<void(const Alignment &)> use)
{
    const auto begin = [=, this] {
        const auto sourceOf = [this](const std::string &id) {
            const ChannelResult *result = results() ? findEntry(results()->channels, id) : nullptr;
            return result ? result->source : nullptr;
        };
        const SourcePtr moved = sourceOf(channel), fixed = sourceOf(reference);
        if (!findEntry(document().channels, channel) || !moved || !fixed) {
            emit failed(tr("There is nothing to align: select a channel whose samples could be read."));
            return;
        }
        const auto found = std::make_shared<Alignment>();
        m_errands.run(
            [found, moved, fixed, byEdges](Progress &progress) {
                *found = byEdges ? alignByEdges(fixed, moved, progress) : alignByCorrelation(fixed, moved, progress);
            },
            m_project.here([=, this, then = std::make_shared<const Document>(document())] {
                if (!isSame(*then, document(), channel) || !isSame(*then, document(), reference)) {
                    emit failed(
                        tr("%1 or %2 was changed meanwhile: align them again.").arg(text(channel), text(reference)));
                } else if (!found->reason.empty()) {
                    emit failed(
                        tr("%1 cannot be aligned to %2: %3.").arg(text(channel), text(reference), text(found->reason)));
                } else {
                    use(*found);
                }
            }));
    };
    whenUpToDate(what, begin, true);
}

} // namespace fulvex
