#include "run_evidence.h"

#include "evidence_support.h"
#include "number_text.h"

#include <algorithm>
#include <cmath>

namespace fulvex {

double finestInterval(const Results &results)
{
    double finest = 0;
    for (const CaptureResult &capture : results.captures)
        if (capture.sampleInterval > 0 && (finest == 0 || capture.sampleInterval < finest))
            finest = capture.sampleInterval;
    return finest;
}

Evidence ofManyCaptures(const Results &results, const Row &row, const Question &question, std::size_t wanted)
{
    Evidence found;
    found.of = Evidence::Of::occurrences;
    found.title = row.title + " of all captures";
    found.unit = row.unit;
    found.step = finestInterval(results) / 10;
    found.order = "farthest first";
    found.none = row.measurable() ? "No value that is kept lies there: the hundred lowest are, and the hundred highest."
                                  : row.reason;
    found.mean = row.statistics.mean.value_or(0);
    found.std = row.statistics.std.value_or(0);
    const PopulationTotal &total = *row.total;
    const auto digit = found.std > 0 ? std::optional(found.std / 20) : std::nullopt;
    const auto add = [&](double value, const std::string &capture) -> Evidence::Item & {
        Evidence::Item item;
        item.value = value;
        item.place.channel = row.source;
        item.place.words = quantityText(value, found.unit, digit);
        item.place.capture = capture;
        return found.items.emplace_back(std::move(item));
    };
    const bool ofCaptures = total.single || (total.lowest.empty() && total.highest.empty());
    if (ofCaptures) {
        found.order = "by capture, farthest first";
        for (const PopulationTotal::Record &record : total.records) {
            ++found.all;
            if (record.reason.empty() && lies(question.values, record.mean)) add(record.mean, record.capture);
        }
    } else {
        for (const PopulationTotal::Record &record : total.records) found.all += record.count;
        const double margin = 4 * finestInterval(results);
        std::vector<PopulationTotal::Example> examples = total.lowest;
        examples.insert(examples.end(), total.highest.begin(), total.highest.end());
        std::sort(examples.begin(), examples.end());
        examples.erase(std::unique(examples.begin(), examples.end()), examples.end());
        for (const PopulationTotal::Example &one : examples) {
            if (!lies(question.values, one.value) || !lies(question.times, one.time)) continue;
            Evidence::Item &item = add(one.value, one.capture);
            const double around = one.lasts > 0 ? 0 : margin;
            item.time = one.time;
            item.place.from = one.time - around;
            item.place.to = one.time + one.lasts + around;
            item.place.instants = {one.time};
            if (one.lasts > 0) item.place.instants.push_back(one.time + one.lasts);
        }
    }
    std::stable_sort(found.items.begin(), found.items.end(), [&](const Evidence::Item &a, const Evidence::Item &b) {
        return std::abs(a.value - found.mean) > std::abs(b.value - found.mean);
    });
    found.count = std::int64_t(found.items.size());
    if (found.items.size() > wanted) found.items.resize(wanted);
    return found;
}

} // namespace fulvex
