#include "error.h"
#include "formula.h"
#include "number_text.h"

#include <algorithm>
#include <cctype>
#include <charconv>

namespace fulvex {

namespace {

std::size_t functionIndex(std::string_view name)
{
    const auto table = formulaFunctions();
    const auto found =
        std::find_if(table.begin(), table.end(), [&](const FormulaFunction &f) { return name == f.name; });
    return std::size_t(found - table.begin());
}

/// Recursive descent: sum > product > sign > power > atom.
class Parser {
public:
    Parser(const std::string &text, std::vector<std::string> &names, std::vector<Formula::Step> &steps,
           std::vector<std::size_t> &places)
        : m_text(text), m_names(names), m_steps(steps), m_places(places)
    {
    }

    void parse()
    {
        sum();
        skip();
        if (m_at < m_text.size())
            fail("\"" + m_text.substr(m_at, 1) + "\" is not expected here", "an operator or the end is");
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
    void call(std::string_view name) { m_steps.push_back({Formula::Step::Kind::call, 0, functionIndex(name)}); }

    void sum()
    {
        product();
        for (;;) {
            if (take("+"))
                product(), call("+");
            else if (take("-") || take("\u2212"))
                product(), call("-");
            else
                return;
        }
    }
    void product()
    {
        sign();
        for (;;) {
            if (take("*") || take("·") || take("×"))
                sign(), call("*");
            else if (take("/"))
                sign(), call("/");
            else
                return;
        }
    }
    void sign()
    {
        if (++m_depth > 200) fail("the formula is nested too deeply", "split it over several channels");
        if (take("-") || take("\u2212"))
            sign(), call("negated");
        else if (take("+"))
            sign();
        else
            power();
        --m_depth;
    }
    void power()
    {
        atom();
        if (take("^")) sign(), call("^");
    }
    void atom()
    {
        skip();
        if (m_at >= m_text.size()) fail("the formula ends where a value should stand", "add a channel or a number");
        const auto c = static_cast<unsigned char>(m_text[m_at]);
        if (take("(")) {
            sum();
            if (!take(")")) fail("a closing parenthesis is missing", "add \")\"");
        } else if (std::isdigit(c) || c == '.') {
            number();
        } else if (std::isalpha(c) || c == '_') {
            word();
        } else {
            fail("\"" + m_text.substr(m_at, 1) + "\" is not expected here", "a channel, a number or \"(\" is");
        }
    }
    std::string letters()
    {
        const std::size_t from = m_at;
        while (m_at < m_text.size() && (std::isalnum(static_cast<unsigned char>(m_text[m_at])) || m_text[m_at] == '_'))
            ++m_at;
        return m_text.substr(from, m_at - from);
    }
    void number()
    {
        double value = 0;
        const auto [end, failure] = std::from_chars(m_text.data() + m_at, m_text.data() + m_text.size(), value);
        if (failure != std::errc()) fail("not a number", "write it as 1.5e-3 or 1.5m");
        m_at = std::size_t(end - m_text.data());
        skip();
        const std::size_t from = m_at;
        std::string unit = letters();
        if (m_text.compare(from, 2, "µ") == 0) m_at = from + 2, unit = "u" + letters();
        if (!unit.empty()) value *= factorOf(unit, from);
        m_steps.push_back({Formula::Step::Kind::constant, value, 0});
    }
    double factorOf(const std::string &unit, std::size_t from)
    {
        if (const auto factor = prefixFactor(unit)) return *factor;
        for (const std::string_view base : {"Hz", "V", "s", "A"}) {
            if (!std::string_view(unit).ends_with(base)) continue;
            if (const auto factor = prefixFactor(unit.substr(0, unit.size() - base.size()))) return *factor;
        }
        m_at = from;
        fail("\"" + unit + "\" is no SI prefix or unit", "use f p n u m k M G T, alone or before V, A, s, Hz");
    }
    void word()
    {
        const std::size_t from = m_at;
        const std::string name = letters();
        if (!take("(")) {
            const auto known = std::find(m_names.begin(), m_names.end(), name);
            m_steps.push_back({Formula::Step::Kind::name, 0, std::size_t(known - m_names.begin())});
            if (known == m_names.end()) m_names.push_back(name);
            m_places.push_back(from);
            return;
        }
        const std::size_t index = functionIndex(name);
        if (index == formulaFunctions().size()) {
            m_at = from;
            std::string known;
            for (const FormulaFunction &f : formulaFunctions()) {
                if (std::isalpha(static_cast<unsigned char>(f.name[0])))
                    known += std::string(known.empty() ? "" : ", ") + f.name;
            }
            fail("no function has the name \"" + name + "\"", "there are: " + known);
        }
        const int wanted = formulaFunctions()[index].arguments;
        for (int i = 0; i < wanted; ++i) {
            if (i > 0 && !take(","))
                fail(name + " takes " + std::to_string(wanted) + " arguments", "separate them by commas");
            sum();
        }
        if (!take(")"))
            fail("a closing parenthesis is missing, or " + name + " has too many arguments",
                 formulaFunctions()[index].help);
        m_steps.push_back({Formula::Step::Kind::call, 0, index});
    }

    const std::string &m_text;
    std::vector<std::string> &m_names;
    std::vector<Formula::Step> &m_steps;
    std::vector<std::size_t> &m_places;
    std::size_t m_at = 0;
    int m_depth = 0;
};

} // namespace

Formula Formula::parse(const std::string &text)
{
    Formula formula;
    Parser(text, formula.m_names, formula.m_steps, formula.m_places).parse();
    return formula;
}

std::string Formula::renamed(const std::string &text, const std::string &from, const std::string &to)
{
    const Formula formula = parse(text);
    std::string out = text;
    std::size_t name = formula.m_places.size();
    for (auto step = formula.m_steps.rbegin(); step != formula.m_steps.rend(); ++step) { // from the back: places hold
        if (step->kind != Step::Kind::name) continue;
        --name;
        if (formula.m_names[step->index] == from) out.replace(formula.m_places[name], from.size(), to);
    }
    return out;
}

bool Formula::keepsUnit(const std::function<bool(const std::string &)> &isChannel) const
{
    enum class Is { number, ofUnit, other };
    std::vector<Is> stack;
    for (const Step &step : m_steps) {
        if (step.kind != Step::Kind::call) {
            const bool channel = step.kind == Step::Kind::name && isChannel(m_names[step.index]);
            stack.push_back(channel ? Is::ofUnit : Is::number);
            continue;
        }
        const FormulaFunction &function = formulaFunctions()[step.index];
        const Is last = stack.back(), first = stack[stack.size() - std::size_t(function.arguments)];
        const auto isOneOf = [&](std::initializer_list<std::string_view> names) {
            return std::find(names.begin(), names.end(), function.name) != names.end();
        };
        Is made = Is::other;
        if (first == Is::number && last == Is::number)
            made = Is::number;
        else if (first == Is::other || last == Is::other)
            made = Is::other;
        else if (isOneOf({"+", "-", "min", "max", "negated", "abs"}) || (isOneOf({"*"}) && first != last) ||
                 (isOneOf({"/"}) && last == Is::number))
            made = Is::ofUnit;
        stack.resize(stack.size() - std::size_t(function.arguments));
        stack.push_back(made);
    }
    return stack.back() == Is::ofUnit;
}

} // namespace fulvex
