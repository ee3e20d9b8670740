#include "agenda.h"

#include "capture_findings.h"
#include "failure_text.h"
#include "number_text.h"

#include <cmath>

namespace fulvex {

namespace {

/// Does `work`; gives what kept it from being done. A cancel goes on up.
template <typename Work>
std::string reasonAgainst(Work &&work)
{
    try {
        work();
        return {};
    } catch (const Cancelled &) {
        throw;
    } catch (const Unmeasurable &none) {
        return none.reason;
    } catch (...) {
        return failureText();
    }
}

void addFinding(CaptureResult &result, const char *check, const char *level, const std::string &text)
{
    result.findings.push_back({check, level, text, {}, {}, {}, {}});
}

Finding farStart(const TimeAxis &axis)
{
    const double origin = std::trunc(axis.start);
    const std::string from = fixedText(origin, 0) + " s";
    Finding finding{"far_start",
                    "warning",
                    "its times begin at " + from +
                        ", beside which seconds cannot tell its samples apart: measured values "
                        "stay exact, but moments, regions and markers are rounded",
                    {},
                    {},
                    {},
                    {}};
    finding.remedy = Remedy{Remedy::Kind::origin, {}, origin, 0, 0, "count times from " + from};
    return finding;
}

/// `whole`: with what takes all of its bytes, hash and check.
CaptureResult captureResult(Evaluation &evaluation, const CaptureEntry &entry, const Engine::Options &options,
                            bool whole)
{
    CaptureResult result;
    result.id = entry.id;
    result.pending = !whole;
    result.file = entry.file;
    result.error = reasonAgainst([&] {
        const auto capture = evaluation.capture(entry).value;
        result.sources = capture->sources;
        result.format = capture->format;
        result.channels = std::int64_t(capture->columns.size());
        result.samples = capture->axis.count;
        result.sampleInterval = capture->intervalKnown ? capture->axis.interval : 0;
        for (const std::string &remark : capture->remarks) addFinding(result, "reading", "info", remark);
        for (const std::string &doubt : capture->doubts) addFinding(result, "time_column", "warning", doubt);
        if (!capture->intervalKnown)
            addFinding(result, "interval", "warning",
                       "the file states no sample interval: give \"sample_interval\" in its import");
        if (capture->intervalKnown && !capture->axis.isFine(evaluation.document().timeOrigin))
            result.findings.push_back(farStart(capture->axis));
        if (!whole) return;
        if (options.fingerprints || !entry.sha256.empty()) result.sha256 = evaluation.fingerprint(entry);
        if (!entry.sha256.empty() && entry.sha256 != result.sha256)
            addFinding(result, "fingerprint", "warning",
                       "the file is not the one the project was saved with: its SHA-256 differs");
        if (options.check) {
            const auto found = captureFindings(evaluation, entry);
            result.findings.insert(result.findings.end(), found.begin(), found.end());
        }
    });
    return result;
}

ChannelResult channelResult(Evaluation &evaluation, const ChannelEntry &entry, bool pyramid, bool sketchWillDo)
{
    ChannelResult result;
    result.id = entry.id;
    result.unit = entry.unit.empty() ? "V" : entry.unit;
    result.error = reasonAgainst([&] {
        const auto node = evaluation.channel(entry.id);
        result.unit = node.unit;
        if (pyramid) result.pyramid = evaluation.pyramid(entry.id, sketchWillDo).value;
        result.source = node.source;
    });
    return result;
}

ClockResult clockResult(Evaluation &evaluation, const ClockEntry &entry)
{
    ClockResult result;
    result.id = entry.id;
    result.reason = reasonAgainst([&] {
        const auto node = evaluation.clock(entry.id);
        result.clock = node.clock;
        result.rate = node.clock->rate();
        result.rateUncertainty = node.rateUncertainty;
    });
    return result;
}

EyeResult eyeResult(Evaluation &evaluation, const EyeEntry &entry)
{
    EyeResult result;
    result.id = entry.id;
    result.source = entry.source;
    result.clock = entry.clock;
    result.reason = reasonAgainst([&] {
        const auto node = evaluation.eye(entry.id, true);
        result.fold = node.fold;
        result.crossings = node.crossings;
        result.unitInterval = node.clock->period() * node.clock->axis().interval;
    });
    return result;
}

/// Of parts; nothing where the whole is as quickly had, or cannot be had.
std::optional<EyeResult> firstPicture(Evaluation &evaluation, const EyeEntry &entry)
{
    EyeResult result;
    result.id = entry.id;
    result.source = entry.source;
    result.clock = entry.clock;
    result.pending = true;
    reasonAgainst([&] {
        if (const auto parts = evaluation.eyeParts(entry.id)) {
            result.fold = parts->fold;
            result.unitInterval = parts->unitInterval;
            result.share = parts->share;
        }
    });
    return result.fold ? std::optional(result) : std::nullopt;
}

} // namespace

Agenda::Agenda(Evaluation &evaluation, const Engine::Options &options, ResultsBoard &board)
    : m_evaluation(evaluation), m_document(evaluation.document()), m_options(options), m_board(board)
{
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

void Agenda::put(const ChannelEntry &entry, bool sketchWillDo)
{
    m_board.put(placeOf(m_document.channels, entry),
                channelResult(m_evaluation, entry, m_options.pyramids, sketchWillDo));
}

void Agenda::compute(const ChannelEntry &entry)
{
    put(entry, false);
}

void Agenda::compute(const ClockEntry &entry)
{
    m_board.put(placeOf(m_document.clocks, entry), clockResult(m_evaluation, entry));
}

void Agenda::compute(const EyeEntry &entry)
{
    once(*findEntry(m_document.clocks, entry.clock));
    m_board.put(placeOf(m_document.eyes, entry), eyeResult(m_evaluation, entry));
}

void Agenda::compute(const MaskEntry &entry)
{
    m_board.put(placeOf(m_document.masks, entry), m_evaluation.mask(entry));
}

void Agenda::compute(const MeasurementEntry &entry)
{
    m_board.put(placeOf(m_document.measurements, entry), m_evaluation.row(entry));
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
    std::set<std::string> seen;
    for (const std::string &id : m_options.first) { // which may take a while each
        const ChannelEntry *entry = findEntry(m_document.channels, id);
        if (entry && seen.insert(id).second) put(*entry, m_options.sketches);
    }
    for (const ChannelEntry &entry : m_document.channels) {
        if (!seen.contains(entry.id)) put(entry, m_options.sketches);
    }
}

void Agenda::firstPictures()
{
    for (const std::string &id : m_options.first) {
        const EyeEntry *entry = findEntry(m_document.eyes, id);
        if (!entry) continue;
        if (const auto picture = firstPicture(m_evaluation, *entry))
            m_board.put(placeOf(m_document.eyes, *entry), *picture);
    }
}

void Agenda::run()
{
    look();
    m_evaluation.checkUse();
    firstPictures();
    if (m_options.answered) m_options.answered();
    for (const std::string &id : m_options.first) {
        onceOf(m_document.channels, id);
        onceOf(m_document.clocks, id);
        onceOf(m_document.eyes, id);
        onceOf(m_document.masks, id);
        onceOf(m_document.measurements, id);
    }
    if (m_options.pyramids && m_options.sketches) {
        for (const ChannelEntry &entry : m_document.channels) once(entry);
    }
    for (const ClockEntry &entry : m_document.clocks) once(entry);
    for (const MeasurementEntry &entry : m_document.measurements) once(entry);
    for (const EyeEntry &entry : m_document.eyes) once(entry);
    for (const MaskEntry &entry : m_document.masks) once(entry);
    for (const CaptureEntry &entry : m_document.captures)
        m_board.put(placeOf(m_document.captures, entry), captureResult(m_evaluation, entry, m_options, true));
}

} // namespace fulvex
