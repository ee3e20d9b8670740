#include "report_seal.h"

#include "error.h"
#include "fingerprint.h"

#include <cstdlib>

namespace fulvex {

namespace {

constexpr std::size_t letters = 64;
constexpr const char *sealBegin = "<script type=\"application/json\" id=\"fulvex-results\">", *sealEnd = "</script>";

/// Where the last seal begins; npos: there is none.
std::size_t sealIn(const std::string &text)
{
    const std::string mark = sealMark;
    const std::size_t at = text.rfind(mark);
    return at == std::string::npos || at + mark.size() + letters > text.size() ? std::string::npos : at + mark.size();
}

std::string sealOf(std::string text, std::size_t at)
{
    text.replace(at, letters, letters, '0');
    return sha256(text);
}

bool isPdf(const std::string &text)
{
    return text.starts_with("%PDF-");
}

} // namespace

std::string sealRoom()
{
    return sealMark + std::string(letters, '0');
}

std::string sealed(std::string text)
{
    const std::size_t at = sealIn(text);
    if (at != std::string::npos) text.replace(at, letters, sealOf(text, at));
    return text;
}

bool isSealWhole(const std::string &text)
{
    const std::size_t at = sealIn(text);
    return at != std::string::npos && text.compare(at, letters, sealOf(text, at)) == 0;
}

bool isReport(const std::string &text)
{
    return isPdf(text) || text.starts_with("<!doctype html>");
}

std::string resultsInReport(const std::string &text, const std::string &name)
{
    const Error none(name, "holds no results: it is no report of this program, or of an early version",
                     "give a report, or the results.json beside it");
    if (isPdf(text)) {
        const std::size_t key = text.rfind(resultsKey);
        if (key == std::string::npos) throw none;
        const std::size_t length = text.find("/Length ", key), stream = text.find("stream\n", key);
        if (length == std::string::npos || stream == std::string::npos || length > stream) throw none;
        const std::size_t size = std::strtoull(text.c_str() + length + 8, nullptr, 10), from = stream + 7;
        if (size == 0 || size > text.size() || from + size > text.size()) throw none;
        return text.substr(from, size);
    }
    const std::size_t from = text.find(sealBegin);
    const std::size_t to = from == std::string::npos ? from : text.find(sealEnd, from);
    if (to == std::string::npos) throw none;
    return text.substr(from + std::string(sealBegin).size(), to - from - std::string(sealBegin).size());
}

std::string resultsForHtml(const std::string &json)
{
    std::string safe;
    for (const char c : json) { // within JSON's texts alone there may be a <
        if (c == '<')
            safe += "\\u003c";
        else
            safe += c;
    }
    return sealBegin + safe + sealEnd;
}

} // namespace fulvex
