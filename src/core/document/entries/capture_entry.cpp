#include "capture_entry.h"

namespace fulvex {

namespace {

constexpr Choice sampleTypes[] = {{"i8", "8 bits"},
                                  {"u8", "8 bits, from 0 on"},
                                  {"i16", "16 bits"},
                                  {"u16", "16 bits, from 0 on"},
                                  {"i24", "24 bits"},
                                  {"i32", "32 bits"},
                                  {"u32", "32 bits, from 0 on"},
                                  {"i64", "64 bits"},
                                  {"u64", "64 bits, from 0 on"},
                                  {"f16", "half precision"},
                                  {"f32", "single precision"},
                                  {"f64", "double precision"}};
constexpr Choice byteOrders[] = {{"little", "least byte first"}, {"big", "greatest byte first"}};
constexpr std::size_t mostFiles = 100000; ///< of a run
constexpr Choice keepWords[] = {{"all", "all captures"}, {"failed", "those that failed"}, {"last", "the last ones"}};
constexpr const char *characterMend = "write \";\", \",\" or \"\\t\"";

Word characterWord(std::optional<char> &value)
{
    return {[&value] { return value ? std::string(1, *value) : std::string(); },
            [&value](const std::string &word) {
                const std::string plain = word == "\\t" ? "\t" : word;
                if (plain.size() == 1) value = plain[0];
                return plain.size() == 1;
            }};
}

Word formatWord(std::optional<std::string> &format)
{
    return {[&format] { return format.value_or(std::string()); },
            [&format](const std::string &word) {
                format = word;
                return true;
            }};
}

Word sampleTypeWord(std::optional<SampleType> &type)
{
    return {[&type] { return type ? std::string(sampleTypeName(*type)) : std::string(); },
            [&type](const std::string &word) {
                type = sampleTypeOf(word);
                return type.has_value();
            }};
}

Word byteOrderWord(std::optional<bool> &bigEndian)
{
    return {[&bigEndian] { return bigEndian ? std::string(byteOrders[*bigEndian].word) : std::string(); },
            [&bigEndian](const std::string &word) {
                bigEndian = word == "big";
                return true;
            }};
}

} // namespace

std::vector<Field> fieldsOf(ImportOptions &options)
{
    return {
        {.key = "format", .value = formatWord(options.format)},
        {.key = "sample_interval",
         .words = "interval",
         .unit = "s",
         .least = 1e-18,
         .most = 1e9,
         .none = "as the file states it",
         .wrong = "is no time between samples",
         .mend = "give s, within 1e-18 … 1e9",
         .value = &options.sampleInterval},
        timeField("start", "", &options.start),
        {.key = "time_column", .value = &options.timeColumn},
        {.key = "separator",
         .wrong = "is not one character",
         .mend = characterMend,
         .value = characterWord(options.separator)},
        {.key = "decimal",
         .wrong = "is not one character",
         .mend = characterMend,
         .value = characterWord(options.decimal)},
        {.key = "dataset", .single = true, .letters = 4096, .value = &options.datasets},
        {.key = "sample_type", .choices = sampleTypes, .value = sampleTypeWord(options.sampleType)},
        {.key = "byte_order", .choices = byteOrders, .value = byteOrderWord(options.bigEndian)},
        {.key = "header_bytes",
         .least = 0,
         .wrong = "is below 0",
         .mend = "give the bytes before the samples",
         .value = &options.headerBytes},
        {.key = "interleave",
         .least = 1,
         .most = 4096,
         .mend = "give the number of channels",
         .value = &options.interleave},
        {.key = "segments",
         .least = 1,
         .most = mostFiles,
         .mend = "give how many equally long segments the file consists of",
         .value = &options.segments},
        {.key = "segment",
         .least = 0,
         .most = mostFiles,
         .mend = "give the number of a segment, from 0 on",
         .value = &options.segment},
    };
}

std::vector<Field> fieldsOf(CaptureEntry &entry)
{
    std::vector<Field> fields{
        idField(entry.id),
        {.key = "file",
         .words = "file",
         .always = true,
         .letters = 4096,
         .needed = entry.run.files.empty() && entry.live.address.empty(),
         .wrong = "names no file",
         .mend = "give a path, relative to the document",
         .value = &entry.file},
        {.key = "sha256", .value = &entry.sha256},
        {.key = "bytes",
         .least = 0,
         .most = 9e15,
         .wrong = "is no number of bytes",
         .mend = "leave it out: it is found when the project is saved",
         .value = &entry.bytes},
    };
    for (Field field : fieldsOf(entry.import)) {
        field.group = "import";
        fields.push_back(std::move(field));
    }
    for (Field field :
         {Field{.key = "files", .single = true, .letters = mostFiles, .value = &entry.run.files},
          Field{.key = "left_out",
          .letters = mostFiles,
          .wrong = "gives no reason",
          .mend = "say why the capture does not count",
          .value = &entry.run.leftOut},
          Field{.key = "stop_at",
          .words = entry.isRun() ? "stop at failures" : "",
          .least = 1,
          .most = mostFiles,
          .none = "goes on to the end",
          .mend = "give how many failed captures end the run",
          .value = &entry.run.stopAt},
          Field{.key = "watched", .words = entry.run.files.empty() ? "" : "watched", .value = &entry.run.watched}}) {
        field.group = "run";
        field.role = Role::gathers;
        fields.push_back(std::move(field));
    }
    const bool live = !entry.live.address.empty();
    for (Field field :
         {Field{.key = "address", .words = live ? "instrument" : "", .value = &entry.live.address},
          Field{.key = "dialect",
          .words = live ? "dialect" : "",
          .letters = 4096,
          .needed = true,
          .wrong = "names no dialect",
          .mend = "give a shipped one's id, or a file",
          .value = &entry.live.dialect},
          Field{.key = "folder",
          .words = live ? "kept in" : "",
          .letters = 4096,
          .needed = true,
          .wrong = "names no folder",
          .mend = "say where captures are kept",
          .value = &entry.live.folder},
          Field{.key = "keep", .words = live ? "keep" : "", .choices = keepWords, .value = &entry.live.keep},
          Field{.key = "last",
          .words = live && entry.live.keep == "last" ? "so many" : "",
          .least = 1,
          .most = mostFiles,
          .mend = "give how many captures are kept",
          .value = &entry.live.last}}) {
        field.group = "live";
        field.role = Role::gathers;
        fields.push_back(std::move(field));
    }
    return fields;
}

} // namespace fulvex
