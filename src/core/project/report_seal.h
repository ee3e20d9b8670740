#pragma once

#include <string>

namespace fulvex {

/// A seal is the SHA-256 of a text with zeroes in its own place. It notices any later change, by accident or by hand;
/// it does not say by whom, since anybody can make one: it is no signature.

constexpr const char *sealMark = "fulvex-seal:"; ///< stands before it

/// The mark with room for a seal behind it.
std::string sealRoom();
/// The text with its seal put into the last room. Without one it stays as it is.
std::string sealed(std::string text);
/// Whether the last seal is that of the text; false also where there is none.
bool isSealWhole(const std::string &text);

/// Whether a text is a report of ours, as PDF or HTML, which holds the results.json that it shows.
bool isReport(const std::string &text);
/// That results.json. Throws Error: `name`, what is wrong, what would mend it.
std::string resultsInReport(const std::string &text, const std::string &name);
/// As an element of an HTML page.
std::string resultsForHtml(const std::string &json);

/// The key in the dictionary of a PDF's stream that holds it.
constexpr const char *resultsKey = "/FulvexResults";

} // namespace fulvex
