#include "comparison.h"

#include <algorithm>
#include <cmath>
#include <set>

namespace fulvex {

namespace {

std::optional<double> finite(std::optional<double> value)
{
    return value && std::isfinite(*value) ? value : std::nullopt;
}

/// What a row measures, but for how.
std::string subjectOf(const ComparedResult &result, const ComparedNumber &number)
{
    const bool known = result.document && number.kind == EntryKind::measurement;
    const MeasurementEntry *row = known ? findEntry(result.document->measurements, number.id) : nullptr;
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
            return one.id == first[i].id && one.quantity == first[i].quantity && one.part == first[i].part;
        });
        if (same != second.end()) partners[i] = &*same;
    }
    for (std::size_t i = 0; i < first.size(); ++i) {
        const std::string subject = subjectOf(a, first[i]);
        if (partners[i] || subject.empty()) continue;
        const auto isSame = [&](const ComparedResult &side, const ComparedNumber &one) {
            return one.part == first[i].part && subjectOf(side, one) == subject;
        };
        const auto isLeft = [&](const ComparedNumber &one) { return !isTaken(one) && isSame(b, one); };
        const auto alike = std::ranges::find_if(second, isLeft);
        const auto others = std::count_if(first.begin(), first.end(), [&](const ComparedNumber &one) {
            return !partners[std::size_t(&one - first.data())] && isSame(a, one);
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
    Comparison::Pair pair{first, second, {}, {}, {}, false, true};
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

/// Whether values lie about zero, so that their mean is none of the thing itself.
bool isAboutNothing(const ComparedNumber &mean, const ComparedNumber &spread)
{
    return mean.value && spread.value && std::abs(*mean.value) < *spread.value;
}

} // namespace

const char *partWords(ComparedNumber::Part part)
{
    switch (part) {
    case ComparedNumber::Part::spread:
        return ": spread";
    case ComparedNumber::Part::total:
        return ": total jitter";
    case ComparedNumber::Part::random:
        return ": random jitter";
    case ComparedNumber::Part::whole:
        break;
    }
    return "";
}

std::string titleOf(const ComparedNumber &number)
{
    return (number.title.empty() ? number.id : number.title) + partWords(number.part);
}

ComparedNumber spreadOf(const ComparedNumber &mean, std::int64_t count, double std, std::optional<double> scatter)
{
    ComparedNumber spread = mean;
    spread.part = ComparedNumber::Part::spread;
    spread.verdict = Verdict::none; // limits are on means, extremes and errors, told of the row itself
    spread.value = std;
    double independent = double(count);
    if (scatter && *scatter > 0) independent = std::min(independent, std * std / (*scatter * *scatter));
    spread.uncertainty = independent > 1 ? std::optional(std / std::sqrt(2 * (independent - 1))) : std::nullopt;
    return spread;
}

ComparedResult comparedOf(const Results &results, const std::string &name, const std::string &version)
{
    using Part = ComparedNumber::Part;
    ComparedResult result{name, version, results.document, {}, {}};
    for (const CaptureResult &capture : results.captures)
        result.captures.push_back({capture.id, capture.file, capture.sha256});
    for (const Row &row : results.rows) {
        ComparedNumber number{EntryKind::measurement,
                              row.id,
                              row.quantity,
                              row.title,
                              row.unit,
                              row.reason,
                              Part::whole,
                              {},
                              {},
                              row.verdict};
        const Statistics &s = row.statistics;
        if (row.measurable()) {
            number.value = finite(s.mean);
            number.uncertainty = finite(s.uncertainty);
        }
        result.numbers.push_back(number);
        if (!number.value || s.count < 2 || !finite(s.std)) continue;
        const auto scatter = std::ranges::find(s.parts, std::string_view("scatter"), &UncertaintyPart::from);
        result.numbers.push_back(
            spreadOf(number, s.count, *s.std, scatter == s.parts.end() ? std::nullopt : std::optional(scatter->value)));
    }
    for (const MaskRun &mask : results.masks) {
        ComparedNumber number{EntryKind::mask, mask.id,     "mask", mask.id, "",
                              mask.reason,     Part::whole, {},     {},      mask.verdict};
        if (mask.result) number.value = double(mask.result->failedUnitIntervals);
        result.numbers.push_back(std::move(number));
    }
    for (const BudgetResult &one : results.budgets) {
        const auto add = [&](Part part, double value, double uncertainty, Verdict verdict) {
            ComparedNumber number{EntryKind::budget, one.id, "budget", one.id, "s", one.reason, part, {}, {}, verdict};
            if (one.found && one.reason.empty()) number.value = value, number.uncertainty = uncertainty;
            result.numbers.push_back(std::move(number));
        };
        add(Part::total, one.budget.total, one.budget.uncertainty, one.verdict);
        if (one.found) add(Part::random, one.budget.random, one.budget.randomUncertainty(), Verdict::none);
    }
    for (const PhaseNoiseResult &one : results.phaseNoise) {
        ComparedNumber number{
            EntryKind::phaseNoise, one.id, "phase_noise", one.id, "s", one.reason, Part::whole, {}, {}, one.verdict};
        if (one.found && one.reason.empty())
            number.value = finite(one.jitter.value), number.uncertainty = finite(one.jitter.uncertainty);
        result.numbers.push_back(std::move(number));
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
    return !onlyFirst.empty() || !onlySecond.empty() || std::ranges::any_of(pairs, &Pair::isOther);
}

std::vector<std::string> Comparison::movedBy(const SettingDifference &setting) const
{
    std::vector<std::string> ids;
    for (const Pair &pair : pairs)
        if ((setting.judges ? pair.verdictDiffers() : pair.isOther()) &&
            std::ranges::find(setting.rows, pair.first.id) != setting.rows.end() &&
            std::ranges::find(ids, pair.first.id) == ids.end())
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
    const auto note = [](std::vector<std::string> &ids, const ComparedNumber &one) {
        if (one.part != ComparedNumber::Part::spread && (ids.empty() || ids.back() != one.id)) ids.push_back(one.id);
    };
    const auto partners = partnersOf(first.numbers, first, second.numbers, second);
    for (std::size_t i = 0; i < first.numbers.size(); ++i) {
        const ComparedNumber &one = first.numbers[i];
        if (!partners[i]) {
            note(found.onlyFirst, one);
            continue;
        }
        Comparison::Pair pair = pairOf(one, *partners[i]);
        if (one.part != ComparedNumber::Part::spread) {
            pair.setDifferently = settings && settings->add(one.id, partners[i]->id, one.id);
        } else if (!found.pairs.empty() && found.pairs.back().first.id == one.id) {
            const Comparison::Pair &mean = found.pairs.back();
            pair.setDifferently = mean.setDifferently;
            pair.matters =
                pair.differs() || isAboutNothing(mean.first, one) || isAboutNothing(mean.second, pair.second);
        }
        found.pairs.push_back(std::move(pair));
    }
    for (const ComparedNumber &one : second.numbers)
        if (std::ranges::find(partners, &one) == partners.end()) note(found.onlySecond, one);
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
    std::set<std::string> moved; // by any setting
    for (const SettingDifference &one : comparison.settings)
        for (std::string &id : comparison.movedBy(one)) moved.insert(std::move(id));
    std::size_t differ = 0, explained = 0;
    for (const Comparison::Pair &pair : comparison.pairs) {
        if (!pair.isOther()) continue;
        ++differ;
        explained += moved.contains(pair.first.id);
    }
    const std::size_t all = std::size_t(std::ranges::count_if(comparison.pairs, &Comparison::Pair::matters));
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
