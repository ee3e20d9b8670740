#include "comparison.h"

#include <algorithm>
#include <cmath>

namespace fulvex {

namespace {

std::optional<double> finite(std::optional<double> value)
{
    return value && std::isfinite(*value) ? value : std::nullopt;
}

/// What a row measures, but for how.
std::string subjectOf(const ComparedResult &result, const ComparedNumber &number)
{
    const MeasurementEntry *row = result.document ? findEntry(result.document->measurements, number.id) : nullptr;
    if (!row) return {};
    return row->quantity + "|" + row->source + "|" + row->to + "|" + row->eye + "|" + row->edge;
}

/// Of each number of the first result that of the second, or none.
std::vector<const ComparedNumber *> partnersOf(const std::vector<ComparedNumber> &first, const ComparedResult &a,
                                               const std::vector<ComparedNumber> &second, const ComparedResult &b)
{
    std::vector<const ComparedNumber *> partners(first.size());
    const auto isTaken = [&](const ComparedNumber &one) { return std::ranges::find(partners, &one) != partners.end(); };
    for (std::size_t i = 0; i < first.size(); ++i) {
        const auto same = std::ranges::find_if(second, [&](const ComparedNumber &one) {
            return one.id == first[i].id && one.quantity == first[i].quantity;
        });
        if (same != second.end()) partners[i] = &*same;
    }
    for (std::size_t i = 0; i < first.size(); ++i) {
        const std::string subject = subjectOf(a, first[i]);
        if (partners[i] || subject.empty()) continue;
        const auto isLeft = [&](const ComparedNumber &one) { return !isTaken(one) && subjectOf(b, one) == subject; };
        const auto alike = std::ranges::find_if(second, isLeft);
        const auto others = std::count_if(first.begin(), first.end(), [&](const ComparedNumber &one) {
            return !partners[std::size_t(&one - first.data())] && subjectOf(a, one) == subject;
        });
        if (alike != second.end() && others == 1 && std::ranges::count_if(second, isLeft) == 1) partners[i] = &*alike;
    }
    return partners;
}

/// Fingerprints of all files of a capture, sorted: one that is not known comes first, as nothing.
std::vector<std::string> printsOf(const ComparedResult &result, const std::string &capture)
{
    std::vector<std::string> prints;
    for (const ComparedResult::Record &one : result.captures)
        if (one.id == capture) prints.push_back(one.sha256);
    std::ranges::sort(prints);
    return prints;
}

Comparison::Pair pairOf(const ComparedNumber &first, const ComparedNumber &second)
{
    Comparison::Pair pair{first, second, {}, {}, {}, false};
    if (!first.value || !second.value || first.unit != second.unit) return pair;
    pair.difference = *second.value - *first.value;
    if (!first.uncertainty || !second.uncertainty) return pair;
    pair.uncertainty = std::hypot(*first.uncertainty, *second.uncertainty);
    if (*pair.uncertainty > 0)
        pair.times = *pair.difference / *pair.uncertainty;
    else if (*pair.difference == 0)
        pair.times = 0;
    return pair;
}

} // namespace

ComparedResult comparedOf(const Results &results, const std::string &name, const std::string &version)
{
    ComparedResult result{name, version, results.document, {}, {}, {}};
    for (const CaptureResult &capture : results.captures)
        result.captures.push_back({capture.id, capture.file, capture.sha256});
    for (const Row &row : results.rows) {
        ComparedNumber number{row.id, row.quantity, row.title, row.unit, row.reason, {}, {}, row.verdict};
        if (row.measurable()) {
            number.value = finite(row.statistics.mean);
            number.uncertainty = finite(row.statistics.uncertainty);
        }
        result.rows.push_back(std::move(number));
    }
    for (const MaskRun &mask : results.masks) {
        ComparedNumber number{mask.id, "mask", mask.id, "", mask.reason, {}, {}, mask.verdict};
        if (mask.result) number.value = double(mask.result->failedUnitIntervals);
        result.masks.push_back(std::move(number));
    }
    return result;
}

bool Comparison::Pair::differs() const
{
    constexpr double sure = 2;
    if (first.value.has_value() != second.value.has_value() || first.unit != second.unit) return true;
    if (times) return std::abs(*times) > sure;
    return difference && *difference != 0;
}

bool Comparison::differs() const
{
    return !onlyFirst.empty() || !onlySecond.empty() || std::ranges::any_of(rows, &Pair::isOther) ||
           std::ranges::any_of(masks, &Pair::isOther);
}

std::vector<std::string> Comparison::movedBy(const SettingDifference &setting) const
{
    std::vector<std::string> ids;
    for (const auto *pairs : {&rows, &masks})
        for (const Pair &pair : *pairs)
            if ((setting.judges ? pair.verdictDiffers() : pair.isOther()) &&
                std::ranges::find(setting.rows, pair.first.id) != setting.rows.end())
                ids.push_back(pair.first.id);
    return ids;
}

Comparison compared(const ComparedResult &first, const ComparedResult &second)
{
    Comparison found;
    found.firstName = first.name;
    found.secondName = second.name;
    found.firstVersion = first.version;
    found.secondVersion = second.version;
    found.settingsKnown = first.document && second.document;
    std::optional<SettingDifferences> settings;
    if (found.settingsKnown) settings.emplace(*first.document, *second.document);
    const auto lay = [&](const std::vector<ComparedNumber> &those, const std::vector<ComparedNumber> &others,
                         std::vector<Comparison::Pair> &pairs) {
        const auto partners = partnersOf(those, first, others, second);
        for (std::size_t i = 0; i < those.size(); ++i) {
            if (!partners[i]) {
                found.onlyFirst.push_back(those[i].id);
                continue;
            }
            pairs.push_back(pairOf(those[i], *partners[i]));
            if (settings) pairs.back().setDifferently = settings->add(those[i].id, partners[i]->id, those[i].id);
        }
        for (const ComparedNumber &one : others)
            if (std::ranges::find(partners, &one) == partners.end()) found.onlySecond.push_back(one.id);
    };
    lay(first.rows, second.rows, found.rows);
    lay(first.masks, second.masks, found.masks);
    if (settings) found.settings = settings->found();
    for (const ComparedResult::Record &capture : first.captures) {
        const std::vector<std::string> those = printsOf(first, capture.id), others = printsOf(second, capture.id);
        const bool known = !those.front().empty() && !others.empty() && !others.front().empty();
        if ((!known || those != others) &&
            std::ranges::find(found.otherCaptures, capture.id) == found.otherCaptures.end())
            found.otherCaptures.push_back(capture.id);
    }
    return found;
}

std::string summaryOf(const Comparison &comparison)
{
    const auto count = [](std::size_t n, const char *one, const char *several) {
        return std::to_string(n) + " " + (n == 1 ? one : several);
    };
    std::size_t differ = 0, explained = 0;
    for (const auto *pairs : {&comparison.rows, &comparison.masks}) {
        for (const Comparison::Pair &pair : *pairs) {
            if (!pair.isOther()) continue;
            ++differ;
            explained += std::ranges::any_of(comparison.settings, [&](const SettingDifference &one) {
                const std::vector<std::string> moved = comparison.movedBy(one);
                return std::ranges::find(moved, pair.first.id) != moved.end();
            });
        }
    }
    const std::size_t all = comparison.rows.size() + comparison.masks.size();
    std::string words = differ == 0
                            ? (all == 1 ? "The one number agrees" : "All " + std::to_string(all) + " numbers agree") +
                                  std::string(" within twice the uncertainty.")
                            : std::to_string(differ) + " of " + std::to_string(all) +
                                  (differ == 1 ? " numbers differs" : " numbers differ") +
                                  " by more than twice the uncertainty, or in verdict.";
    if (!comparison.settingsKnown)
        return words + " What was set is not known of both: make the older one anew to have it compared.";
    if (comparison.settings.empty()) {
        words += " Nothing is set differently";
        if (differ > 0)
            words += comparison.otherCaptures.empty()
                         ? ", and the captures are the same: it is another version of this program, or of a mask or a "
                           "program that the project names"
                         : ": the difference is in the captures";
        return words + ".";
    }
    words += " " + count(comparison.settings.size(), "setting differs", "settings differ");
    if (differ > 0 && explained == differ)
        words += differ == 1 ? ", and it stands on them" : ", and all of these stand on them";
    else if (differ > 0)
        words += explained == 0 ? ", and none of these stands on them: the difference is in the captures"
                                : ", on which " + std::to_string(explained) +
                                      " of these stand; the others differ by "
                                      "the captures alone";
    return words + ".";
}

} // namespace fulvex
