#include "ask_offers.h"

#include "axis_painter.h"
#include "document_edits.h"
#include "error.h"
#include "mask_definition.h"
#include "quantity_table.h"
#include "share_folder.h"

#include <QCoreApplication>
#include <algorithm>

namespace fulvex {

namespace {

QString tr(const char *words)
{
    return QCoreApplication::translate("AskOffers", words);
}

/// Makes offers on things of the project.
class Maker {
public:
    explicit Maker(Workbench &bench) : m_bench(bench), m_document(bench.document()), m_inView(bench.inView()) {}

    /// `on`: what it acts on first, then what that stands on.
    void add(const QString &words, const std::vector<std::string> &on, std::function<void()> act)
    {
        AskBox::Offer offer{words, {}, std::move(act)};
        for (const std::string &id : on) {
            offer.also += " " + text(id);
            if (const ChannelEntry *channel = findEntry(m_document.channels, id))
                offer.also += " " + text(channel->shownName());
        }
        const auto seen = std::find(m_inView.begin(), m_inView.end(), on.front());
        const bool selected = m_bench.selection().id == on.front();
        offer.distance = selected ? 0 : seen != m_inView.end() ? 3 : 6;
        // What is computed is what the work is about: the link before its legs.
        const ChannelEntry *channel = findEntry(m_document.channels, on.front());
        if (channel && !channel->formula.empty() && !selected) --offer.distance;
        offers.push_back(std::move(offer));
    }
    void addMeasurements()
    {
        for (const Quantity &quantity : quantities()) {
            if (!quantity.measure) continue; // of a later version: nothing is offered that does nothing
            const auto measure = [&](const std::string &of, const std::vector<std::string> &on) {
                add(tr("Measure %1 of %2").arg(QCoreApplication::translate("AskOffers", quantity.title), text(of)), on,
                    [&bench = m_bench, name = std::string(quantity.name), of] { addMeasurement(bench, name, of); });
            };
            if (quantity.needs == Needs::source) {
                for (auto channel = m_document.channels.rbegin(); channel != m_document.channels.rend(); ++channel)
                    measure(channel->id, {channel->id});
            } else if (quantity.needs == Needs::clock) {
                for (const ClockEntry &clock : m_document.clocks) measure(clock.id, {clock.id, clock.source});
            } else {
                for (const EyeEntry &eye : m_document.eyes) measure(eye.id, {eye.id, eye.clock, eye.source});
            }
        }
    }
    void addClocksAndEyes()
    {
        for (const ChannelEntry &channel : m_document.channels) {
            for (const char *method : {"pll", "fixed"}) {
                const QString words = *method == 'p' ? tr("Add a loop clock on %1") : tr("Add a fixed clock on %1");
                add(words.arg(text(channel.id)), {channel.id},
                    [&bench = m_bench, id = channel.id, method] { addClock(bench, id, method); });
            }
        }
        for (const ClockEntry &clock : m_document.clocks)
            add(tr("Add an eye of %1 by %2").arg(text(clock.source), text(clock.id)), {clock.id, clock.source},
                [&bench = m_bench, id = clock.id] { addEye(bench, id); });
        for (const EyeEntry &eye : m_document.eyes) {
            for (const MaskChoice &mask : maskChoices()) {
                add(tr("Test %1 against the mask %2").arg(text(eye.id), mask.title), {eye.id, eye.source, mask.id},
                    [&bench = m_bench, eye = eye.id, id = mask.id] { addMask(bench, eye, id); });
            }
        }
    }
    void addAlignments(const std::string &id)
    {
        const ChannelEntry *chosen = findEntry(m_document.channels, id);
        if (!chosen || !chosen->formula.empty()) return;
        for (const ChannelEntry &other : m_document.channels) {
            if (other.id == id) continue;
            for (const bool byEdges : {true, false}) {
                add(tr("Align %1 to %2 by %3").arg(text(id), text(other.id), byEdges ? tr("edges") : tr("correlation")),
                    {id}, [&bench = m_bench, id, to = other.id, byEdges] { bench.align(id, to, byEdges); });
            }
        }
    }
    void addPlaces()
    {
        const std::size_t first = offers.size();
        for (const RegionEntry &region : m_document.regions) {
            add(tr("Go to region %1").arg(text(region.id)), {region.id}, [&bench = m_bench, id = region.id] {
                bench.select({Selection::Kind::region, id});
                if (const RegionEntry *found = findEntry(bench.document().regions, id))
                    bench.setView(found->start, found->stop, Workbench::wholeSheet, true);
            });
        }
        for (int i = 0; i < int(m_document.sheets.size()); ++i) {
            const SheetEntry &sheet = m_document.sheets[std::size_t(i)];
            add(tr("Show sheet %1").arg(text(sheet.title)), {sheet.id}, [&bench = m_bench, i] { bench.showSheet(i); });
        }
        for (std::size_t i = first; i < offers.size(); ++i) offers[i].distance += 3; // things to do come before places
    }
    std::vector<AskBox::Offer> offers;

private:
    Workbench &m_bench;
    const Document &m_document;
    std::vector<std::string> m_inView;
};

} // namespace

std::vector<AskBox::Offer> projectOffers(Workbench &bench)
{
    Maker maker(bench);
    maker.addMeasurements();
    maker.addClocksAndEyes();
    for (const ChannelEntry &channel : bench.document().channels) maker.addAlignments(channel.id);
    maker.addPlaces();
    return std::move(maker.offers);
}

std::vector<AskBox::Offer> measurementOffers(Workbench &bench)
{
    Maker maker(bench);
    maker.addMeasurements();
    return std::move(maker.offers);
}

std::vector<AskBox::Offer> alignOffers(Workbench &bench, const std::string &channel)
{
    Maker maker(bench);
    maker.addAlignments(channel);
    return std::move(maker.offers);
}

const std::vector<MaskChoice> &maskChoices()
{
    static const std::vector<MaskChoice> choices = [] {
        const auto folder = shareFolder() / "masks";
        std::vector<MaskChoice> found;
        for (const std::string &id : maskIds(folder)) {
            try {
                const MaskDefinition mask = loadMask(id, {}, folder);
                found.push_back({id, text(mask.title.empty() ? id : mask.title)});
            } catch (const Error &) {
                found.push_back({id, text(id)}); // what is wrong with it is told where it is used
            }
        }
        return found;
    }();
    return choices;
}

} // namespace fulvex
