#include "agenda.h"

#include "budget_result.h"
#include "capture_findings.h"
#include "core_loop.h"
#include "entry_results.h"
#include "phase_noise_result.h"
#include "quantity_table.h"
#include "references.h"

#include <algorithm>
#include <map>

namespace fulvex {

Agenda::Agenda(Evaluation &evaluation, const Engine::Options &options, ResultsBoard &board)
    : m_evaluation(evaluation), m_document(evaluation.document()), m_options(options), m_board(board)
{
    if (options.mergeable) m_evaluation.addUp();
}

/// Where an entry stands in its list.
template <typename Entry>
static std::size_t placeOf(const std::vector<Entry> &entries, const Entry &entry)
{
    return std::size_t(&entry - entries.data());
}

template <typename Entry>
void Agenda::once(const Entry &entry)
{
    if (!m_done.insert(entry.id).second) return;
    m_evaluation.progress().advance(0);
    compute(entry);
}

void Agenda::put(Evaluation &evaluation, const ChannelEntry &entry, bool sketchWillDo)
{
    const bool pyramid = m_options.pyramids && (!m_options.traces || m_options.traces->contains(entry.id));
    m_board.put(placeOf(m_document.channels, entry), channelResult(evaluation, entry, pyramid, sketchWillDo));
}

void Agenda::compute(const ChannelEntry &entry)
{
    put(m_evaluation, entry, false);
}

void Agenda::compute(const ClockEntry &entry)
{
    m_board.put(placeOf(m_document.clocks, entry), clockResult(m_evaluation, entry, m_options));
}

void Agenda::compute(const EyeEntry &entry)
{
    onceOf(m_document.clocks, entry.clock);
    const auto &rows = m_document.measurements;
    const bool added = m_options.mergeable && std::any_of(rows.begin(), rows.end(), [&](const MeasurementEntry &row) {
                           return row.eye == entry.id; // and measured of several added up
                       });
    m_board.put(placeOf(m_document.eyes, entry),
                eyeResult(m_evaluation, entry, added ? Crossings::found : Crossings::none));
}

void Agenda::compute(const MaskEntry &entry)
{
    m_board.put(placeOf(m_document.masks, entry), m_evaluation.mask(entry));
}

void Agenda::compute(const MeasurementEntry &entry)
{
    m_board.put(placeOf(m_document.measurements, entry), m_evaluation.row(entry));
}

void Agenda::compute(const SpectrumEntry &entry)
{
    m_board.put(placeOf(m_document.spectra, entry), spectrumResult(m_evaluation, entry, false));
}

void Agenda::compute(const BudgetEntry &entry)
{
    auto found = keptResult<BudgetResult>(m_evaluation, entry.id,
                                          [&](BudgetResult &result) { result = m_evaluation.budget(entry); });
    found.source = channelOf(m_document, entry.id);
    judge(found, entry);
    m_board.put(placeOf(m_document.budgets, entry), std::move(found));
}

void Agenda::compute(const PhaseNoiseEntry &entry)
{
    auto found = keptResult<PhaseNoiseResult>(
        m_evaluation, entry.id, [&](PhaseNoiseResult &result) { result = m_evaluation.phaseNoise(entry); });
    found.source = channelOf(m_document, entry.id);
    judge(found, entry);
    m_board.put(placeOf(m_document.phaseNoise, entry), std::move(found));
}

template <typename Entry>
void Agenda::onceOf(const std::vector<Entry> &entries, const std::string &id)
{
    if (const Entry *entry = findEntry(entries, id)) once(*entry);
}

void Agenda::look()
{
    for (const CaptureEntry &entry : m_document.captures)
        m_board.put(placeOf(m_document.captures, entry), captureResult(m_evaluation, entry, m_options, false));
    for (const ProgramEntry &entry : m_document.programs)
        m_board.put(placeOf(m_document.programs, entry), m_evaluation.programStatus(entry));
    m_first.emplace(m_evaluation.forFirstAnswers(m_options.sketches));
    const auto show = [&](const ChannelEntry &entry) { put(*m_first, entry, m_options.sketches); };
    std::set<std::string> seen;
    for (const std::string &id : m_options.first) { // which may take a while each
        const ChannelEntry *entry = findEntry(m_document.channels, id);
        if (entry && !m_evaluation.standsOnProgram(id) && seen.insert(id).second) show(*entry);
    }
    for (const ChannelEntry &entry : m_document.channels) {
        if (!seen.contains(entry.id) && !m_evaluation.standsOnProgram(entry.id)) show(entry);
    }
    for (const ChannelEntry &entry : m_document.channels) {
        if (m_evaluation.standsOnProgram(entry.id)) show(entry);
    }
}

void Agenda::firstPictures()
{
    Glimpses glimpses;
    for (const std::string &id : m_options.first) {
        const EyeEntry *eye = findEntry(m_document.eyes, id);
        // Of an overlay the whole is needed to know where its laps lie.
        if (!eye || !eye->atUnitIntervals() || m_evaluation.isKept<EyeResult>(id)) continue;
        const auto span = spanOf(eye->source, eye->region);
        constexpr double soon = 1 << 21; // samples that are folded at once, by a clock that is known
        const bool small = span.second - span.first < soon * intervalOf(eye->source);
        if (small && m_evaluation.isKept<ClockResult>(eye->clock))
            once(*eye);
        else
            glimpses[span].addEye(*eye);
    }
    glance(glimpses);
}

void Agenda::firstSpectra()
{
    for (const std::string &id : m_options.first) {
        const SpectrumEntry *entry = findEntry(m_document.spectra, id);
        if (!entry || !entry->row.empty() || m_evaluation.isKept<SpectrumResult>(id)) continue; // a row takes its time
        SpectrumResult result = spectrumResult(*m_first, *entry, true);
        if (!result.made() || result.share >= 1) continue;
        result.pending = true;
        m_board.put(placeOf(m_document.spectra, *entry), std::move(result));
    }
}

void Agenda::firstNumbers()
{
    Glimpses glimpses;
    for (const std::string &id : m_options.first) {
        const MeasurementEntry *row = findEntry(m_document.measurements, id);
        if (!row || m_evaluation.isKept<Row>(id)) continue;
        const ClockEntry *clock = findEntry(m_document.clocks, row->clock);
        const EyeEntry *eye = findEntry(m_document.eyes, row->eye);
        const std::string &source = eye ? eye->source : row->source.empty() && clock ? clock->source : row->source;
        glimpses[spanOf(source, eye ? eye->region : row->region)].addRow(*row, eye);
    }
    glance(glimpses);
}

void Agenda::tell() const
{
    if (m_options.news) m_options.news();
}

void Agenda::glance(const Glimpses &glimpses)
{
    for (const auto &[span, glimpse] : glimpses) {
        if (span.second > span.first) glance(glimpse, span);
    }
}

std::pair<double, double> Agenda::spanOf(const std::string &channel, const std::string &region)
{
    std::pair<double, double> span(0, 0);
    if (channel.empty()) return span;
    reasonAgainst([&] {
        const TimeAxis &axis = m_first->channel(channel).source->axis();
        span = {axis.start + axis.shift, axis.stop()};
    });
    if (const RegionEntry *part = findEntry(m_document.regions, region))
        span = {std::max(span.first, part->start), std::min(span.second, part->stop)};
    return span;
}

void Agenda::glance(const Glimpse &glimpse, std::pair<double, double> span)
{
    constexpr int places = 6;
    constexpr double samples = 12000; // each, beside what a loop settles in
    double settling = 0, interval = 0;
    const auto heed = [&](const std::string &channel, const std::string &clock) {
        if (const ClockEntry *entry = findEntry(m_document.clocks, clock)) {
            if (entry->method == "pll") settling = std::max(settling, 3 / entry->bandwidth);
            interval = std::max(interval, intervalOf(entry->source));
        }
        interval = std::max(interval, intervalOf(channel));
    };
    for (const EyeEntry &eye : glimpse.of->eyes) heed(eye.source, eye.clock);
    for (const MeasurementEntry &row : glimpse.of->measurements) heed(row.source, row.clock);
    const double length = settling + samples * interval, room = span.second - span.first;
    if (!(places * length < room / 3)) return; // the whole is as quickly had
    std::vector<Results> parts(places);
    onAllCores(places, [&](std::int64_t place) {
        const double from = span.first + (room - length) * double(place) / (places - 1);
        Evaluation within = m_first->within(from, from + length);
        Results &part = parts[std::size_t(place)];
        part.document = glimpse.of;
        for (const MeasurementEntry &row : glimpse.of->measurements) part.rows.push_back(within.row(row));
        for (const EyeEntry &eye : glimpse.of->eyes) // with what the rows took
            part.eyes.push_back(eyeResult(within, eye, Crossings::known));
    });
    Results seen = accumulated(parts);
    const double share = places * length / room;
    for (EyeResult &eye : seen.eyes) {
        if (!eye.fold) continue;
        eye.pending = true;
        eye.share = std::min(1.0, double(eye.fold->unitIntervals) * eye.unitInterval / room);
        m_board.put(placeOf(m_document.eyes, *findEntry(m_document.eyes, eye.id)), eye);
    }
    for (Row &row : seen.rows) {
        // A quantity of the whole record, as its extremes, is not told from parts of it.
        const bool whole = parts.front().rows[std::size_t(&row - seen.rows.data())].measured->single;
        if (!row.measurable() || whole) continue;
        row.pending = true;
        row.share = share;
        row.provenance.pop_back(); // they are no captures
        m_board.put(placeOf(m_document.measurements, *findEntry(m_document.measurements, row.id)), row);
    }
}

double Agenda::intervalOf(const std::string &channel)
{
    double interval = 0;
    if (!channel.empty()) reasonAgainst([&] { interval = m_first->channel(channel).source->axis().interval; });
    return interval;
}

void Agenda::Glimpse::addEye(const EyeEntry &eye)
{
    if (!findEntry(of->eyes, eye.id)) of->eyes.push_back(eye);
}

void Agenda::Glimpse::addRow(const MeasurementEntry &row, const EyeEntry *eye)
{
    if (findEntry(of->measurements, row.id)) return;
    of->measurements.push_back(row);
    if (eye) addEye(*eye);
}

void Agenda::run()
{
    look();
    m_first->checkUse(m_options.brokenMasksStop);
    tell();
    firstPictures();
    tell();
    firstSpectra();
    tell();
    firstNumbers();
    if (m_options.answered) m_options.answered();
    for (const std::string &id : m_options.first) {
        onceOf(m_document.channels, id);
        onceOf(m_document.clocks, id);
        onceOf(m_document.eyes, id);
        onceOf(m_document.masks, id);
        onceOf(m_document.measurements, id);
        onceOf(m_document.spectra, id);
        onceOf(m_document.budgets, id);
        onceOf(m_document.phaseNoise, id);
    }
    if (m_options.pyramids && m_options.sketches) {
        for (const ChannelEntry &entry : m_document.channels) once(entry);
    }
    for (const ClockEntry &entry : m_document.clocks) once(entry);
    for (const MeasurementEntry &entry : m_document.measurements) once(entry);
    for (const EyeEntry &entry : m_document.eyes) once(entry);
    for (const MaskEntry &entry : m_document.masks) once(entry);
    for (const SpectrumEntry &entry : m_document.spectra) once(entry);
    for (const BudgetEntry &entry : m_document.budgets) once(entry);
    for (const PhaseNoiseEntry &entry : m_document.phaseNoise) once(entry);
    hashAndCheck();
    if (m_options.mergeable) addJitter();
    for (const CaptureEntry &entry : m_document.captures)
        m_board.put(placeOf(m_document.captures, entry), captureResult(m_evaluation, entry, m_options, true));
}

void Agenda::addJitter()
{
    std::vector<MeasurementEntry> rows;
    for (const MeasurementEntry &row : m_document.measurements)
        if (isOfJitter(*findQuantity(row.quantity))) rows.push_back(row);
    for (const BudgetEntry &entry : m_document.budgets) rows.push_back(rowOf(entry));
    std::map<std::string, std::shared_ptr<const JitterSums>> sums;
    for (const MeasurementEntry &row : rows) {
        const auto [at, isNew] = sums.emplace(jitterKey(row), nullptr);
        if (!isNew) continue;
        JitterSums none;
        none.reason = reasonAgainst([&] { at->second = m_evaluation.jitterSums(row).value; });
        if (!at->second) at->second = std::make_shared<const JitterSums>(std::move(none));
    }
    std::vector<JitterResult> found;
    for (const auto &[key, its] : sums) found.push_back({key, its});
    m_board.putJitter(std::move(found));
}

void Agenda::hashAndCheck()
{
    std::vector<Evaluation::Node<Capture>> open; // on this thread: opening is for one at a time
    for (const CaptureEntry &entry : m_document.captures) {
        if (m_options.fingerprints || !entry.sha256.empty())
            reasonAgainst([&] { open.push_back(m_evaluation.capture(entry)); });
    }
    const auto check = [&] {
        for (const CaptureEntry &entry : m_document.captures) captureFindings(m_evaluation, entry);
    };
    const auto hashed = std::int64_t(open.size());
    onAllCores(hashed + (m_options.check ? 1 : 0), [&](std::int64_t index) { // a hash takes one core, a check all
        reasonAgainst([&] { index < hashed ? (void)m_evaluation.fingerprint(open[std::size_t(index)]) : check(); });
    });
}

} // namespace fulvex
