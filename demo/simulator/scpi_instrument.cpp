#include "scpi_instrument.h"

#include <algorithm>
#include <charconv>
#include <cstdio>
#include <cstring>
#include <thread>
#include <utility>

namespace fulvex::demo {

namespace {

char upper(char letter)
{
    return letter >= 'a' && letter <= 'z' ? char(letter - 'a' + 'A') : letter;
}

std::string_view trimmed(std::string_view text)
{
    while (!text.empty() && (text.front() == ' ' || text.front() == '\r')) text.remove_prefix(1);
    while (!text.empty() && (text.back() == ' ' || text.back() == '\r')) text.remove_suffix(1);
    return text;
}

/// Whether a header is a command, each of its words in its short or its long form: "TRACe:DATA?".
bool is(std::string_view header, std::string_view command)
{
    if (header.starts_with(':')) header.remove_prefix(1);
    while (true) {
        const auto wordOf = [](std::string_view &text) {
            const std::size_t colon = std::min(text.find(':'), text.size());
            const std::string_view word = text.substr(0, colon);
            text.remove_prefix(std::min(colon + 1, text.size()));
            return word;
        };
        const bool last = command.find(':') == std::string_view::npos;
        if (last != (header.find(':') == std::string_view::npos)) return false;
        const std::string_view given = wordOf(header), known = wordOf(command);
        std::string brief, whole;
        for (const char letter : known) {
            whole += upper(letter);
            if (letter < 'a' || letter > 'z') brief += letter;
        }
        std::string typed;
        for (const char letter : given) typed += upper(letter);
        if (typed != brief && typed != whole) return false;
        if (last) return true;
    }
}

std::optional<double> numberOf(std::string_view text)
{
    double value = 0;
    const auto [end, failure] = std::from_chars(text.data(), text.data() + text.size(), value);
    return failure == std::errc() && end == text.data() + text.size() ? std::optional(value) : std::nullopt;
}

} // namespace

LineFault lineFaultOf(std::string_view name)
{
    constexpr std::pair<const char *, LineFault> known[] = {
        {"silent", LineFault::silent},   {"cut", LineFault::cut},          {"short", LineFault::shortened},
        {"long", LineFault::lengthened}, {"header", LineFault::header},    {"preamble", LineFault::preamble},
        {"zero", LineFault::zero},       {"count", LineFault::count},      {"garbage", LineFault::garbage},
        {"slow", LineFault::slow},       {"offended", LineFault::offended}};
    for (const auto &[word, fault] : known) {
        if (name.size() == std::strlen(word) &&
            std::equal(name.begin(), name.end(), word, [](char a, char b) { return upper(a) == upper(b); }))
            return fault;
    }
    return LineFault::none;
}

ScpiInstrument::ScpiInstrument(const SimulatorOptions &options) : m_is(options), m_link(options.seed, options.samples)
{
}

void ScpiInstrument::take(std::string_view line, const Send &send)
{
    while (!line.empty()) {
        const std::size_t end = std::min(line.find(';'), line.size());
        if (const std::string_view words = trimmed(line.substr(0, end)); !words.empty()) command(words, send);
        line.remove_prefix(std::min(end + 1, line.size()));
    }
}

LineFault ScpiInstrument::takeFault()
{
    return std::exchange(m_fault, LineFault::none);
}

void ScpiInstrument::acquire()
{
    const auto wait = std::chrono::duration<double>(1 / m_is.mostPerSecond);
    std::this_thread::sleep_until(m_last + std::chrono::duration_cast<std::chrono::steady_clock::duration>(wait));
    m_last = std::chrono::steady_clock::now();
    SimulatedFaults faults = m_faults;
    if (m_is.sweep > 0) {
        const double worse = 1 + 4 * std::min(1.0, double(m_captures) / double(m_is.sweep));
        faults.randomJitter *= worse * worse;
        faults.noise *= worse;
    }
    m_link.make(faults);
    m_faults.dent = false;
    ++m_captures;
    if (m_is.faultEvery == 0 || m_captures % m_is.faultEvery != 0) return;
    constexpr auto kinds = std::size_t(LineFault::offended);
    m_fault = LineFault(1 + m_captures / m_is.faultEvery % kinds);
}

void ScpiInstrument::answerData(std::string_view channel, const Send &send)
{
    const std::vector<std::int16_t> &codes = channel == "CH2" ? m_link.n() : m_link.p();
    const std::size_t bytes = 2 * codes.size();
    const LineFault fault = m_fault == LineFault::offended ? LineFault::none : takeFault(); // that is told at the end
    const std::string length = std::to_string(bytes);
    std::string answer = (fault == LineFault::header ? "%" : "#") + std::to_string(length.size()) + length;
    const std::size_t head = answer.size();
    answer.resize(head + bytes);
    std::memcpy(answer.data() + head, codes.data(), bytes);
    if (m_bigEndian)
        for (std::size_t i = head; i < answer.size(); i += 2) std::swap(answer[i], answer[i + 1]);
    if (fault == LineFault::shortened) answer.resize(head + bytes / 2);
    if (fault == LineFault::lengthened) answer += "12345678";
    if (fault != LineFault::shortened) answer += '\n';
    send(answer, fault);
}

void ScpiInstrument::command(std::string_view words, const Send &send)
{
    const std::size_t blank = std::min(words.find(' '), words.size());
    const std::string_view header = words.substr(0, blank), given = trimmed(words.substr(blank));
    const auto answer = [&](const std::string &text) { send(text + "\n", LineFault::none); };
    if (is(header, "*IDN?")) return answer("Brackwater,Simulated instrument," + std::to_string(m_is.seed) + ",1");
    if (is(header, "*OPC?")) return answer("1");
    if (is(header, "*CLS")) return m_error.clear();
    if (is(header, "*RST") || is(header, "ABORt")) return;
    if (is(header, "FORMat")) return;
    if (is(header, "FORMat:BORDer")) {
        m_bigEndian = is(given, "NORMal");
        return;
    }
    if (is(header, "INITiate")) return acquire();
    if (is(header, "TRACe:PREamble?")) {
        // Faults of what comes behind wait for it.
        const bool its = m_fault == LineFault::preamble || m_fault == LineFault::zero || m_fault == LineFault::count ||
                         m_fault == LineFault::silent || m_fault == LineFault::garbage;
        const LineFault fault = its ? takeFault() : LineFault::none;
        if (fault == LineFault::preamble) return send("nothing,of,the,kind,here\n", LineFault::none);
        if (fault == LineFault::garbage) return send("\x01\x02\n", LineFault::none);
        char text[160];
        std::snprintf(text, sizeof text, "%zu,%.10E,0,%.10E,0", m_link.p().size() + (fault == LineFault::count ? 7 : 0),
                      fault == LineFault::zero ? 0.0 : m_link.interval(), m_link.scale());
        return send(std::string(text) + "\n", fault);
    }
    if (is(header, "TRACe:DATA?")) return answerData(given, send);
    if (is(header, "SYSTem:ERRor?")) {
        if (m_fault == LineFault::offended) m_error = "-222,\"Data out of range\"", m_fault = LineFault::none;
        send((m_error.empty() ? std::string("0,\"No error\"") : std::exchange(m_error, {})) + "\n", LineFault::none);
        return;
    }
    if (is(header, "SIMulate:FAULt")) {
        if (given == "dent" || given == "DENT")
            m_faults.dent = true;
        else
            m_fault = lineFaultOf(given);
        return;
    }
    const auto number = numberOf(given);
    if (is(header, "SIMulate:NOISe") && number)
        m_faults.noise = *number;
    else if (is(header, "SIMulate:JITTer") && number)
        m_faults.randomJitter = *number;
    else if (is(header, "SIMulate:SWEep") && number)
        m_is.sweep = std::size_t(std::max(0.0, *number)), m_captures = 0;
    else
        m_error = "-113,\"Undefined header\"";
}

} // namespace fulvex::demo
