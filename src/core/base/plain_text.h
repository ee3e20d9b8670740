#pragma once

#include <string>
#include <string_view>

namespace fulvex {

/// Whether bytes are well-formed UTF-8 (The Unicode Standard, table 3-7). A sequence cut off at the very end passes
/// with `mayBeCut`.
bool isUtf8(std::string_view bytes, bool mayBeCut = false);

/// Bytes as text: UTF-8 as it is, anything else as ISO-8859-1, as instruments of this part of the world write it.
std::string asUtf8(std::string_view bytes);
/// ISO-8859-1 as UTF-8, whatever it looks like.
std::string fromLatin1(std::string_view bytes);

/// Text for a terminal, a page or a message: asUtf8, with each control character shown as a blank (line ends too,
/// except with `lines`). What a file calls itself cannot move a cursor or close a tag then.
std::string shownText(std::string_view bytes, bool lines = false);

} // namespace fulvex
