#pragma once

#include <functional>
#include <string>
#include <string_view>

namespace fulvex {

/// Puts a word behind those of a list: "a", "a, b".
inline void enlist(std::string &list, std::string_view word)
{
    if (!list.empty()) list += ", ";
    list += word;
}

/// What is told of each, one behind the other: "a, b, c". `word`: of an element of it, or a member.
template <typename List, typename Word = std::identity>
std::string listed(const List &list, Word word = {})
{
    std::string words;
    for (const auto &one : list) enlist(words, std::invoke(word, one));
    return words;
}

} // namespace fulvex
