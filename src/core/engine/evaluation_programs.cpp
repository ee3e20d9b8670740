// Programs of the user's that formulas call: read once, run where they are allowed, and not again where they fail.

#include "evaluation.h"
#include "failure_text.h"
#include "node_key.h"
#include "program_consent.h"
#include "references.h"

#include <algorithm>

namespace fulvex {

const Evaluation::ReadProgram &Evaluation::program(const ProgramEntry &entry)
{
    const auto [known, fresh] = m_programs.try_emplace(entry.id);
    if (!fresh) return known->second;
    try {
        known->second.content = readProgram(m_base / entry.file);
        known->second.bytes = std::make_shared<const std::string>(known->second.content.bytes);
    } catch (...) {
        known->second.error = failureText();
    }
    return known->second;
}

ProgramStatus Evaluation::programStatus(const ProgramEntry &entry)
{
    using State = ProgramStatus::State;

    const ReadProgram &read = program(entry);
    ProgramStatus status;
    status.id = entry.id;
    status.path = (m_base / entry.file).string();
    status.error = read.error;
    status.sha256 = read.content.sha256;
    status.content = read.bytes;
    if (!read.error.empty()) return status;
    const bool known = isProgramAllowed(status.sha256);
    const bool meant = entry.sha256.empty() || entry.sha256 == status.sha256;
    status.state = known && meant ? State::allowed : meant ? State::unseen : State::another;
    return status;
}

std::string Evaluation::programKey(const ProgramEntry &entry)
{
    const ProgramStatus status = programStatus(entry);
    if (!status.error.empty())
        throw Error("program \"" + entry.id + "\"", status.error, "put it back, or give another \"file\"");
    std::string names;
    for (const auto *list : {&entry.arguments, &entry.parameters}) {
        for (const std::string &name : *list) names += name + ",";
        names += ";";
    }
    return digestOf("program", status.sha256, int(status.state), names, entry.seconds, entry.memory);
}

SourcePtr Evaluation::run(const ProgramEntry &entry, ProgramTask task)
{
    const ProgramStatus status = programStatus(entry);
    const std::string where = "program \"" + entry.id + "\"";
    if (status.state == ProgramStatus::State::unseen)
        throw Error(where, "has not been allowed to run here", "choose it in the Chain, look at it, and allow it");
    if (status.state == ProgramStatus::State::another)
        throw Error(where, "is not the one that the project was saved with",
                    "choose it in the Chain, look at it, and allow it where it is meant");
    task.seconds = entry.seconds;
    task.memory = entry.memory;
    return runProgram(program(entry).content, task, m_progress);
}

SourcePtr Evaluation::madeOnce(const std::string &key, const std::function<SourcePtr()> &make)
{
    const std::string failure = keyOf("failure", key);
    if (const auto before = m_cache.peek<Error>(failure)) throw *before;
    try {
        return *m_cache.get<SourcePtr>(key, make);
    } catch (const Error &error) {
        m_cache.get<Error>(failure, [&] { return error; });
        throw;
    }
}

bool Evaluation::standsOnProgram(const std::string &id)
{
    if (m_document.programs.empty()) return false;
    const auto known = m_onProgram.find(id);
    if (known != m_onProgram.end()) return known->second;
    const auto on = allBehind(*m_entries, id);
    return m_onProgram[id] = std::any_of(on.begin(), on.end(), [&](const std::string &one) {
               return m_entries->kindOf(one) == EntryKind::program;
           });
}

} // namespace fulvex
