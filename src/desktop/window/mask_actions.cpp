#include "mask_actions.h"

#include "axis_painter.h"
#include "eye_edits.h"
#include "mask_choices.h"
#include "mask_edits.h"
#include "translated.h"

namespace fulvex {

using Kind = Selection::Kind;
using Of = Action::Of;

void addMasks(Workbench &bench, std::vector<Action> &actions)
{
    for (const MaskChoice &mask : maskChoices()) {
        Action action{.id = "mask " + text(mask.id), .words = tr("Test %1 against the mask %3")};
        action.words.replace("%3", mask.title);
        action.menu = "Channel/" + tr("Test %1 against the mask");
        action.brief = mask.title;
        action.also = text(mask.id);
        action.on = Kind::eye;
        action.act = [&bench, id = mask.id](const Of &of) { addMask(bench, of, id); };
        action.enabled = [&bench, seconds = mask.definition.seconds](const Of &of) {
            const EyeEntry *eye = findEntry(bench.document().eyes, of);
            return eye && (eye->atUnitIntervals() || (eye->atEdges() && seconds));
        };
        actions.push_back(std::move(action));
    }
    const auto entry = [&bench](const Of &of) { return findEntry(bench.document().masks, of); };
    const auto onMask = [&](const char *id, const QString &words, const QString &also,
                            std::function<void(const Of &)> act) -> Action & {
        actions.push_back(
            {.id = id, .words = words, .menu = "Channel", .also = also, .on = Kind::mask, .act = std::move(act)});
        return actions.back();
    };
    Action draw{.id = "draw_mask",
                .words = tr("Draw a mask on %1 by hand"),
                .menu = "Channel",
                .also = tr("template"),
                .on = Kind::eye,
                .act = [&bench](const Of &of) { drawMask(bench, of); }};
    draw.enabled = [&bench](const Of &of) {
        const EyeEntry *eye = findEntry(bench.document().eyes, of);
        return eye && !eye->atPattern(); // a mask is of single unit intervals
    };
    actions.push_back(std::move(draw));
    onMask("edit_mask", tr("Edit %1 on its eye"), tr("move corners areas draw"), [&bench](const Of &of) {
        editMask(bench, of);
    }).enabled = [entry](const Of &of) { return entry(of) && !entry(of)->eye.empty(); };
    onMask("show_template", tr("Show %1 at its edges"), tr("template overlay pulse"), [&bench](const Of &of) {
        showTemplate(bench, of);
    }).enabled = [entry](const Of &of) { return entry(of) && entry(of)->eye.empty(); };
    onMask("add_mask_area", tr("Add an area to %1"), {}, [&bench](const Of &of) { addArea(bench, of); }).enabled =
        [entry](const Of &of) { return entry(of) && entry(of)->own(); };
    Action &stop = onMask("stop_mask", tr("Stop %1 at the first failure"), tr("run count on"), [&bench](const Of &of) {
        bench.change(tr("stop at the first failure"), [&](Document &document) {
            MaskEntry *its = findEntry(document.masks, of);
            if (!its) return;
            if (its->stopAt)
                its->stopAt.reset();
            else
                its->stopAt = 1;
        });
    });
    stop.checked = [entry](const Of &of) { return entry(of) && entry(of)->stopAt; };
}

} // namespace fulvex
