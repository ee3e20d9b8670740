#include "population_file.h"

#include "atomic_file.h"
#include "error.h"
#include "npy_header.h"
#include "number_text.h"

#include <limits>
#include <utility>

namespace fulvex {

namespace {

void appendBytes(std::string &bytes, double number)
{
    bytes.append(reinterpret_cast<const char *>(&number), sizeof number);
}

/// What is not a number is an empty field.
void appendLine(std::string &text, double time, double value)
{
    text += plainText(time) + ',' + plainText(value) + '\n';
}

/// Calls `use(time, value)` for what a row counts.
template <typename Use>
void eachOccurrence(const Row &row, const Use &use)
{
    if (!row.measurable()) return;
    const Population &all = row.measured->population;
    if (row.measured->single && all.size() == 0)
        return use(std::numeric_limits<double>::quiet_NaN(), row.measured->value);
    for (std::size_t i = 0; i < all.size(); ++i) use(all.time(i), all.value[i]);
}

std::int64_t occurrences(const Row &row)
{
    if (!row.measurable()) return 0;
    const auto all = std::int64_t(row.measured->population.size());
    return row.measured->single && all == 0 ? 1 : all;
}

/// A field of a text table, quoted where it has to be.
std::string field(const std::string &text)
{
    if (text.find_first_of(",\"\r\n") == std::string::npos) return text;
    std::string quoted = "\"";
    for (const char c : text) quoted += c == '"' ? "\"\"" : std::string(1, c);
    return quoted + "\"";
}

std::string headingOf(const std::string &heading)
{
    return "time (s)," + field(heading) + "\n";
}

/// Else a table; throws Error for any other name.
bool isNpy(const std::filesystem::path &path)
{
    const bool npy = path.extension() == ".npy";
    if (!npy && path.extension() != ".csv")
        throw Error(path.string(), "is neither a .npy nor a .csv by its name", "end it with one of them");
    return npy;
}

constexpr std::size_t enough = 1 << 20; ///< bytes, to be written at once

} // namespace

void writePopulation(const std::filesystem::path &path, const Row &row, Progress &progress)
{
    const bool npy = isNpy(path);
    AtomicFile file(path);
    file.write(npy ? npyHeader("<f8", occurrences(row), 2)
                   : headingOf(row.title + (row.unit.empty() ? "" : " (" + row.unit + ")")));
    progress.expect(double(occurrences(row)));
    std::string some;
    double told = 0;
    const auto flush = [&] {
        file.write(some);
        some.clear();
        progress.advance(std::exchange(told, 0));
    };
    eachOccurrence(row, [&](double time, double value) {
        ++told;
        if (npy) {
            appendBytes(some, time);
            appendBytes(some, value);
        } else {
            appendLine(some, time, value);
        }
        if (some.size() >= enough) flush();
    });
    flush();
    file.commit();
}

void writeHistogram(const std::filesystem::path &path, const Row &row, const ValueHistogram &histogram)
{
    const bool npy = isNpy(path);
    const std::string unit = row.unit.empty() ? "" : " (" + row.unit + ")";
    std::string bytes =
        npy ? npyHeader("<f8", std::int64_t(histogram.counts.size()), 3)
            : field("from" + unit) + "," + field("to" + unit) + "," + field("count of " + row.title) + "\n";
    for (std::size_t bar = 0; bar < histogram.counts.size(); ++bar) {
        const double from = histogram.low + double(bar) * histogram.binWidth(),
                     numbers[] = {from, from + histogram.binWidth(), double(histogram.counts[bar])};
        for (const double &number : numbers) {
            if (npy) {
                appendBytes(bytes, number);
                continue;
            }
            bytes += plainText(number);
            bytes += &number == &numbers[2] ? '\n' : ',';
        }
    }
    writeFileAtomically(path, bytes);
}

} // namespace fulvex
