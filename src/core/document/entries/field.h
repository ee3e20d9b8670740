#pragma once

#include "mask_area.h"

#include <cstdint>
#include <functional>
#include <limits>
#include <map>
#include <memory>
#include <optional>
#include <span>
#include <string>
#include <utility>
#include <variant>
#include <vector>

namespace fulvex {

/// What an id belongs to.
enum class EntryKind {
    none,
    capture,
    channel,
    parameter,
    function,
    program,
    region,
    levels,
    clock,
    eye,
    mask,
    measurement,
    spectrum,
    budget,
    phaseNoise,
    comparison,
    plan,
    attempt,
    keptOut,
    note,
    marker,
    sheet,
    tile,
    any
};

/// Whether it can be an id: a small letter, then small letters, digits and _.
bool isId(const std::string &text);

/// What depends on a field.
enum class Role {
    computes, ///< results
    judges,   ///< verdicts on results, and nothing else
    gathers,  ///< what several captures give together, and not what one of them does
    names,    ///< what results are found by, and nothing else
    words,    ///< what people read: no number
    looks     ///< how things are shown and pointed at: no number
};

/// What becomes of an entry when what a field of it refers to is removed.
enum class Lost {
    entryGoes,
    fieldIsCleared ///< it does without
};

using NumberOrName = std::variant<int, std::string>;
using Reasons = std::map<std::string, std::string>;              ///< why, by what it is about
using Ranges = std::map<std::string, std::pair<double, double>>; ///< from, to by id

/// A value that stands in the document as a word, whatever it is in the program. `set` is false for a word that it
/// does not know. An empty word is no value.
struct Word {
    std::function<std::string()> get;
    std::function<bool(const std::string &)> set;
};

struct Field;

/// A word that a field may hold, and what people read for it; empty: it is read and kept, but not offered yet.
struct Choice {
    const char *word, *words;
};

/// A list of entries, whatever they are: what the document is made of.
class EntryList {
public:
    /// `word`: one of them, for people. A list of more than `most` is refused.
    template <typename Entry>
    EntryList(EntryKind kind, const char *word, std::size_t most, std::vector<Entry> &entries)
        : m_kind(kind), m_word(word), m_most(most), m_access(std::make_shared<Of<Entry>>(entries))
    {
    }
    EntryKind kind() const { return m_kind; }
    const char *word() const { return m_word; }
    std::size_t most() const { return m_most; }
    std::size_t size() const { return m_access->size(); }
    std::string &id(std::size_t i) const { return m_access->id(i); }
    std::vector<Field> fields(std::size_t i) const;
    /// Whether its entry is the same in all as one of another list of that kind.
    bool equals(std::size_t i, const EntryList &other, std::size_t k) const
    {
        return m_access->equals(i, *other.m_access, k);
    }
    /// Throws Error for what single fields cannot say.
    void check(std::size_t i, const std::string &where) const { m_access->check(i, where); }
    void add() const { m_access->add(); }
    void erase(const std::function<bool(std::size_t)> &which) const { m_access->erase(which); }
    /// Fields of an entry as one is made, for as long as this list lives.
    std::vector<Field> standard() const;
    bool holdsLists() const; ///< its entries do

private:
    struct Access {
        virtual ~Access() = default;
        virtual std::size_t size() const = 0;
        virtual std::string &id(std::size_t i) = 0;
        virtual std::vector<Field> fields(std::size_t i) = 0;
        virtual std::vector<Field> standard() = 0;
        virtual bool equals(std::size_t i, const Access &other, std::size_t k) const = 0;
        virtual void check(std::size_t i, const std::string &where) const = 0;
        virtual void add() = 0;
        virtual void erase(const std::function<bool(std::size_t)> &which) = 0;
    };
    template <typename Entry>
    struct Of final : Access {
        explicit Of(std::vector<Entry> &list) : entries(list) {}
        std::size_t size() const override { return entries.size(); }
        std::string &id(std::size_t i) override { return entries[i].id; }
        std::vector<Field> fields(std::size_t i) override { return fieldsOf(entries[i]); }
        std::vector<Field> standard() override { return fieldsOf(made); }
        bool equals(std::size_t i, const Access &other, std::size_t k) const override
        {
            return entries[i] == static_cast<const Of &>(other).entries[k];
        }
        void check(std::size_t i, const std::string &where) const override
        {
            if constexpr (requires { checkEntry(entries[i], where); }) checkEntry(entries[i], where);
        }
        void add() override { entries.emplace_back(); }
        void erase(const std::function<bool(std::size_t)> &which) override
        {
            std::size_t i = 0;
            std::erase_if(entries, [&](const Entry &) { return which(i++); });
        }
        std::vector<Entry> &entries;
        Entry made{};
    };
    EntryKind m_kind;
    const char *m_word;
    std::size_t m_most;
    std::shared_ptr<Access> m_access;
};

/// Where a field's value lies, by its type.
using FieldValue = std::variant<std::string *, double *, std::optional<double> *, int *, std::optional<int> *,
                                std::optional<std::int64_t> *, bool *, std::optional<bool> *, NumberOrName *,
                                std::optional<std::optional<NumberOrName>> *, std::vector<std::string> *,
                                std::vector<double> *, Ranges *, Reasons *, std::vector<MaskArea> *, Word, EntryList>;

/// All that is known of one field of an entry, said once: reading, writing and checking the document, keys of what is
/// computed from it, renaming and removing, and the Inspector go by it. Each entry gives its own, see fieldsOf().
struct Field {
    const char *key;        ///< in the document
    const char *group = ""; ///< of the object within the entry that it stands in; empty: in the entry itself
    const char *words = ""; ///< what the Inspector calls it; empty: it is not set there, or in a way of its own
    const char *unit = "";  ///< of a number; channelUnit: of the channel that the entry is of; rowUnit: of what the row
                            ///< measures; levelsUnit: of the levels that it goes by
    Role role = Role::computes;
    bool belongs = true; ///< it has a meaning, the other fields being as they are
    bool always = false; ///< written also where it has its default
    bool moment = false; ///< a time from the document's origin, s
    bool single = false; ///< of a list: one alone stands there without brackets
    double least = -std::numeric_limits<double>::infinity(), most = std::numeric_limits<double>::infinity();
    bool above = false;                   ///< `least` itself is not allowed
    double slideFrom = 0, slideTo = 0;    ///< between which a slider may move it, over decades; 0: none
    double shown = 1;                     ///< of a number: people read it times this, in `unit`
    std::span<const Choice> choices = {}; ///< the words that are allowed; empty: any
    const char *none = "";     ///< what it means that it is empty, for people; empty itself: it has to say something
    std::size_t letters = 200; ///< bytes of text, or entries of a list, at most
    EntryKind refers = EntryKind::none;               ///< it holds an id, or ids, of that kind
    bool formula = false;                             ///< it holds a formula, which names channels and parameters
    const std::vector<std::string> *locals = nullptr; ///< names in it that are none of the document's
    bool needed = false;                              ///< it must not be empty
    Lost lost = Lost::entryGoes;
    const char *wrong = ""; ///< what a value out of range is, where there is a better word than its limits
    const char *mend = "";  ///< what would mend a value that is not allowed
    FieldValue value;
};

constexpr const char *channelUnit = "channel", *rowUnit = "row", *levelsUnit = "levels";

/// Beyond a trillion seconds no interval between samples is left beside the time.
constexpr double farthestMoment = 1e12;
/// A field that holds a time, s: a span, or one that another origin does not move.
Field timeField(const char *key, const char *words, FieldValue value);
/// A field that holds a time from the document's origin.
Field momentField(const char *key, const char *words, FieldValue value);
/// The field that names the entry itself.
Field idField(std::string &id);

} // namespace fulvex
