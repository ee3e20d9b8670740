// The workbench's views: what of the record each sheet and tile shows, and how one got there.

#include "references.h"
#include "trace_figure.h"
#include "workbench.h"

#include <algorithm>
#include <cmath>

namespace fulvex {

void Workbench::showSheet(int index)
{
    if (index < 0 || index >= int(document().sheets.size()) || index == m_sheet) return;
    const auto before = record();
    const bool all = before && viewFrom() <= before->first && viewTo() >= before->second;
    m_sheet = index;
    const SheetEntry &sheet = document().sheets[std::size_t(index)];
    m_views.setSheet(sheet.id);
    if (sheet.from && sheet.to) {
        show({sheet.id, {}, {*sheet.from, *sheet.to}});
    } else if (const auto whole = record();
               whole && (all ? whole != before : viewTo() <= whole->first || viewFrom() >= whole->second)) {
        show({sheet.id, {}, {whole->first, whole->second}}); // all of another record, or there is nothing to be seen
    }
    if (m_evaluator.attends(m_asked) && !upToDate()) request(); // this first
    emit sheetChanged();
}

/// The channels that an entry is, or is of.
static void addChannels(const Document &document, const std::string &id, std::vector<std::string> &channels)
{
    if (findEntry(document.channels, id)) channels.push_back(id);
    if (const EyeEntry *eye = findEntry(document.eyes, id)) channels.push_back(eye->source);
    if (findEntry(document.spectra, id) || findEntry(document.budgets, id)) channels.push_back(channelOf(document, id));
    if (const MeasurementEntry *row = findEntry(document.measurements, id)) {
        if (!row->source.empty()) channels.push_back(row->source);
        if (const ClockEntry *clock = findEntry(document.clocks, row->clock)) channels.push_back(clock->source);
        if (!row->eye.empty()) addChannels(document, row->eye, channels);
    }
}

std::vector<std::string> Workbench::shownChannels() const
{
    std::vector<std::string> shown;
    if (std::size_t(m_sheet) >= document().sheets.size()) return shown;
    for (const TileEntry &tile : document().sheets[std::size_t(m_sheet)].tiles) {
        for (const std::string &id : tile.of) addChannels(document(), id, shown);
    }
    return shown;
}

std::optional<std::pair<double, double>> Workbench::record() const
{
    if (!results()) return std::nullopt;
    const std::vector<std::string> channels = shownChannels();
    const auto span = wholeSpan(*results(), channels);
    // Other captures may last a thousand times as long: they stand in where nothing of the shown ones will be known.
    return span || (!complete() && !channels.empty()) ? span : wholeSpan(*results(), {});
}

const TileEntry *Workbench::tileAt(int index) const
{
    const auto &sheets = document().sheets;
    if (index < 0 || std::size_t(m_sheet) >= sheets.size()) return nullptr;
    const auto &tiles = sheets[std::size_t(m_sheet)].tiles;
    return std::size_t(index) < tiles.size() ? &tiles[std::size_t(index)] : nullptr;
}

bool Workbench::hasOwnView(int tile) const
{
    const TileEntry *entry = tileAt(tile);
    return entry && entry->ownView;
}

std::string Workbench::ownViewId(int tile) const
{
    return hasOwnView(tile) ? tileAt(tile)->id : std::string();
}

Workbench::View Workbench::view(int tile) const
{
    if (!hasOwnView(tile)) return m_views.view();
    const TileEntry &entry = *tileAt(tile);
    if (const auto own = m_views.ownView(entry.id)) return *own;
    return entry.from && entry.to && *entry.from < *entry.to ? within({*entry.from, *entry.to}) : m_views.view();
}

Workbench::View Workbench::within(View view) const
{
    const auto whole = record();
    if (!whole || !(view.to > view.from)) return m_views.view();
    double shortest = whole->second - whole->first;
    for (const ChannelResult &channel : results()->channels) {
        if (channel.source) shortest = std::min(shortest, 4 * channel.source->axis().interval);
    }
    // Late in a record of years a double does not tell moments apart that lie closer than this.
    const double farthest = std::max(std::abs(whole->first), std::abs(whole->second));
    shortest = std::min(std::max(shortest, 4096 * (std::nextafter(farthest, INFINITY) - farthest)),
                        whole->second - whole->first);
    const double width = std::clamp(view.to - view.from, shortest, whole->second - whole->first);
    const double middle = (view.from + view.to) / 2;
    const double from = std::clamp(middle - width / 2, whole->first, whole->second - width);
    return {from, from + width};
}

void Workbench::show(const ViewState::Visit &visit)
{
    if (!record()) return;
    const bool another = visit.sheet != m_views.sheet();
    m_views.put({visit.sheet, visit.tile, within(visit.view)});
    if (another) {
        followSheet();
        emit sheetChanged();
    }
    emit viewChanged();
}

void Workbench::setView(double from, double to, int tile, bool step)
{
    if (!record() || !(to > from)) return;
    const ViewState::Visit before{m_views.sheet(), ownViewId(tile), view(tile)};
    show({before.sheet, before.tile, {from, to}});
    if (view(tile) != before.view) m_views.changed(before, step);
}

bool Workbench::isThere(const ViewState::Visit &visit) const
{
    const SheetEntry *sheet = findEntry(document().sheets, visit.sheet);
    return sheet && (visit.tile.empty() || findEntry(sheet->tiles, visit.tile));
}

void Workbench::goBack()
{
    if (const auto visit = m_views.back([this](const auto &v) { return isThere(v); })) show(*visit);
}

void Workbench::goForward()
{
    if (const auto visit = m_views.forward([this](const auto &v) { return isThere(v); })) show(*visit);
}

void Workbench::fitView(int tile)
{
    if (const auto whole = record()) setView(whole->first, whole->second, tile, true);
}

void Workbench::zoom(double factor, double around, int tile)
{
    const View now = view(tile);
    const double width = (now.to - now.from) * factor;
    const double share = (around - now.from) / (now.to - now.from);
    setView(around - share * width, around + (1 - share) * width, tile);
}

void Workbench::listMoments(const std::string &of, std::vector<Moment> moments)
{
    if (of == m_momentsOf && moments == m_moments) return;
    m_momentsOf = of;
    m_moments = std::move(moments);
    emit momentsListed();
}

void Workbench::goTo(std::optional<RecordSpan> moment)
{
    if (moment && !moment->capture.empty() && moment->capture != shownMember()) {
        m_awaited = std::move(moment); // when its capture is there
        return showMember(m_awaited->capture);
    }
    m_awaited.reset();
    m_moment = std::move(moment);
    if (!m_moment) {
        emit viewChanged();
        return;
    }
    const double middle = (m_moment->from + m_moment->to) / 2, span = std::max(m_moment->to - m_moment->from, 0.0);
    const double shown = viewTo() - viewFrom();
    double width = std::min(shown, 40 * span);
    if (span == 0) width = std::min(shown, 2e-3 * (record() ? record()->second - record()->first : shown));
    const View before = m_views.view();
    setView(middle - std::max(width, 8 * span) / 2, middle + std::max(width, 8 * span) / 2, wholeSheet, true);
    if (m_views.view() == before) emit viewChanged(); // the moment itself
}

} // namespace fulvex
