#include "spectrum_entry.h"

#include "entry_words.h"
#include "error.h"

namespace fulvex {

namespace {
constexpr Choice spectrumKinds[] = {{"spectrum", "spectrum"},
                                    {"spectrogram", "spectrogram"},
                                    {"transfer", "transfer function"},
                                    {"autocorrelation", "autocorrelation"}};
}

std::vector<Field> fieldsOf(SpectrumEntry &entry)
{
    const bool transfer = entry.kind == "transfer", lags = entry.kind == "autocorrelation",
               adds = entry.kind == "spectrum" || entry.kind == "spectrogram";
    Field longest{.key = "longest",
                  .words = "longest lag",
                  .unit = "s",
                  .belongs = lags,
                  .least = 0,
                  .most = farthestMoment,
                  .above = true,
                  .none = "a quarter of the record",
                  .value = &entry.longest};
    return {
        idField(entry.id),
        {.key = "kind", .always = true, .choices = spectrumKinds, .value = &entry.kind},
        {.key = "source",
         .words = transfer            ? "from"
                  : entry.row.empty() ? "of"
                                      : "",
         .refers = EntryKind::channel,
         .needed = transfer || entry.row.empty(),
         .value = &entry.source},
        {.key = "row",
         .words = entry.row.empty() ? "" : "of row",
         .belongs = !transfer,
         .refers = EntryKind::measurement,
         .value = &entry.row},
        {.key = "to",
         .words = "to",
         .belongs = transfer,
         .refers = EntryKind::channel,
         .needed = transfer,
         .value = &entry.to},
        regionField(entry.region),
        {.key = "window", .words = "window", .belongs = !lags, .choices = windowWords, .value = &entry.window},
        {.key = "resolution",
         .words = "resolution",
         .unit = "Hz",
         .belongs = !lags,
         .least = 0,
         .above = true,
         .none = "by the record's length",
         .value = &entry.resolution},
        {.key = "highest", .words = "keep the highest", .belongs = adds, .value = &entry.highest},
        longest,
    };
}

void checkEntry(const SpectrumEntry &entry, const std::string &where)
{
    if (!entry.source.empty() && !entry.row.empty())
        throw Error(where, "names a channel and a row", "leave out \"source\" or \"row\"");
}

} // namespace fulvex
