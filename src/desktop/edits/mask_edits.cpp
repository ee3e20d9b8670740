#include "mask_edits.h"

#include "atomic_file.h"
#include "axis_painter.h"
#include "error.h"
#include "own_mask.h"
#include "translated.h"

#include <QFileInfo>

namespace fulvex {

namespace {

const MaskRun *runOf(const Workbench &bench, const std::string &id)
{
    return bench.results() ? findEntry(bench.results()->masks, id) : nullptr;
}

void setScale(MaskEntry &entry, MaskScale scale)
{
    entry.x = scale.seconds ? "s" : "ui";
    entry.y = scale.normalised ? "normalised" : "V";
}

/// The areas of a mask that is not the project's own, as they were tested.
void takeAreas(MaskEntry &entry, const MaskDefinition &mask)
{
    entry.areas = mask.areas;
    setScale(entry, {mask.seconds, mask.normalised});
}

constexpr double half = 0.5;

} // namespace

void editMask(Workbench &bench, const std::string &id)
{
    bench.select({Selection::Kind::mask, id});
    const MaskEntry *entry = findEntry(bench.document().masks, id);
    const MaskRun *run = runOf(bench, id);
    if (!entry || entry->own() || !run || run->definition.areas.empty()) return;
    bench.change(tr("edit the mask"), [&](Document &document) {
        if (MaskEntry *its = findEntry(document.masks, id)) takeAreas(*its, run->definition);
    });
}

std::string drawMask(Workbench &bench, const std::string &eye)
{
    const EyeEntry *laidOn = findEntry(bench.document().eyes, eye);
    const EyeResult *on = bench.results() ? findEntry(bench.results()->eyes, eye) : nullptr;
    const bool atEdges = laidOn && laidOn->atEdges();
    if (atEdges && !(on && on->fold)) { // its lap tells where a template can lie
        emit bench.failed(
            tr("There is no overlay to draw on: wait until it is folded, or see its Inspector for why not."));
        return {};
    }
    return bench.make(tr("draw a mask"), Selection::Kind::mask, [&](Document &document) {
        std::erase_if(document.masks, [&](const MaskEntry &entry) { return entry.eye == eye; });
        MaskEntry entry;
        entry.id = freeId(document, "mask");
        entry.eye = eye;
        entry.areas = {{MaskArea::Kind::closed,
                        "centre",
                        {{0.3, 0.5}, {0.4, 0.7}, {0.6, 0.7}, {0.7, 0.5}, {0.6, 0.3}, {0.4, 0.3}}},
                       {MaskArea::Kind::above, "top", {{0, 1.3}, {1, 1.3}}},
                       {MaskArea::Kind::below, "bottom", {{0, -0.3}, {1, -0.3}}}};
        if (atEdges) { // a template then, which has no left and right
            setScale(entry, {true, true});
            entry.mirrored = "up";
            for (MaskArea &area : entry.areas)
                for (MaskPoint &point : area.points) point.x = on->rule.across.at(point.x);
        }
        document.masks.push_back(entry);
        return entry.id;
    });
}

void exchangeMask(Workbench &bench, const std::string &id, const std::string &mask)
{
    bench.change(tr("exchange the mask"), [&](Document &document) {
        MaskEntry *entry = findEntry(document.masks, id);
        if (!entry) return;
        entry->mask = mask;
        entry->areas.clear();
    });
}

std::optional<MaskGround> groundOf(const Workbench &bench, const std::string &id)
{
    const MaskRun *run = runOf(bench, id);
    if (!run || !(run->one > run->zero) || !(run->lasts > 0)) return {};
    MaskGround ground{run->lasts, run->zero, run->one};
    ground.atEdges = run->atEdges;
    if (ground.atEdges) ground.left = acrossOf(run->definition.areas).first;
    return ground;
}

MaskScale scaleOf(const MaskEntry &entry)
{
    return {entry.x == "s", entry.y == "normalised"};
}

MaskMirror mirrorOf(const MaskEntry &entry, const MaskGround &ground)
{
    MaskMirror mirror;
    const MaskScale scale = scaleOf(entry);
    // A template has no middle from left to right.
    if (!ground.atEdges && (entry.mirrored == "both" || entry.mirrored == "across"))
        mirror.across = scale.seconds ? half * ground.unitInterval : half;
    if (entry.mirrored == "both" || entry.mirrored == "up")
        mirror.up = scale.normalised ? half : half * (ground.zero + ground.one);
    return mirror;
}

MaskPoint onEye(const MaskEntry &entry, const MaskGround &ground, MaskPoint point)
{
    const MaskScale scale = scaleOf(entry);
    return {scale.seconds && !ground.atEdges ? point.x / ground.unitInterval : point.x,
            scale.normalised ? ground.zero + point.y * (ground.one - ground.zero) : point.y};
}

MaskPoint fromEye(const MaskEntry &entry, const MaskGround &ground, MaskPoint point)
{
    const MaskScale scale = scaleOf(entry);
    return {scale.seconds && !ground.atEdges ? point.x * ground.unitInterval : point.x,
            scale.normalised ? (point.y - ground.zero) / (ground.one - ground.zero) : point.y};
}

bool editAreas(Workbench &bench, const std::string &id, const QString &what,
               const std::function<void(std::vector<MaskArea> &)> &edit, const QString &mergeKey)
{
    const MaskEntry *entry = findEntry(bench.document().masks, id);
    if (!entry || !entry->own()) return false;
    std::vector<MaskArea> areas = entry->areas;
    edit(areas);
    try {
        checkAreas(areas, entry->x == "s", {});
    } catch (const Error &) {
        return false;
    }
    return bench.change(
        what,
        [&](Document &document) {
            if (MaskEntry *its = findEntry(document.masks, id)) its->areas = areas;
        },
        mergeKey);
}

void addArea(Workbench &bench, const std::string &id)
{
    const MaskEntry *entry = findEntry(bench.document().masks, id);
    const auto ground = groundOf(bench, id);
    if (!entry || !ground) return;
    const auto at = [&](double across, double up) {
        const double swing = ground->one - ground->zero;
        return fromEye(
            *entry, *ground,
            {ground->atEdges ? ground->left + across * ground->unitInterval : across, ground->zero + up * swing});
    };
    const std::vector<MaskPoint> points{at(0.45, 0.5), at(0.5, 0.55), at(0.55, 0.5), at(0.5, 0.45)};
    editAreas(bench, id, tr("add an area"), [&](std::vector<MaskArea> &areas) {
        std::string name;
        for (std::size_t n = areas.size() + 1; name.empty(); ++n) {
            const std::string tried = "area " + std::to_string(n);
            const auto isIt = [&](const MaskArea &area) { return area.name == tried; };
            if (std::none_of(areas.begin(), areas.end(), isIt)) name = tried;
        }
        areas.push_back({MaskArea::Kind::closed, name, points});
    });
}

void removeArea(Workbench &bench, const std::string &id, std::size_t area)
{
    const MaskEntry *entry = findEntry(bench.document().masks, id);
    if (!entry || entry->areas.size() < 2 || area >= entry->areas.size()) return;
    editAreas(bench, id, tr("remove an area"),
              [&](std::vector<MaskArea> &areas) { areas.erase(areas.begin() + std::ptrdiff_t(area)); });
}

void rescaleMask(const Workbench &bench, Document &document, const std::string &id, MaskScale scale)
{
    const MaskRun *run = runOf(bench, id);
    const auto ground = groundOf(bench, id);
    MaskEntry *entry = findEntry(document.masks, id);
    if (!entry || !run || !ground) return;
    if (!entry->own()) takeAreas(*entry, run->definition);
    rescale(entry->areas, scaleOf(*entry), scale, *ground);
    setScale(*entry, scale);
}

void saveMask(Workbench &bench, const std::string &id, const QString &path)
{
    const MaskEntry *entry = findEntry(bench.document().masks, id);
    const MaskRun *run = runOf(bench, id);
    if (!entry || (!entry->own() && (!run || run->definition.areas.empty()))) return;
    MaskDefinition mask = entry->own() ? ownMask(*entry) : run->definition;
    if (entry->own()) mask.source = entry->ownTitle();
    QString name = QFileInfo(path).fileName();
    const QString ending = maskEnding;
    if (name.endsWith(ending)) name.chop(ending.size());
    mask.id = name.toStdString();
    mask.title = mask.id;
    bench.errands().run(
        [to = path.toStdString(), text = maskText(mask)](Progress &) { writeFileAtomically(to, text); });
}

std::string addMask(Workbench &bench, const std::string &eye, const std::string &mask)
{
    return bench.make(QObject::tr("add mask"), Selection::Kind::mask, [&](Document &document) {
        std::erase_if(document.masks, [&](const MaskEntry &entry) { return entry.eye == eye; }); // one mask an eye
        const std::string id = freeId(document, "mask");
        document.masks.push_back({.id = id, .eye = eye, .mask = mask});
        return id;
    });
}

} // namespace fulvex
