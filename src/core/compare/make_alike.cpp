#include "make_alike.h"

#include "error.h"
#include "field_text.h"
#include "references.h"

#include <algorithm>
#include <map>
#include <optional>
#include <set>
#include <tuple>

namespace fulvex {

namespace {

using Pair = std::pair<std::string, std::string>;

/// Walks pairs of entries as SettingDifferences does, and sets what is wanted on the way.
class Making {
public:
    Making(const Document &second, const Document &first, std::span<const SettingDifference> wanted)
        : m_from(withDefaultLevels(first)), m_entries(m_from), m_second(withDefaultLevels(second)), m_seconds(m_second),
          m_to(m_second), m_there(std::in_place, m_to)
    {
        for (const SettingDifference &one : wanted) {
            for (const Pair &pair : one.entries) {
                m_wanted.emplace(pair, one.key);
                m_touched.insert(pair.second);
            }
        }
    }
    /// To be asked of all that is compared before any of it is aligned.
    bool isTouched(const std::string &id)
    {
        if (const auto known = m_isTouched.find(id); known != m_isTouched.end()) return known->second;
        bool touched = m_touched.contains(id);
        for (const Field &field : m_seconds.fieldsOf(id))
            for (const std::string &behind : idsIn(field)) touched |= isTouched(behind);
        return m_isTouched[id] = touched;
    }
    std::string align(const Pair &pair);
    void keepOut(const Pair &pair);
    Document take() { return std::move(m_to); }

private:
    /// Adds an entry with the values of these fields, which are none of m_to's, under a free id.
    std::string added(const std::vector<Field> &fields, EntryKind kind, const std::string &wish);
    std::string bring(const std::string &id);
    Field there(const std::string &id, const std::string &key) const;
    void rename(const Field &field, const std::vector<Pair> &fromTo);

    const Document m_from;
    const EntryIndex m_entries; ///< of it
    const Document m_second;    ///< as it was
    const EntryIndex m_seconds;
    Document m_to;
    std::optional<EntryIndex> m_there; ///< of it, made anew where entries come
    std::set<std::pair<Pair, std::string>> m_wanted;
    std::set<std::string> m_touched;         ///< ids there of entries that are changed
    std::map<std::string, bool> m_isTouched; ///< they, or what they stand on
    std::map<Pair, std::string> m_aligned;
    std::map<std::string, std::string> m_takenBy, m_brought; ///< by ids there; by ids here
};

std::string Making::added(const std::vector<Field> &fields, EntryKind kind, const std::string &wish)
{
    const std::string id = freeId(m_to, wish);
    for (const Field &field : fieldsOf(m_to)) {
        const auto *list = std::get_if<EntryList>(&field.value);
        if (!list || list->kind() != kind) continue;
        list->add();
        const std::vector<Field> fresh = list->fields(list->size() - 1);
        for (const Field &own : fresh)
            for (const Field &one : fields)
                if (wholeKeyOf(one) == wholeKeyOf(own)) assign(own.value, one.value);
        list->id(list->size() - 1) = id;
    }
    m_there.emplace(m_to);
    return id;
}

/// All at once, so that none takes the name that another is to give up.
void Making::rename(const Field &field, const std::vector<Pair> &fromTo)
{
    const auto between = [](std::size_t i) { return "between_" + std::to_string(i) + "_names"; };
    for (std::size_t i = 0; i < fromTo.size(); ++i) renameIn(field, fromTo[i].first, between(i));
    for (std::size_t i = 0; i < fromTo.size(); ++i) renameIn(field, between(i), fromTo[i].second);
}

/// A field of m_to as it is now: to be written to before the next entry is added.
Field Making::there(const std::string &id, const std::string &key) const
{
    const std::vector<Field> fields = m_there->fieldsOf(id);
    return *std::ranges::find(fields, key, wholeKeyOf);
}

std::string Making::bring(const std::string &id)
{
    if (const auto known = m_brought.find(id); known != m_brought.end()) return known->second;
    const EntryKind kind = m_entries.kindOf(id);
    const bool isThere = m_there->kindOf(id) == kind;
    const bool alike = isThere && !SettingDifferences(m_from, m_to).add(id, id, id);
    const bool ofRecord = kind == EntryKind::capture || kind == EntryKind::channel;
    if (alike || (isThere && ofRecord)) return m_brought[id] = id;
    if (kind == EntryKind::capture)
        throw Error(id, "is a record that the other one does not have", "add a capture with this id first");
    const std::string fresh = added(m_entries.fieldsOf(id), kind, id);
    m_brought[id] = fresh;
    for (const Field &field : m_entries.fieldsOf(id)) {
        std::vector<Pair> renamed;
        for (const std::string &used : idsIn(field)) renamed.emplace_back(used, bring(used));
        if (!renamed.empty()) rename(there(fresh, wholeKeyOf(field)), renamed);
    }
    return fresh;
}

std::string Making::align(const Pair &pair)
{
    if (const auto known = m_aligned.find(pair); known != m_aligned.end()) return known->second;
    if (!isTouched(pair.second)) return pair.second;
    const EntryKind kind = m_entries.kindOf(pair.first);
    if (kind == EntryKind::none || kind != m_there->kindOf(pair.second)) return pair.second;
    std::string target = pair.second;
    const auto taken = m_takenBy.emplace(pair.second, pair.first);
    if (!taken.second && taken.first->second != pair.first && kind != EntryKind::capture)
        target = added(m_seconds.fieldsOf(pair.second), kind, pair.first);
    m_aligned[pair] = target;
    const std::vector<Field> first = m_entries.fieldsOf(pair.first), second = m_seconds.fieldsOf(pair.second);
    for (std::size_t k = 0; k < std::min(first.size(), second.size()); ++k) { // of one kind they are the same
        const std::string key = wholeKeyOf(first[k]);
        const bool wanted = m_wanted.contains({pair, key});
        std::vector<Pair> renamed;
        std::set<std::string> paired;
        for (const auto &[id, other] : pairsBehind(first[k], second[k])) {
            paired.insert(id);
            renamed.emplace_back(wanted ? id : other, align({id, other}));
        }
        for (const std::string &id : wanted ? idsIn(first[k]) : std::vector<std::string>())
            if (!paired.contains(id)) renamed.emplace_back(id, bring(id));
        if (!wanted && renamed.empty()) continue;
        const Field field = there(target, key); // only now: entries came meanwhile
        if (wanted) assign(field.value, first[k].value);
        rename(field, renamed);
    }
    return target;
}

void Making::keepOut(const Pair &pair)
{
    if (!m_wanted.contains({pair, keptOutKey})) return;
    for (KeptOutEntry &entry : m_to.keptOut) std::erase(entry.of, pair.second);
    std::erase_if(m_to.keptOut, [](const KeptOutEntry &entry) { return entry.of.empty(); });
    for (KeptOutEntry entry : m_from.keptOut) {
        if (std::ranges::find(entry.of, pair.first) == entry.of.end()) continue;
        entry.id = freeId(m_to, entry.id);
        entry.of = {pair.second};
        m_to.keptOut.push_back(std::move(entry));
    }
}

} // namespace

Document madeAlike(const Document &second, const Document &first, const Comparison &comparison,
                   std::span<const SettingDifference> wanted)
{
    Making making(second, first, wanted);
    for (const Comparison::Pair &pair : comparison.pairs) making.isTouched(pair.second.id);
    for (const Comparison::Pair &pair : comparison.pairs) {
        making.align({pair.first.id, pair.second.id});
        making.keepOut({pair.first.id, pair.second.id});
    }
    Document made = making.take();
    const LevelsEntry *standard = findEntry(made.levels, "default");
    if (!findEntry(second.levels, "default") && *standard == second.levelsOf("default"))
        std::erase_if(made.levels, [](const LevelsEntry &entry) { return entry.id == "default"; });
    return made;
}

} // namespace fulvex
