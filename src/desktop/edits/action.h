#pragma once

#include "workbench.h"

#include <QKeySequence>
#include <functional>

namespace fulvex {

/// Something one can do, said once: menus, keys, context menus, Ask and the list of keys all go by it.
struct Action {
    using Kind = Selection::Kind;
    using Of = std::string; ///< id of the entry that it acts on; empty where it acts on none

    QString id;         ///< "add_eye"; names of the user's stand behind a space: "recent /home/…"
    QString words = {}; ///< what it does; %1 is what it acts on, %2 what that stands on
    QString menu = {};  ///< "Sheet", or "Channel/Align %1 to" for a submenu; empty: in none
    QString brief = {}; ///< in a submenu; empty: the words
    QString also = {};  ///< further words by which Ask finds it
    QKeySequence key = {};
    Kind on = Kind::nothing; ///< what it acts on
    std::function<void(const Of &)> act = {};
    std::function<bool(const Of &)> enabled = {}; ///< none: whenever there is something to act on
    std::function<bool(const Of &)> checked = {}; ///< of what is on or off
    bool each = false;    ///< menus show it for every entry that it could act on, not only for the chosen one
    bool apart = false;   ///< menus draw a line before it
    QString byHand = {};  ///< how it is done by mouse or key where the window's keys do not reach
    bool askOnly = false; ///< in no menu, not even of what it acts on: there are too many of its kind
    bool isPlace = false; ///< goes somewhere: Ask tells of it after what does something
};

/// Ids of a document's entries of a kind, in its order.
std::vector<std::string> idsOf(const Document &document, Selection::Kind kind);
/// What an entry stands on, nearest first: of an eye its clock and channel.
std::vector<std::string> foundationsOf(const Document &document, const std::string &id);
/// What it is called where it is acted on.
QString nameOf(const Document &document, Selection::Kind kind, const std::string &id);
/// A kind in words: "clock".
QString kindWords(Selection::Kind kind);

/// An entry as actions on it tell of it.
struct NamedEntry {
    QString name;                ///< nameOf()
    std::vector<std::string> on; ///< foundationsOf()
};
NamedEntry namedEntry(const Document &document, Selection::Kind kind, const std::string &id);
/// What an action on an entry says: its words with the entry's names in them.
QString wordsOn(const Action &action, const NamedEntry &entry);

/// In the order in which they are more and more likely meant where none is named: overlays, eyes of a part of the
/// record, eyes of the whole.
std::vector<EyeEntry> wholeEyesLast(std::vector<EyeEntry> eyes);

/// The entry of a kind that is acted on where none is named: the selected one, or what it stands on, or what stands on
/// it, or the shown sheet; else that which the work is about, a computed channel or what was made last. Empty: there is
/// none.
std::string chosenEntry(const Workbench &bench, Selection::Kind kind);

} // namespace fulvex
