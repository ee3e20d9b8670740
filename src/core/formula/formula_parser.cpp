#include "error.h"
#include "formula.h"
#include "nearest_name.h"
#include "number_text.h"

#include <algorithm>
#include <bit>
#include <cctype>
#include <charconv>
#include <cmath>
#include <map>
#include <optional>
#include <utility>

namespace fulvex {

namespace {

std::size_t functionIndex(std::string_view name)
{
    const auto table = formulaFunctions();
    const auto found =
        std::find_if(table.begin(), table.end(), [&](const FormulaFunction &f) { return name == f.name; });
    return std::size_t(found - table.begin());
}

} // namespace

/// Recursive descent: comparison > sum > product > sign > power > atom.
class FormulaParser {
public:
    using Index = std::size_t; ///< of a node
    /// Without own functions, those that are called are names as well, and what they give is not looked at.
    FormulaParser(const std::string &text, Formula &formula, const Formula::OwnFunctions *own)
        : m_text(text), m_own(own), m_names(formula.m_names), m_nodes(formula.m_nodes), m_where(formula.m_where),
          m_places(formula.m_places)
    {
    }

    Index parse()
    {
        const Index result = comparison();
        skip();
        if (m_at < m_text.size())
            fail("\"" + m_text.substr(m_at, 1) + "\" is not expected here", "an operator or the end is");
        return result;
    }

private:
    [[noreturn]] void fail(const std::string &what, const std::string &remedy) const
    {
        throw Error("character " + std::to_string(m_at + 1), what, remedy);
    }
    void skip()
    {
        while (m_at < m_text.size() && std::isspace(static_cast<unsigned char>(m_text[m_at]))) ++m_at;
    }
    bool take(std::string_view token)
    {
        skip();
        if (m_text.compare(m_at, token.size(), token) != 0) return false;
        m_at += token.size();
        return true;
    }
    /// What is written twice is one node.
    Index node(Formula::Node made, std::size_t where, std::vector<std::size_t> argumentsAt = {})
    {
        const auto [known, fresh] = m_known.try_emplace(made, m_nodes.size());
        if (fresh) {
            if (!m_calls.empty()) { // what an own function is made of stands where it is called
                where = m_calls.front().where;
                std::fill(argumentsAt.begin(), argumentsAt.end(), where);
            }
            m_nodes.push_back(std::move(made));
            m_where.push_back({where, std::move(argumentsAt)});
        }
        return known->second;
    }
    Index call(std::string_view name, std::vector<Index> arguments, std::size_t where,
               std::vector<std::size_t> argumentsAt = {})
    {
        return node({Formula::Node::Kind::call, 0, {}, functionIndex(name), 0, std::move(arguments)}, where,
                    std::move(argumentsAt));
    }
    std::size_t here()
    {
        skip();
        return m_at;
    }

    Index comparison()
    {
        const Index made = sum();
        const std::size_t where = here();
        for (const auto &[written, name] :
             {std::pair("<=", "<="), {"≤", "<="}, {">=", ">="}, {"≥", ">="}, {"<", "<"}, {">", ">"}}) {
            if (!take(written)) continue;
            const Index other = sum();
            skip();
            if (m_at < m_text.size() && (m_text[m_at] == '<' || m_text[m_at] == '>'))
                fail("a comparison of a comparison", "put the one that is meant first in parentheses");
            return call(name, {made, other}, where);
        }
        return made;
    }

    Index sum()
    {
        Index made = product();
        for (;;) {
            const std::size_t where = here();
            if (take("+"))
                made = call("+", {made, product()}, where);
            else if (take("-") || take("\u2212"))
                made = call("-", {made, product()}, where);
            else
                return made;
        }
    }
    Index product()
    {
        Index made = sign();
        for (;;) {
            const std::size_t where = here();
            if (take("*") || take("·") || take("×"))
                made = call("*", {made, sign()}, where);
            else if (take("/"))
                made = call("/", {made, sign()}, where);
            else
                return made;
        }
    }
    Index sign()
    {
        if (++m_depth > 200) fail("the formula is nested too deeply", "split it over several channels");
        Index made;
        const std::size_t where = here();
        if (take("-") || take("\u2212")) {
            const auto loss = decibels(-1);
            made = loss ? *loss : call("negated", {sign()}, where);
        } else {
            made = take("+") ? sign() : power();
        }
        --m_depth;
        return made;
    }
    Index power()
    {
        const Index base = atom();
        const std::size_t where = here();
        return take("^") ? call("^", {base, sign()}, where) : base;
    }
    Index atom()
    {
        skip();
        if (m_at >= m_text.size()) fail("the formula ends where a value should stand", "add a channel or a number");
        const auto c = static_cast<unsigned char>(m_text[m_at]);
        if (take("(")) {
            const Index made = comparison();
            if (!take(")")) fail("a closing parenthesis is missing", "add \")\"");
            return made;
        }
        if (std::isdigit(c) || c == '.') return number();
        if (std::isalpha(c) || c == '_') return word();
        fail("\"" + m_text.substr(m_at, 1) + "\" is not expected here", "a channel, a number or \"(\" is");
    }
    std::string letters()
    {
        const std::size_t from = m_at;
        while (m_at < m_text.size() && (std::isalnum(static_cast<unsigned char>(m_text[m_at])) || m_text[m_at] == '_'))
            ++m_at;
        return m_text.substr(from, m_at - from);
    }
    /// "6 dB" is the ratio of two amplitudes, "-6 dB" its inverse. Nothing is read where that does not stand here.
    std::optional<Index> decibels(double sign)
    {
        const std::size_t where = here();
        double value = 0;
        const auto [end, failure] = std::from_chars(m_text.data() + m_at, m_text.data() + m_text.size(), value);
        if (failure == std::errc()) {
            m_at = std::size_t(end - m_text.data());
            skip();
            if (letters() == "dB") return node({Formula::Node::Kind::number, std::pow(10, sign * value / 20)}, where);
        }
        m_at = where;
        return {};
    }
    Index number()
    {
        double value = 0;
        const std::size_t where = m_at;
        if (const auto gain = decibels(1)) return *gain;
        const auto [end, failure] = std::from_chars(m_text.data() + m_at, m_text.data() + m_text.size(), value);
        if (failure != std::errc()) fail("not a number", "write it as 1.5e-3 or 1.5m");
        m_at = std::size_t(end - m_text.data());
        skip();
        const std::size_t from = m_at;
        std::string unit = letters();
        if (m_text.compare(from, 2, "µ") == 0) m_at = from + 2, unit = "u" + letters();
        if (take("Ω")) unit += "Ohm";
        const auto [factor, base] = unit.empty() ? std::pair(1.0, std::string()) : factorOf(unit, from);
        return node({Formula::Node::Kind::number, value * factor, base}, where);
    }
    /// Of a prefix, or a unit with or without one, and that unit.
    std::pair<double, std::string> factorOf(const std::string &unit, std::size_t from)
    {
        if (const auto factor = prefixFactor(unit)) return {*factor, {}};
        for (const std::string_view written : {"Hz", "V", "s", "A", "W", "Ohm"}) {
            if (!std::string_view(unit).ends_with(written)) continue;
            const std::string prefix = unit.substr(0, unit.size() - written.size());
            if (const auto factor = prefixFactor(prefix))
                return {*factor, std::string(written == "Ohm" ? "Ω" : written)};
        }
        m_at = from;
        fail("\"" + unit + "\" is no SI prefix or unit",
             "use f p n u m k M G T, alone or before V, A, W, Ohm, s, Hz, or dB");
    }
    static bool isOneOf(const FormulaArgument &argument, std::string_view word)
    {
        return std::find(argument.words.begin(), argument.words.end(), word) != argument.words.end();
    }
    /// The word that stands here, where it is one for an argument from an index on.
    std::string_view wordHere(const FormulaFunction &function, std::size_t from) const
    {
        std::size_t end = m_at;
        while (end < m_text.size() && (std::isalnum(static_cast<unsigned char>(m_text[end])) || m_text[end] == '_'))
            ++end;
        const auto word = std::string_view(m_text).substr(m_at, end - m_at);
        const auto later = function.arguments.subspan(from);
        const bool is =
            std::any_of(later.begin(), later.end(), [&](const auto &argument) { return isOneOf(argument, word); });
        return is ? word : std::string_view();
    }
    /// What a name is: an argument of the own function that it stands in, or something of the document.
    Index named(const std::string &name, std::size_t from)
    {
        if (!m_calls.empty()) {
            const auto &arguments = m_calls.back().function->arguments;
            const auto argument = std::find(arguments.begin(), arguments.end(), name);
            if (argument != arguments.end()) return m_calls.back().values[std::size_t(argument - arguments.begin())];
        }
        return node({Formula::Node::Kind::name, 0, {}, nameIndex(name, from)}, from);
    }
    std::size_t nameIndex(const std::string &name, std::size_t from)
    {
        const auto known = std::find(m_names.begin(), m_names.end(), name);
        const auto index = std::size_t(known - m_names.begin());
        if (known == m_names.end()) m_names.push_back(name);
        if (m_calls.empty()) m_places.emplace_back(from, index);
        return index;
    }
    /// Of a function that is not in the table; behind the parenthesis.
    Index ownCall(const std::string &name, std::size_t from)
    {
        const auto function = m_own ? m_own->find(name) : Formula::OwnFunctions::const_iterator();
        if (m_own && function == m_own->end()) {
            m_at = from;
            std::vector<std::string> known;
            for (const FormulaFunction &f : formulaFunctions()) {
                if (std::isalpha(static_cast<unsigned char>(f.name[0]))) known.emplace_back(f.name);
            }
            for (const auto &[own, of] : *m_own) known.push_back(own);
            fail("no function has the name \"" + name + "\"", remedyForName(name, known));
        }
        std::vector<Index> values;
        do values.push_back(comparison());
        while (take(","));
        if (!take(")")) fail("a closing parenthesis is missing", "add \")\"");
        if (!m_own) return named(name, from);
        const Formula::Own &of = function->second;
        const std::size_t behind = m_at;
        m_at = from;
        if (values.size() != of.arguments.size())
            fail("\"" + name + "\" takes " + std::to_string(of.arguments.size()) + " arguments, not " +
                     std::to_string(values.size()),
                 "give as many as it has");
        if (of.inputs) {
            m_at = behind;
            return node(
                {Formula::Node::Kind::program, 0, of.unit, nameIndex(name, from), *of.inputs, std::move(values)}, from);
        }
        if (std::any_of(m_calls.begin(), m_calls.end(), [&](const Call &call) { return call.function == &of; }))
            fail("\"" + name + "\" goes in a circle", "let it not stand on itself");
        constexpr int most = 10000;
        if (++m_expanded > most)
            fail("own functions call each other more than 10000 times", "say less, or more plainly");
        const bool outermost = m_calls.empty();
        m_calls.push_back({&of, std::move(values), outermost ? from : m_calls.front().where});
        const std::string outside = std::exchange(m_text, of.formula);
        m_at = 0;
        Index result = 0;
        try {
            result = parse();
        } catch (const Error &error) {
            if (!outermost) throw;
            throw error.within("character " + std::to_string(from + 1) + ": in own function \"" + name + "\"");
        }
        m_text = outside;
        m_at = behind;
        m_calls.pop_back();
        return result;
    }
    Index word()
    {
        const std::size_t from = m_at;
        const std::string name = letters();
        if (!take("(")) return named(name, from);
        const std::size_t index = functionIndex(name);
        if (index == formulaFunctions().size()) return ownCall(name, from);
        const FormulaFunction &function = formulaFunctions()[index];
        std::vector<Index> arguments;
        std::vector<std::size_t> argumentsAt;
        bool open = true; // behind the parenthesis, or a comma that nothing followed yet
        for (std::size_t i = 0; i < function.arguments.size(); ++i) {
            const FormulaArgument &argument = function.arguments[i];
            open = open || take(",");
            argumentsAt.push_back(here());
            const std::string_view word = wordHere(function, i);
            if (open && argument.words.empty() && (word.empty() || !argument.optional())) {
                arguments.push_back(comparison());
                open = false;
            } else if (open && isOneOf(argument, word)) {
                arguments.push_back(node({Formula::Node::Kind::word, 0, std::string(word)}, m_at));
                m_at += word.size();
                open = false;
            } else if (argument.optional()) {
                arguments.push_back(argument.words.empty()
                                        ? node({Formula::Node::Kind::number, argument.usual}, m_at)
                                        : node({Formula::Node::Kind::word, 0, argument.words.front()}, m_at));
            } else {
                fail(name + " takes " + std::to_string(function.arguments.size()) + " arguments", function.help);
            }
        }
        if (open || !take(")"))
            fail("a closing parenthesis is missing, or " + name + " has too many arguments", function.help);
        return call(name, std::move(arguments), from, std::move(argumentsAt));
    }

    std::string m_text; ///< the formula's, or that of the own function that is being read
    const Formula::OwnFunctions *m_own;
    std::vector<std::string> &m_names;
    std::vector<Formula::Node> &m_nodes;
    std::vector<Formula::Place> &m_where;
    std::vector<std::pair<std::size_t, std::size_t>> &m_places;
    std::map<Formula::Node, Index> m_known;
    /// Own functions that are being read, the outermost first.
    struct Call {
        const Formula::Own *function;
        std::vector<Index> values; ///< of its arguments
        std::size_t where;         ///< of the outermost call, in the formula
    };
    std::vector<Call> m_calls;
    int m_expanded = 0;
    std::size_t m_at = 0;
    int m_depth = 0;
};

Formula Formula::parse(const std::string &text, const OwnFunctions &own)
{
    Formula formula;
    const std::size_t result = FormulaParser(text, formula, &own).parse();
    // An own function may have left something unused behind it.
    return result + 1 == formula.m_nodes.size() ? formula : formula.part(result);
}

std::vector<std::string> Formula::namesIn(const std::string &text, const std::vector<std::string> &locals)
{
    Formula formula;
    FormulaParser(text, formula, nullptr).parse();
    std::vector<std::string> names = std::move(formula.m_names);
    std::erase_if(
        names, [&](const std::string &name) { return std::find(locals.begin(), locals.end(), name) != locals.end(); });
    return names;
}

std::string Formula::renamed(const std::string &text, const std::string &from, const std::string &to)
{
    Formula formula;
    FormulaParser(text, formula, nullptr).parse();
    std::string out = text;
    std::sort(formula.m_places.begin(), formula.m_places.end());
    for (auto place = formula.m_places.rbegin(); place != formula.m_places.rend();
         ++place) // from the back: places hold
        if (formula.m_names[place->second] == from) out.replace(place->first, from.size(), to);
    return out;
}

std::string Formula::canonical() const
{
    std::string text;
    for (const Node &node : m_nodes) {
        if (node.kind == Node::Kind::number)
            text += "n" + std::to_string(std::bit_cast<std::uint64_t>(node.number)) + node.unit;
        else if (node.kind == Node::Kind::name)
            text += "c" + std::to_string(node.index);
        else if (node.kind == Node::Kind::word)
            text += "w" + node.unit;
        else {
            text += node.kind == Node::Kind::program ? "p" + std::to_string(node.index) + "in" + node.unit
                                                     : formulaFunctions()[node.index].name;
            for (const std::size_t argument : node.arguments) text += " " + std::to_string(argument);
        }
        text += ";";
    }
    return text;
}

} // namespace fulvex
