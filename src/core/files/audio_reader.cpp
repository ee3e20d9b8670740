#include "audio_reader.h"

#include "error.h"
#include "mapped_columns.h"
#include "memory_budget.h"
#include "stated_facts.h"

#include <algorithm>
#include <cmath>
#include <cstring>
#include <optional>
#include <sndfile.h>

namespace fulvex {

namespace {

std::string_view textAt(std::span<const std::byte> bytes, std::size_t at, std::size_t length)
{
    if (at + length > bytes.size()) return {};
    return {reinterpret_cast<const char *>(bytes.data()) + at, length};
}

/// Numbers in a file of one byte order; what lies behind its end is 0.
class Numbers {
public:
    Numbers(std::span<const std::byte> bytes, bool big) : m_bytes(bytes), m_big(big) {}
    std::uint64_t operator()(std::size_t at, std::size_t length) const
    {
        std::uint64_t value = 0;
        for (std::size_t i = 0; i < length && at + i < m_bytes.size(); ++i)
            value |= std::uint64_t(m_bytes[at + i]) << (8 * (m_big ? length - 1 - i : i));
        return value;
    }

private:
    std::span<const std::byte> m_bytes;
    bool m_big;
};

/// Full scale is 1, as far down as the type goes.
void scaleToOne(std::vector<Waveform> &columns, SampleType type)
{
    for (Waveform &column : columns) {
        if (!isInteger(type)) continue;
        column.scale = 1 / std::exp2(8.0 * double(sampleSize(type)) - 1);
        if (type == SampleType::u8) column.offset = -1; // 128 is zero
    }
}

struct WaveFile {
    SampleLayout layout;
    double rate = 0;
};

/// The texts of a LIST INFO chunk. Source: Multimedia Programming Interface and Data Specifications 1.0, RIFF.
void readInfo(std::span<const std::byte> bytes, std::uint64_t from, std::uint64_t to, const Numbers &numberAt,
              std::vector<StatedFact> &stated)
{
    static constexpr std::pair<std::string_view, const char *> kinds[] = {
        {"INAM", "title"},    {"IART", "artist"},   {"ICMT", "comment"}, {"ICRD", "date"},
        {"ISFT", "software"}, {"IENG", "engineer"}, {"IPRD", "product"}, {"ISBJ", "subject"}};
    for (std::uint64_t at = from; at + 8 <= std::min<std::uint64_t>(to, bytes.size());) {
        const std::uint64_t size = numberAt(at + 4, 4);
        for (const auto &[id, what] : kinds)
            if (textAt(bytes, at, 4) == id) addStated(stated, what, textAt(bytes, at + 8, size));
        at += 8 + size + (size & 1);
    }
}

/// The fixed texts of a broadcast chunk. Source: EBU Tech 3285.
void readBroadcast(std::span<const std::byte> bytes, std::uint64_t at, std::vector<StatedFact> &stated)
{
    static constexpr std::pair<const char *, std::size_t> texts[] = {
        {"description", 256}, {"originator", 32}, {"originator reference", 32}, {"date", 10}, {"time", 8}};
    for (const auto &[what, length] : texts) {
        const std::string_view text = textAt(bytes, at, length);
        addStated(stated, what, text.substr(0, text.find('\0')));
        at += length;
    }
}

/// The format and data chunks of a RIFF, RIFX or RF64 file; nothing where samples are encoded in a way that is not
/// plain.
std::optional<WaveFile> parseWave(std::span<const std::byte> bytes, const std::string &name,
                                  std::vector<std::string> &remarks, std::vector<StatedFact> &stated)
{
    WaveFile wave;
    const bool big = textAt(bytes, 0, 4) == "RIFX";
    const Numbers numberAt(bytes, big);
    std::uint64_t dataSize = 0;
    bool plain = false, data = false;
    std::uint64_t longSize = 0; // of RF64
    for (std::uint64_t at = 12; at + 8 <= bytes.size() && !data;) {
        const std::string_view id = textAt(bytes, at, 4);
        const std::uint64_t size = numberAt(at + 4, 4), body = at + 8;
        if (id == "ds64") longSize = numberAt(body + 8, 8);
        if (id == "LIST" && textAt(bytes, body, 4) == "INFO") readInfo(bytes, body + 4, body + size, numberAt, stated);
        if (id == "bext") readBroadcast(bytes, body, stated);
        if (id == "fmt " && size >= 16) {
            std::uint64_t tag = numberAt(body, 2);
            if (tag == 0xFFFE && size >= 26) tag = numberAt(body + 24, 2);
            wave.layout.channels = std::int64_t(numberAt(body + 2, 2));
            wave.rate = double(numberAt(body + 4, 4));
            const std::uint64_t bits = numberAt(body + 14, 2);
            const std::uint64_t frame = numberAt(body + 12, 2);
            using enum SampleType;
            const auto type = tag == 1   ? bits == 8    ? std::optional(u8)
                                           : bits == 16 ? std::optional(i16)
                                           : bits == 24 ? std::optional(i24)
                                           : bits == 32 ? std::optional(i32)
                                                        : std::nullopt
                              : tag == 3 ? bits == 32   ? std::optional(f32)
                                           : bits == 64 ? std::optional(f64)
                                                        : std::nullopt
                                         : std::nullopt;
            plain = type && !(big && *type == i24) && wave.layout.channels > 0 &&
                    frame == bits / 8 * std::uint64_t(wave.layout.channels);
            wave.layout.type = type.value_or(i16);
        }
        if (id == "data") {
            data = true;
            wave.layout.offset = body;
            dataSize = size == 0xFFFFFFFF ? longSize : size;
        } else {
            at = body + size + (size & 1);
        }
    }
    if (!plain || !data) return {};
    const std::uint64_t left = bytes.size() - wave.layout.offset;
    if (dataSize == 0 && left > 0) {
        remarks.push_back("the header says that there are no samples, as an unfinished recording's does: all that "
                          "follow are taken");
        dataSize = left;
    }
    if (dataSize > left)
        throw Error(name + ": byte " + std::to_string(wave.layout.offset - 4),
                    "should hold " + std::to_string(dataSize) + " bytes of samples, but only " + std::to_string(left) +
                        " follow",
                    "the file is truncated: copy or export it again");
    checkColumns(std::size_t(wave.layout.channels), name, "save fewer channels in one file");
    fillLayout(wave.layout, wave.layout.offset + dataSize, name, remarks);
    wave.layout.swapped = isSwapped(big);
    return wave;
}

/// Bytes in memory as libsndfile wants to read them.
struct Stream {
    std::span<const std::byte> bytes;
    sf_count_t at = 0;
    static SF_VIRTUAL_IO functions()
    {
        const auto self = [](void *user) -> Stream & { return *static_cast<Stream *>(user); };
        static const auto stream = self;
        return {[](void *user) { return sf_count_t(stream(user).bytes.size()); },
                [](sf_count_t offset, int whence, void *user) {
                    Stream &s = stream(user);
                    const auto size = sf_count_t(s.bytes.size());
                    const sf_count_t base = whence == SEEK_SET ? 0 : whence == SEEK_CUR ? s.at : size;
                    s.at = std::clamp<sf_count_t>(base + std::clamp<sf_count_t>(offset, -size, size), 0, size);
                    return s.at;
                },
                [](void *out, sf_count_t count, void *user) {
                    Stream &s = stream(user);
                    const sf_count_t got = std::clamp<sf_count_t>(count, 0, sf_count_t(s.bytes.size()) - s.at);
                    std::memcpy(out, s.bytes.data() + s.at, std::size_t(got));
                    s.at += got;
                    return got;
                },
                nullptr, [](void *user) { return stream(user).at; }};
    }
};

template <typename T, typename Read>
std::vector<Waveform> decode(SNDFILE *sound, const SF_INFO &facts, Read read, SampleType type, const std::string &name,
                             std::size_t fileSize, Progress &progress)
{
    MemoryBudget budget(name, fileSize);
    auto samples = std::make_shared<std::vector<T>>();
    const auto channels = std::size_t(facts.channels);
    constexpr sf_count_t step = 1 << 16; // frames
    progress.expect(double(facts.frames));
    for (sf_count_t got = step; got == step;) { // until it ends, whatever the header says
        const std::size_t had = samples->size();
        budget.take(double(step) * double(channels) * sizeof(T));
        samples->resize(had + std::size_t(step) * channels);
        got = std::clamp<sf_count_t>(read(sound, samples->data() + had, step), 0, step);
        samples->resize(had + std::size_t(got) * channels);
        progress.advance(double(got));
    }
    SampleLayout layout;
    layout.type = type;
    layout.channels = facts.channels;
    layout.samples = std::int64_t(samples->size() / channels);
    return columnsIn(samples, std::as_bytes(std::span(*samples)), layout);
}

std::vector<Waveform> decodeAll(const MappedFile &file, double &rate, std::vector<StatedFact> &stated,
                                Progress &progress)
{
    const std::string name = file.path().string();
    Stream stream{file.bytes()};
    SF_VIRTUAL_IO functions = Stream::functions();
    SF_INFO facts{};
    const std::unique_ptr<SNDFILE, int (*)(SNDFILE *)> sound(sf_open_virtual(&functions, SFM_READ, &facts, &stream),
                                                             sf_close);
    if (!sound)
        throw Error(name, std::string("cannot be decoded: ") + sf_strerror(nullptr),
                    "the file is damaged or of an encoding that is not read: save it as PCM");
    if (facts.channels < 1) throw Error(name, "has no channels", "the file is damaged: copy or export it again");
    checkColumns(std::size_t(facts.channels), name, "save fewer channels in one file");
    rate = facts.samplerate;
    static constexpr std::pair<int, const char *> texts[] = {{SF_STR_TITLE, "title"},
                                                             {SF_STR_ARTIST, "artist"},
                                                             {SF_STR_COMMENT, "comment"},
                                                             {SF_STR_DATE, "date"},
                                                             {SF_STR_SOFTWARE, "software"}};
    for (const auto &[kind, what] : texts)
        if (const char *text = sf_get_string(sound.get(), kind)) addStated(stated, what, text);
    const std::size_t size = file.bytes().size();
    std::vector<Waveform> columns;
    switch (facts.format & SF_FORMAT_SUBMASK) {
    case SF_FORMAT_PCM_S8:
    case SF_FORMAT_PCM_U8:
    case SF_FORMAT_PCM_16:
        columns = decode<short>(sound.get(), facts, sf_readf_short, SampleType::i16, name, size, progress);
        scaleToOne(columns, SampleType::i16);
        break;
    case SF_FORMAT_PCM_24:
    case SF_FORMAT_PCM_32:
        columns = decode<int>(sound.get(), facts, sf_readf_int, SampleType::i32, name, size, progress);
        scaleToOne(columns, SampleType::i32);
        break;
    case SF_FORMAT_DOUBLE:
        columns = decode<double>(sound.get(), facts, sf_readf_double, SampleType::f64, name, size, progress);
        break;
    default:
        columns = decode<float>(sound.get(), facts, sf_readf_float, SampleType::f32, name, size, progress);
    }
    return columns;
}

} // namespace

bool looksLikeAudio(std::span<const std::byte> head)
{
    const std::string_view magic = textAt(head, 0, 4), kind = textAt(head, 8, 4);
    return ((magic == "RIFF" || magic == "RIFX" || magic == "RF64") && kind == "WAVE") || magic == "fLaC" ||
           (magic == "riff" && textAt(head, 24, 4) == "wave");
}

Capture readAudio(std::shared_ptr<const MappedFile> file, const ImportOptions &options, Progress &progress)
{
    const std::string name = file->path().string();
    Capture capture;
    double rate = 0;
    const std::string_view magic = textAt(file->bytes(), 0, 4);
    std::optional<WaveFile> wave;
    if (magic == "RIFF" || magic == "RIFX" || magic == "RF64")
        wave = parseWave(file->bytes(), name, capture.remarks, capture.stated);
    if (wave) {
        capture.columns = mappedColumns(file, wave->layout);
        scaleToOne(capture.columns, wave->layout.type);
        rate = wave->rate;
    } else {
        capture.columns = decodeAll(*file, rate, capture.stated, progress);
    }
    capture.axis.count = capture.columns[0].count;
    if (capture.axis.count == 0) throw Error(name, "holds no samples", "check that the recording finished");
    capture.intervalKnown = rate > 0;
    if (rate > 0) capture.axis.interval = 1 / rate;
    applyTimeOptions(capture, options);
    return capture;
}

} // namespace fulvex
