#include "live_source.h"

#include "error.h"
#include "number_text.h"

#include <cmath>
#include <cstring>
#include <optional>

namespace fulvex {

namespace {

constexpr std::size_t mostBytes = std::size_t(16) << 30;

std::string replaced(std::string text, const std::string &channel)
{
    constexpr std::string_view place = "{channel}";
    for (std::size_t at = text.find(place); at != std::string::npos; at = text.find(place, at + channel.size()))
        text.replace(at, place.size(), channel);
    return text;
}

/// Of an answer, commas between.
std::vector<std::string> fieldsIn(const std::string &line)
{
    std::vector<std::string> fields{""};
    for (const char letter : line) {
        if (letter == ',')
            fields.emplace_back();
        else if (letter != ' ')
            fields.back() += letter;
    }
    return fields;
}

} // namespace

std::int64_t LiveRecord::samples() const
{
    return channels.empty() ? 0 : std::int64_t(channels.front().bytes.size() / sampleSize(type));
}

LiveSource::LiveSource(const std::string &address, Dialect dialect, Progress &progress)
    : m_dialect(std::move(dialect)), m_socket(address, std::chrono::milliseconds(m_dialect.patience), progress)
{
    if (!m_dialect.identity.empty()) m_identity = ask(m_dialect.identity, progress);
    tell(m_dialect.begin, progress);
}

void LiveSource::fail(const std::string &what, const std::string &mend) const
{
    throw Error(m_socket.address(), what, mend);
}

std::string LiveSource::ask(const std::string &question, Progress &progress)
{
    m_socket.send(question + "\n", progress);
    return m_socket.line(progress);
}

void LiveSource::tell(const std::vector<std::string> &lines, Progress &progress)
{
    for (const std::string &line : lines) m_socket.send(line + "\n", progress);
}

void LiveSource::describe(LiveRecord &record, LiveRecord::Channel &channel, std::size_t &samples, Progress &progress)
{
    for (const Dialect::Description &description : m_dialect.describe) {
        const std::string question = replaced(description.ask, channel.name), answer = ask(question, progress);
        const std::vector<std::string> fields = fieldsIn(answer);
        const auto wrong = [&](const std::string &what) {
            fail("answers " + question + " with \"" + answer.substr(0, 100) + "\": " + what,
                 "is it the right dialect for this instrument?");
        };
        if (fields.size() < description.fields.size())
            wrong(std::to_string(description.fields.size()) + " values were expected");
        for (std::size_t i = 0; i < description.fields.size(); ++i) {
            const std::string &field = description.fields[i];
            if (field == "skip") continue;
            const auto value = plainNumber(fields[i]);
            if (!value) wrong("its " + field + " is no number");
            constexpr double longest = 1e9;
            if (field == "samples") {
                if (!(*value >= 1 && *value <= double(mostBytes) && *value == std::floor(*value)))
                    wrong("so many samples there cannot be");
                samples = std::size_t(*value);
            } else if (field == "sample_interval") {
                if (!(*value > 0 && *value < longest)) wrong("its sample_interval is no time");
                if (record.interval > 0 && record.interval != *value) wrong("its channels have different intervals");
                record.interval = *value;
            } else if (field == "start") {
                if (std::abs(*value) > longest) wrong("its start is too far off");
                record.start = *value;
            } else if (field == "scale") {
                if (*value == 0) wrong("its scale is 0");
                channel.scale = *value;
            } else {
                channel.offset = *value;
            }
        }
    }
}

void LiveSource::take(Progress &progress)
{
    tell(m_dialect.acquire, progress);
    if (m_dialect.done.empty()) return;
    if (const std::string answer = ask(m_dialect.done, progress); plainNumber(answer) != 1.0)
        fail("answers " + m_dialect.done + " with \"" + answer.substr(0, 100) + "\", not 1",
             "is it the right dialect for this instrument?");
}

LiveRecord LiveSource::read(Progress &progress)
{
    LiveRecord record;
    record.type = m_dialect.samples;
    record.bigEndian = m_dialect.bigEndian;
    record.unit = m_dialect.unit;
    record.identity = m_identity;
    const std::size_t size = sampleSize(record.type);
    for (const std::string &name : m_dialect.channels) {
        LiveRecord::Channel channel;
        channel.name = name;
        std::size_t samples = 0;
        describe(record, channel, samples, progress);
        m_socket.send(replaced(m_dialect.read, name) + "\n", progress);
        if (samples > 0) channel.bytes.reserve(samples * size);
        m_socket.block(
            samples > 0 ? samples * size : mostBytes,
            [&](std::span<const std::byte> piece) {
                channel.bytes.insert(channel.bytes.end(), piece.begin(), piece.end());
            },
            progress);
        const std::size_t got = channel.bytes.size();
        if (got == 0 || got % size != 0 || (samples > 0 && got != samples * size))
            fail("sent " + std::to_string(got) + " bytes of " + name + ", and " +
                     (samples > 0 ? std::to_string(samples * size) + " were expected" : "no whole samples"),
                 "what it says of its samples and what it sends do not go together");
        if (!record.channels.empty() && record.channels.front().bytes.size() != got)
            fail("sent channels of different lengths", "set all to one length");
        record.channels.push_back(std::move(channel));
    }
    if (!m_dialect.error.empty())
        if (const std::string answer = ask(m_dialect.error, progress);
            !answer.starts_with("0") && !answer.starts_with("+0"))
            fail("says: " + answer.substr(0, 200), "mend that at the instrument, or in its dialect");
    return record;
}

void LiveSource::abort() noexcept
{
    try {
        Progress uncancelled;
        tell(m_dialect.abort, uncancelled);
    } catch (...) {
        // it is gone, or busy: nobody waits for it
    }
}

} // namespace fulvex
