// The Inspector's page of the reference levels that a row or a clock goes by.

#include "axis_painter.h"
#include "described_fields.h"
#include "inspector_view.h"
#include "number_text.h"
#include "references.h"

namespace fulvex {

namespace {

/// Whether an entry's field of that name holds a set of levels; puts `levels` into it.
bool setLevels(Document &document, const std::string &id, const std::string &levels)
{
    for (const Field &field : fieldsOf(document, id)) {
        auto *const *held = std::get_if<std::string *>(&field.value);
        if (field.refers != EntryKind::levels || !held) continue;
        **held = levels;
        return true;
    }
    return false;
}

/// Of the channel that a row or a clock is about; 0 to 1 where it is not known yet.
Extent extremesOf(const Workbench &bench, const std::string &id)
{
    const MeasurementEntry *row = findEntry(bench.document().measurements, id);
    const ClockEntry *clock = findEntry(bench.document().clocks, row ? row->clock : id);
    const std::string channel = row && !row->source.empty() ? row->source : clock ? clock->source : std::string();
    const ChannelResult *result = bench.results() ? findEntry(bench.results()->channels, channel) : nullptr;
    const Extent whole = result && result->pyramid ? result->pyramid->whole() : Extent::nothing();
    return whole.low < whole.high ? whole : Extent{0, 1};
}

} // namespace

void InspectorView::fillLevels(InspectorForm &form, const std::string &owner, const std::string &id)
{
    form.heading(tr("Levels %1").arg(text(id)));
    const bool own = findEntry(m_bench.document().levels, id) != nullptr;
    if (own) {
        const auto isKey = [](const Field &field, std::string_view key) { return field.key == key; };
        addDescribedFields(form, m_bench, id, [&](const Field &field) {
            return !isKey(field, "id") && !isKey(field, "states") && !isKey(field, "state_low") &&
                   !isKey(field, "state_high");
        });
        form.choiceField(
            tr("states by"), "states",
            {{tr("where it rests most"), "histogram"}, {tr("its extremes"), "extremes"}, {tr("given values"), "fixed"}},
            [id](const Document &document) { return document.levelsOf(id).states; },
            [this, id, owner](Document &document, const std::string &states) {
                LevelsEntry *levels = findEntry(document.levels, id);
                if (!levels) return;
                levels->states = states;
                if (states != "fixed" || (levels->stateLow && levels->stateHigh)) return;
                // Values to begin with, since there are none without: the extremes of what they are used on.
                const Extent whole = extremesOf(m_bench, owner);
                levels->stateLow = whole.low;
                levels->stateHigh = whole.high;
            });
        addDescribedFields(form, m_bench, id,
                           [&](const Field &field) { return isKey(field, "state_low") || isKey(field, "state_high"); });
    } else {
        form.fact({}, [this, id] {
            const LevelsEntry levels = m_bench.document().levelsOf(id);
            const auto percent = [](double value) { return text(quantityText(value, "%", {}, 3)); };
            return tr("%1, %2 and %3 of the amplitude, between the states where it rests most")
                .arg(percent(levels.low), percent(levels.mid), percent(levels.high));
        });
    }
    form.fact(tr("used by"), [this, id] {
        QStringList users;
        for (const std::string &user : usersOf(m_bench.document(), id)) users << text(user);
        if (users.size() > 6) users = users.mid(0, 6) << tr("and %1 more").arg(users.size() - 6);
        return users.isEmpty() ? tr("nobody yet") : users.join(", ");
    });
    form.button(tr("Other levels for %1 alone").arg(text(owner)), "ownLevels", [this, owner, id] {
        m_bench.change(tr("levels for %1").arg(text(owner)), [&](Document &document) {
            LevelsEntry fresh = document.levelsOf(id);
            fresh.id = freeId(document, "levels");
            document.levels.push_back(fresh);
            setLevels(document, owner, fresh.id);
        });
    });
    if (id == "default" && !own) {
        form.button(tr("Other levels for all of these"), "defaultLevels", [this, id] {
            m_bench.change(tr("levels"), [&](Document &document) { document.levels.push_back(document.levelsOf(id)); });
        });
    } else if (own && id != "default") {
        form.button(tr("Remove these levels"), "removeLevels", [this, id] {
            m_bench.change(tr("remove levels %1").arg(text(id)), [&](Document &document) {
                for (const std::string &user : usersOf(document, id)) setLevels(document, user, "default");
                removeWithDependents(document, id);
            });
        });
    }
}

} // namespace fulvex
