#include "plain_text.h"

namespace fulvex {

/// Bytes of the well-formed sequence at the beginning; 0: none; below 0: well-formed as far as it goes, cut off.
static int sequence(std::string_view bytes)
{
    const auto at = [&](std::size_t i) { return static_cast<unsigned char>(bytes[i]); };
    const unsigned first = at(0);
    if (first < 0x80) return 1;
    const int length = first >= 0xC2 && first <= 0xDF   ? 2
                       : first >= 0xE0 && first <= 0xEF ? 3
                       : first >= 0xF0 && first <= 0xF4 ? 4
                                                        : 0;
    for (int i = 1; i < length; ++i) {
        if (std::size_t(i) >= bytes.size()) return -1;
        unsigned low = 0x80, high = 0xBF;
        if (i == 1 && first == 0xE0) low = 0xA0;
        if (i == 1 && first == 0xED) high = 0x9F; // surrogates
        if (i == 1 && first == 0xF0) low = 0x90;
        if (i == 1 && first == 0xF4) high = 0x8F;
        if (at(std::size_t(i)) < low || at(std::size_t(i)) > high) return 0;
    }
    return length;
}

bool isUtf8(std::string_view bytes, bool mayBeCut)
{
    while (!bytes.empty()) {
        const int length = sequence(bytes);
        if (length < 0) return mayBeCut;
        if (length == 0) return false;
        bytes.remove_prefix(std::size_t(length));
    }
    return true;
}

std::string fromLatin1(std::string_view bytes)
{
    std::string text;
    text.reserve(bytes.size() + bytes.size() / 8);
    for (const char c : bytes) {
        const auto code = static_cast<unsigned char>(c);
        if (code < 0x80) {
            text += c;
        } else {
            text += char(0xC0 | code >> 6);
            text += char(0x80 | (code & 63));
        }
    }
    return text;
}

std::string asUtf8(std::string_view bytes)
{
    return isUtf8(bytes) ? std::string(bytes) : fromLatin1(bytes);
}

std::string shownText(std::string_view bytes, bool lines)
{
    std::string text = asUtf8(bytes);
    for (std::size_t i = 0; i < text.size(); ++i) {
        const auto c = static_cast<unsigned char>(text[i]);
        if ((c < 32 && !(lines && c == '\n')) || c == 127) text[i] = ' ';
        // U+0080 to U+009F, which some terminals obey too: C2 80 to C2 9F
        if (c == 0xC2 && i + 1 < text.size() && static_cast<unsigned char>(text[i + 1]) < 0xA0) text.replace(i, 2, " ");
    }
    return text;
}

} // namespace fulvex
