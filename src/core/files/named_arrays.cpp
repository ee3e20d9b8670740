#include "named_arrays.h"

#include "error.h"
#include "number_text.h"
#include "stated_facts.h"
#include "time_facts.h"
#include "uniform_times.h"

#include <algorithm>
#include <cstdio>

namespace fulvex {

namespace {

std::string_view lastPart(std::string_view name)
{
    const std::size_t slash = name.rfind('/');
    return slash == std::string_view::npos ? name : name.substr(slash + 1);
}

std::string_view bareName(std::string_view name)
{
    while (name.starts_with('/')) name.remove_prefix(1);
    return name;
}

bool isNamed(const NamedArray &array, std::string_view wanted)
{
    return bareName(array.name) == bareName(wanted);
}

std::string namesOf(const std::vector<NamedArray> &arrays)
{
    std::string names;
    for (std::size_t i = 0; i < arrays.size() && i < 20; ++i) names += (i ? ", \"" : "\"") + arrays[i].name + "\"";
    return names + (arrays.size() > 20 ? ", …" : "");
}

std::vector<NamedArray> choose(const std::string &file, std::vector<NamedArray> &arrays, const ImportOptions &options,
                               std::vector<std::string> &remarks)
{
    std::vector<NamedArray> chosen;
    if (!options.datasets.empty()) {
        for (const std::string &wanted : options.datasets) {
            const auto found =
                std::find_if(arrays.begin(), arrays.end(), [&](const NamedArray &a) { return isNamed(a, wanted); });
            if (found == arrays.end())
                throw Error(file, "holds no array \"" + wanted + "\"", "it has " + namesOf(arrays));
            chosen.push_back(*found);
        }
        for (const NamedArray &array : chosen) {
            if (array.count() != chosen[0].count())
                throw Error(file,
                            "\"" + array.name + "\" has " + std::to_string(array.count()) + " samples, \"" +
                                chosen[0].name + "\" has " + std::to_string(chosen[0].count()),
                            "choose arrays of one length, or make two captures of the file");
        }
        return chosen;
    }
    std::int64_t longest = 0;
    for (const NamedArray &array : arrays) longest = std::max(longest, array.count());
    std::vector<NamedArray> left;
    for (NamedArray &array : arrays) {
        if (array.count() == longest)
            chosen.push_back(std::move(array));
        else if (array.count() > 1)
            left.push_back(std::move(array));
    }
    if (!left.empty()) remarks.push_back("left out, being shorter: " + namesOf(left) + "; \"dataset\" chooses others");
    return chosen;
}

/// The array that holds the times, taken out of the chosen ones.
std::optional<NamedArray> takeTimes(const std::string &file, std::vector<NamedArray> &chosen,
                                    const ImportOptions &options)
{
    auto found = chosen.end();
    if (options.timeColumn && !*options.timeColumn) return {};
    if (options.timeColumn) {
        if (const int *index = std::get_if<int>(&**options.timeColumn))
            found = *index >= 0 && std::size_t(*index) < chosen.size() ? chosen.begin() + *index : chosen.end();
        else
            found = std::find_if(chosen.begin(), chosen.end(), [&](const NamedArray &a) {
                return isNamed(a, std::get<std::string>(**options.timeColumn));
            });
        if (found == chosen.end() || found->columns.size() != 1)
            throw Error(file, "has no single column for \"time_column\" among " + namesOf(chosen), "name another");
    } else {
        found = std::find_if(chosen.begin(), chosen.end(), [](const NamedArray &a) {
            return a.columns.size() == 1 && namesTime(lastPart(a.name)) && a.count() > 1;
        });
        if (found == chosen.end() || chosen.size() == 1) return {};
    }
    NamedArray times = std::move(*found);
    chosen.erase(found);
    return times;
}

void takeTimeFacts(const std::vector<NamedArray> &arrays, Capture &capture)
{
    const auto take = [&](const TimeFact &fact, const std::string &from) {
        const bool interval = fact.kind == TimeFact::Kind::interval;
        (interval ? capture.axis.interval : capture.axis.start) = fact.value;
        capture.intervalKnown |= interval;
        capture.remarks.push_back(std::string(interval ? "sample interval " : "start ") +
                                  quantityText(fact.value, "s", {}, 6) + ", from \"" + from + "\"");
    };
    for (const NamedArray &array : arrays) {
        if (array.count() != 1 || array.columns.size() != 1) continue;
        double value = 0;
        array.columns[0].read(0, std::span(&value, 1));
        if (const auto fact = timeFact(lastPart(array.name), value))
            take(*fact, array.name);
        else
            addStated(capture.stated, bareName(array.name), numberText(value));
    }
}

} // namespace

std::string numberText(double value)
{
    char digits[32];
    std::snprintf(digits, sizeof digits, "%.12g", value);
    return digits;
}

bool isAskedFor(const std::vector<std::string> &datasets, std::string_view name)
{
    return std::any_of(datasets.begin(), datasets.end(),
                       [&](const std::string &wanted) { return bareName(wanted) == bareName(name); });
}

Capture captureOf(const std::string &file, std::vector<NamedArray> arrays, const ImportOptions &options)
{
    Capture capture;
    for (const NamedArray &array : arrays) {
        for (const StatedFact &fact : array.stated) addStated(capture.stated, fact.what, fact.value);
    }
    std::erase_if(arrays, [](const NamedArray &array) { return array.name.empty(); });
    if (arrays.empty()) throw Error(file, "holds no array of numbers", "export the samples as numbers");
    capture.intervalKnown = false;
    for (const NamedArray &array : arrays) {
        if (array.count() != 1) capture.choices.push_back(array.name);
    }
    takeTimeFacts(arrays, capture);
    std::vector<NamedArray> chosen = choose(file, arrays, options, capture.remarks);
    for (const NamedArray &array : chosen) {
        if (array.interval) capture.axis.interval = *array.interval, capture.intervalKnown = true;
        if (array.start) capture.axis.start = *array.start;
    }
    if (const auto times = takeTimes(file, chosen, options)) {
        std::vector<double> values(std::size_t(times->count()));
        times->columns[0].read(0, values);
        const auto [factor, unit] = plainUnit(times->columns[0].unit);
        const UniformTimes found = uniformTimes(values, unit == "s" ? factor : 1, file, [&](std::size_t row) {
            return file + ": \"" + times->name + "\"[" + std::to_string(row) + "]";
        });
        capture.axis = found.axis;
        if (!found.doubt.empty()) capture.doubts.push_back(found.doubt);
        capture.intervalKnown = true;
    }
    for (NamedArray &array : chosen) {
        for (Waveform &column : array.columns) {
            const std::string apart = column.name; // "[2]", "real"
            column.name = std::string(lastPart(array.name));
            if (!apart.empty()) column.name += (apart.front() == '[' ? "" : " ") + apart;
            const auto [factor, unit] = plainUnit(column.unit);
            column.scale *= factor;
            column.offset *= factor;
            column.unit = unit;
            capture.columns.push_back(std::move(column));
        }
    }
    if (capture.columns.empty() || capture.columns[0].count == 0)
        throw Error(file, "holds no samples", "check that the export finished");
    checkColumns(capture.columns.size(), file, "choose among them with \"dataset\"");
    capture.axis.count = capture.columns[0].count;
    applyTimeOptions(capture, options);
    return capture;
}

} // namespace fulvex
