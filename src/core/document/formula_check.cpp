#include "formula_check.h"

#include "error.h"
#include "field_text.h"
#include "formula.h"

#include <algorithm>
#include <set>
#include <string_view>
#include <unordered_map>

namespace fulvex {

namespace {

/// Goes along what formulas name, however long the chains are, without going deeper on the stack.
class FormulaCheck {
public:
    explicit FormulaCheck(const Document &document) : m_document(document), m_own(ownFunctions(document))
    {
        for (std::size_t i = 0; i < document.channels.size(); ++i) m_index[document.channels[i].id] = i;
        m_nodes.resize(document.channels.size());
    }
    void run()
    {
        for (std::size_t i = 0; i < m_document.functions.size(); ++i) checkFunction(i);
        for (std::size_t i = 0; i < m_document.programs.size(); ++i)
            needNoneOf(m_document.programs[i].id, "programs[" + std::to_string(i) + "]");
        for (std::size_t i = 0; i < m_nodes.size(); ++i) {
            if (m_nodes[i].state == Node::fresh) visit(i);
        }
    }

private:
    static constexpr int deepest = 100;
    struct Node {
        enum { fresh, open, done } state = fresh;
        std::vector<std::size_t> uses;
        std::size_t next = 0;
        int depth = 0; ///< formulas on the way down to a capture
    };
    std::string where(std::size_t i) const { return "channels[" + std::to_string(i) + "].formula"; }
    const std::string &idOf(std::size_t i) const { return m_document.channels[i].id; }
    void needKnown(const std::string &name, const std::string &place) const
    {
        if (!m_index.contains(name) && !findEntry(m_document.parameters, name) &&
            !findEntry(m_document.regions, name) && !findEntry(m_document.measurements, name) &&
            !findEntry(m_document.clocks, name) && !findEntry(m_document.eyes, name) &&
            !findEntry(m_document.programs, name))
            throw Error(place, "no channel, parameter or region has the id \"" + name + "\"",
                        "add it, or correct the formula");
    }
    std::vector<std::string> namesOf(const std::string &formula, const std::string &place) const
    {
        try {
            return Formula::parse(formula, m_own).names();
        } catch (const Error &error) {
            throw error.within(place);
        }
    }
    /// Formulas could not tell it from one of the table.
    static void needNoneOf(const std::string &id, const std::string &place)
    {
        for (const FormulaFunction &known : formulaFunctions())
            if (id == known.name)
                throw Error(place + ".id", "there is a function of the name \"" + id + "\" already", "give it another");
    }
    /// Of an own function, whether or not it is called.
    void checkFunction(std::size_t i) const
    {
        const FunctionEntry &function = m_document.functions[i];
        const std::string place = "functions[" + std::to_string(i) + "]";
        needNoneOf(function.id, place);
        std::string call = function.id;
        for (const std::string &argument : function.arguments) call += (call == function.id ? "(" : ", ") + argument;
        for (const std::string &name : namesOf(call + ")", place + ".formula"))
            if (std::find(function.arguments.begin(), function.arguments.end(), name) == function.arguments.end())
                needKnown(name, place + ".formula");
    }
    void open(std::size_t i, std::vector<std::size_t> &path)
    {
        m_nodes[i].state = Node::open;
        path.push_back(i);
        const ChannelEntry &channel = m_document.channels[i];
        if (channel.formula.empty()) return;
        for (const std::string &name : namesOf(channel.formula, where(i))) {
            needKnown(name, where(i));
            for (const std::string &behind : channelsBehind(m_document, name))
                m_nodes[i].uses.push_back(m_index.at(behind));
        }
    }
    void visit(std::size_t start)
    {
        std::vector<std::size_t> path;
        open(start, path);
        while (!path.empty()) {
            const std::size_t i = path.back();
            Node &node = m_nodes[i];
            if (node.next < node.uses.size()) {
                const std::size_t used = node.uses[node.next++];
                if (m_nodes[used].state == Node::open) throw circle(path, used);
                if (m_nodes[used].state == Node::fresh) open(used, path);
                continue;
            }
            for (const std::size_t used : node.uses) node.depth = std::max(node.depth, m_nodes[used].depth);
            node.depth += !m_document.channels[i].formula.empty();
            if (node.depth > deepest)
                throw Error(where(i), "stands on a chain of more than " + std::to_string(deepest) + " formulas",
                            "say more in one formula, or keep a copy of one on the way");
            node.state = Node::done;
            path.pop_back();
        }
    }
    Error circle(const std::vector<std::size_t> &path, std::size_t back) const
    {
        std::string chain;
        const auto first = std::find(path.begin(), path.end(), back);
        for (auto at = first; at != path.end() && at - first < 10; ++at) chain += idOf(*at) + " → ";
        if (path.end() - first > 10) chain += "… → ";
        return Error(where(back), "goes in a circle: " + chain + idOf(back),
                     "let one of these channels not depend on the others");
    }
    const Document &m_document;
    Formula::OwnFunctions m_own;
    std::unordered_map<std::string_view, std::size_t> m_index;
    std::vector<Node> m_nodes;
};

} // namespace

Formula::OwnFunctions ownFunctions(const Document &document)
{
    Formula::OwnFunctions own;
    for (const FunctionEntry &entry : document.functions) own[entry.id] = {entry.arguments, entry.formula};
    for (const ProgramEntry &entry : document.programs) {
        Formula::Own &program = own[entry.id];
        program.arguments = entry.arguments;
        program.arguments.insert(program.arguments.end(), entry.parameters.begin(), entry.parameters.end());
        program.inputs = entry.arguments.size();
        program.unit = entry.unit;
    }
    return own;
}

std::vector<std::string> channelsBehind(const Document &document, const std::string &name)
{
    if (findEntry(document.channels, name)) return {name};
    if (!findEntry(document.measurements, name) && !findEntry(document.clocks, name) && !findEntry(document.eyes, name))
        return {};
    const EntryIndex entries(document);
    std::vector<std::string> found, open{name};
    std::set<std::string> seen{name};
    while (!open.empty()) {
        const std::string id = open.back();
        open.pop_back();
        if (entries.kindOf(id) == EntryKind::channel) {
            found.push_back(id);
            continue;
        }
        for (const Field &field : entries.fieldsOf(id)) {
            if (field.role != Role::computes || !field.belongs) continue;
            for (const std::string &used : idsIn(field))
                if (seen.insert(used).second) open.push_back(used);
        }
    }
    return found;
}

void checkFormulas(const Document &document)
{
    FormulaCheck(document).run();
}

} // namespace fulvex
