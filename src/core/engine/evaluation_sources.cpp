// What an evaluation stands on: captures as they lie on disk, and the channels that are made of them, by column or
// formula.

#include "capture_reader.h"
#include "channel_source.h"
#include "document_json.h"
#include "error.h"
#include "evaluation.h"
#include "fingerprint.h"
#include "formula_check.h"
#include "formula_moments.h"
#include "node_key.h"
#include "pyramid_store.h"

#include <chrono>
#include <thread>

namespace fulvex {

namespace {

std::string text(const std::variant<int, std::string> &column)
{
    return column.index() == 0 ? "#" + std::to_string(std::get<int>(column)) : std::get<std::string>(column);
}

/// The file system keeps times in steps of some milliseconds. A file that was changed within the last step could be
/// changed again without a trace: waits until it could not.
void letSettle(const FileIdentity &identity)
{
    using namespace std::chrono;
    constexpr nanoseconds step = 12ms;
    const nanoseconds age = system_clock::now().time_since_epoch() - nanoseconds(identity.changed);
    if (age >= 0ns && age < step) std::this_thread::sleep_for(step - age);
}

/// All files that a capture is made of, as they lie there now.
std::string filesKey(const std::filesystem::path &path)
{
    std::string key;
    for (const std::filesystem::path &file : captureFiles(path)) {
        std::error_code failure;
        if (!std::filesystem::exists(file, failure))
            throw Error(file.string(), failure ? failure.message() : "is not there",
                        "give another \"file\", relative to the document, or put it back");
        letSettle(identityOf(file));
        key += identityOf(file).text();
    }
    return key;
}

std::string filesKey(const Capture &capture)
{
    std::string key;
    for (const auto &source : capture.sources) key += source->identity().text();
    return key;
}

std::size_t columnIndex(const Capture &capture, const ChannelEntry &channel)
{
    if (const auto *name = std::get_if<std::string>(&channel.column)) {
        std::string known;
        for (std::size_t i = 0; i < capture.columns.size(); ++i) {
            if (capture.columns[i].name == *name) return i;
            known += (known.empty() ? "\"" : ", \"") + capture.columns[i].name + "\"";
        }
        throw Error(capture.file, "has no column named \"" + *name + "\" for channel \"" + channel.id + "\"",
                    "it has " + known);
    }
    const auto index = std::size_t(std::get<int>(channel.column));
    if (index >= capture.columns.size())
        throw Error(capture.file,
                    "has no data column " + std::to_string(index) + " for channel \"" + channel.id + "\": it has " +
                        std::to_string(capture.columns.size()),
                    "count data columns from 0");
    return index;
}

} // namespace

Evaluation::Node<Capture> Evaluation::capture(const CaptureEntry &entry)
{
    if (const auto spoilt = m_spoilt.find(entry.id); spoilt != m_spoilt.end()) throw spoilt->second;
    if (const auto known = m_captures.find(entry.id); known != m_captures.end()) return known->second;
    if (entry.file.empty())
        throw Error("capture \"" + entry.id + "\"", "has no file yet",
                    entry.live.address.empty() ? "its folder or pattern names none; put one there, or name another"
                                               : "have its instrument take one");
    const std::filesystem::path path = m_base / entry.file;
    constexpr int tries = 3;
    for (int attempt = 0; attempt < tries; ++attempt) {
        const std::string files = filesKey(path);
        const std::string key = keyOf("capture", readersVersion, path.string(), files, importText(entry.import));
        Node<Capture> node{key, m_cache.get<Capture>(key, [&] { return readCapture(path, entry.import, m_progress); })};
        if (filesKey(*node.value) == files) return m_captures[entry.id] = node;
        m_cache.drop(key); // another file was put there between the look and the reading
    }
    throw Error(path.string(), "is replaced again and again while it is read", "wait until it is written");
}

std::string Evaluation::fingerprint(const Node<Capture> &read)
{
    return *m_cache.get<std::string>(keyOf("fingerprint", filesKey(*read.value)),
                                     [&] { return sha256OfFiles(read.value->sources, m_progress); });
}

std::string Evaluation::disturbance(const CaptureEntry &entry) const
{
    const auto read = m_captures.find(entry.id);
    if (read == m_captures.end()) return {};
    for (const auto &source : read->second.value->sources) {
        if (const std::string why = source->disturbance(); !why.empty()) return why;
    }
    return {};
}

void Evaluation::spoil(const CaptureEntry &entry, const std::string &why)
{
    m_spoilt.emplace(entry.id,
                     Error((m_base / entry.file).string(), why, "wait until it is written, and evaluate again"));
    if (const auto read = m_captures.find(entry.id); read != m_captures.end()) m_cache.drop(read->second.key);
    m_captures.erase(entry.id);
    m_channels.clear();
    m_definitions.clear();
}

Evaluation::ChannelNode Evaluation::channel(const std::string &id)
{
    const auto known = m_channels.find(id);
    if (known != m_channels.end()) return known->second;
    const ChannelEntry &entry = *findEntry(m_document.channels, id);
    ChannelNode node;
    if (entry.formula.empty()) {
        const Node<Capture> from = capture(*findEntry(m_document.captures, entry.capture));
        if (!from.value->intervalKnown)
            throw Error(from.value->file, "states no sample interval",
                        "give \"sample_interval\" in s in the \"import\" of capture \"" + entry.capture + "\"");
        node.key = keyOf("channel", from.key, text(entry.column), entry.scale, entry.offset, entry.delay,
                         m_document.timeOrigin);
        const Waveform &column = from.value->columns[columnIndex(*from.value, entry)];
        TimeAxis axis = from.value->axis;
        axis.start -= m_document.timeOrigin;
        node.source = *m_cache.get<SourcePtr>(node.key, [&]() -> SourcePtr {
            return std::make_shared<ChannelSource>(column, axis, entry.scale, entry.offset, entry.delay);
        });
        node.unit = column.unit;
        node.unitStated = !column.unit.empty();
    } else {
        const Formula formula = Formula::parse(entry.formula, ownFunctions(m_document));
        Formula::Inputs inputs;
        bool estimated = false; // what was made last, and what it stands on
        if (m_estimates) inputs.estimated = &estimated;
        for (const ParameterEntry &parameter : m_document.parameters) inputs.parameters[parameter.id] = parameter.value;
        for (const RegionEntry &region : m_document.regions) inputs.regions[region.id] = {region.start, region.stop};
        const auto isChannel = [&](const std::string &name) { return findEntry(m_document.channels, name) != nullptr; };
        inputs.channelOf = [&](const std::string &name) -> SourcePtr {
            if (!isChannel(name)) return nullptr;
            return channel(name).source;
        };
        inputs.momentsOf = [&](const std::string &name) { return momentsNamed(name); };
        const auto keyOfName = [&](const std::string &name) {
            if (isChannel(name)) {
                estimated |= channel(name).estimated;
                return channel(name).key;
            }
            if (const auto region = inputs.regions.find(name); region != inputs.regions.end())
                return digestOf("region", region->second.start, region->second.stop);
            if (const ProgramEntry *its = findEntry(m_document.programs, name)) return programKey(*its);
            if (const auto parameter = inputs.parameters.find(name); parameter != inputs.parameters.end())
                return digestOf("parameter", parameter->second);
            return overAll([&](Evaluation &all) { return all.definition(name); }); // of a row or a clock
        };
        const auto keyOfFormula = [&](const char *kind, const Formula &some) {
            std::string names;
            for (const std::string &name : some.names()) names += keyOfName(name);
            return keyOf(kind, some.canonical(), names);
        };
        inputs.keep = [&](const Formula &part, const std::function<SourcePtr()> &make) {
            const std::string key = keyOfFormula("part", part);
            if (part.nodes().back().kind == Formula::Node::Kind::program) return madeOnce(key, make);
            return made(key, estimated, make).second;
        };
        const auto typeOfName = [&](const std::string &name) -> Formula::Type {
            if (isChannel(name))
                return {.unit = Unit(channel(name).unit), .assumed = !channel(name).unitStated, .changes = true};
            if (inputs.regions.contains(name)) return {.unit = Unit(), .changes = true};
            if (const MeasurementEntry *row = findEntry(m_document.measurements, name)) {
                return {.unit = Unit(wholeRow(*row).unit), .changes = true};
            }
            const ParameterEntry *parameter = findEntry(m_document.parameters, name);
            return {.unit =
                        parameter && !parameter->unit.empty() ? std::optional(Unit(parameter->unit)) : std::nullopt};
        };
        inputs.run = [&](const std::string &name, const std::vector<Formula> &formulas,
                         const std::vector<SourcePtr> &sources, const std::vector<double> &constants) {
            const ProgramEntry &its = *findEntry(m_document.programs, name);
            ProgramTask task{sources, {}, {}};
            for (const Formula &one : formulas) {
                const auto unit = one.typeOf(typeOfName).unit;
                task.units.push_back(unit ? unit->text() : "");
            }
            for (std::size_t i = 0; i < constants.size(); ++i)
                task.parameters.emplace_back(its.parameters[i], constants[i]);
            return run(its, std::move(task));
        };
        node.key = keyOfFormula("formula", formula); // looks at all that it names
        try {
            const Formula::Type type = formula.typeOf(typeOfName);
            if (type.unit) node.unit = type.unit->text(), node.unitStated = !type.assumed;
            std::tie(node.key, node.source) =
                made(node.key, estimated, [&] { return formula.evaluate(inputs, m_progress); });
            node.estimated = estimated;
        } catch (const Error &error) {
            throw error.within("channel \"" + id + "\"");
        }
    }
    if (!entry.unit.empty()) node.unit = entry.unit, node.unitStated = true;
    if (node.unit.empty() && !node.unitStated) node.unit = "V";
    return m_channels[id] = node;
}

std::pair<std::string, SourcePtr> Evaluation::made(const std::string &key, bool &estimated,
                                                   const std::function<SourcePtr()> &make)
{
    if (!m_estimates) return {key, *m_cache.get<SourcePtr>(key, make)};
    if (const auto exact = m_cache.peek<SourcePtr>(key)) return {key, *exact};
    struct Estimate {
        SourcePtr source;
        bool isOne;
    };
    const bool before = std::exchange(estimated, false);
    const std::string another = keyOf("estimate", key);
    const auto found = m_cache.get<Estimate>(another, [&] {
        SourcePtr source = make();
        return Estimate{source, estimated};
    });
    estimated = before || found->isOne;
    if (found->isOne) return {another, found->source};
    return {key, *m_cache.get<SourcePtr>(key, [&] { return found->source; })};
}

Row Evaluation::wholeRow(const MeasurementEntry &entry)
{
    return overAll([&](Evaluation &all) { return all.rowOfAll(entry); });
}

std::optional<FormulaMoments> Evaluation::momentsNamed(const std::string &id)
{
    if (const MeasurementEntry *entry = findEntry(m_document.measurements, id)) {
        const Row row = wholeRow(*entry);
        if (!row.measurable()) throw Error("row \"" + id + "\"", row.reason, "or take another row");
        return momentsOf(*row.measured, channel(entry->source).source);
    }
    const bool isEye = findEntry(m_document.eyes, id);
    if (!isEye && !findEntry(m_document.clocks, id)) return {};
    try {
        if (!isEye) return momentsOf(overAll([&](Evaluation &all) { return all.clock(id); }).clock->map);
        const EyeNode node = overAll([&](Evaluation &all) { return all.eye(id); });
        return momentsOf(node.clock->map, node.rule);
    } catch (const Unmeasurable &why) {
        const std::string kind = isEye ? "eye" : "clock";
        throw Error(kind + " \"" + id + "\"", why.reason, "or take another " + kind);
    }
}

Waveform Evaluation::column(const ChannelEntry &entry)
{
    const Node<Capture> from = capture(*findEntry(m_document.captures, entry.capture));
    return from.value->columns[columnIndex(*from.value, entry)];
}

/// Whether all of a column's values are floats, with bits to spare.
static bool isCoarse(const Waveform &column)
{
    return isInteger(column.type) && sampleSize(column.type) <= 2 && column.scale == 1 && column.offset == 0;
}

Evaluation::Node<Pyramid> Evaluation::pyramid(const std::string &channelId, bool sketchWillDo)
{
    const ChannelNode from = channel(channelId);
    const ChannelEntry &entry = *findEntry(m_document.channels, channelId);
    if (entry.formula.empty()) { // a pyramid of the samples as stored serves every scale
        const Node<Capture> capture = this->capture(*findEntry(m_document.captures, entry.capture));
        const std::size_t index = columnIndex(*capture.value, entry);
        const Waveform &column = capture.value->columns[index];
        if (isCoarse(column)) {
            const ChannelSource stored(column, capture.value->axis, 1, 0, 0);
            const Node<Pyramid> raw = pyramid(stored, keyOf("pyramid", capture.key, index), sketchWillDo);
            if (entry.scale == 1 && entry.offset == 0) return raw;
            const auto scaled = [&] { return raw.value->scaled(entry.scale, entry.offset); };
            if (raw.value->isSketch()) return {{}, std::make_shared<const Pyramid>(scaled())};
            const std::string key = keyOf("pyramid", from.key); // the same object as long as it is the same
            return {key, m_cache.get<Pyramid>(key, scaled)};
        }
    }
    return pyramid(*from.source, keyOf("pyramid", from.key), sketchWillDo);
}

Evaluation::Node<Pyramid> Evaluation::pyramid(const SampleSource &source, const std::string &key, bool sketchWillDo)
{
    constexpr std::int64_t soon = 1 << 22; // samples that are read at once
    const std::int64_t samples = source.axis().count;
    if (sketchWillDo && samples >= soon && !m_cache.peek<Pyramid>(key)) {
        if (auto kept = PyramidStore::find(key, samples))
            return {key, m_cache.get<Pyramid>(key, [&] { return std::move(*kept); })};
        return {key, std::make_shared<const Pyramid>(Pyramid::sketch(source))};
    }
    return {key, m_cache.get<Pyramid>(key, [&] {
                if (auto kept = PyramidStore::find(key, samples)) return std::move(*kept);
                Pyramid built = Pyramid::build(source, m_progress);
                PyramidStore::keep(key, built);
                return built;
            })};
}

} // namespace fulvex
