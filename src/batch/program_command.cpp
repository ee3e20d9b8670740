#include "program_command.h"

#include "error.h"
#include "plain_text.h"
#include "program_consent.h"
#include "program_run.h"
#include "project_file.h"

#include <algorithm>
#include <cstdio>

namespace fulvex {

int program(const ProgramCommand &command)
{
    Progress progress;
    const OpenedProject project = openProject(command.project, progress);
    const ProgramEntry *entry = findEntry(project.document.programs, command.id);
    if (!entry) throw Error(command.project, "has no program \"" + command.id + "\"", "give the id of one");
    const ProgramContent content = readProgram(project.base / entry->file);
    const bool meant = entry->sha256.empty() || entry->sha256 == content.sha256;
    if (command.allow && !meant)
        throw Error((project.base / entry->file).string(), "is not the program that the project was saved with",
                    "put that one back, or open the project in the window and allow this one there");
    if (command.allow) allowProgram(content.sha256);
    if (command.forbid) forbidProgram(content.sha256);
    std::printf("%s\nSHA-256 %s%s\n%s\n\n", shownText((project.base / entry->file).string()).c_str(),
                content.sha256.c_str(), meant ? "" : ", not that of the project",
                isProgramAllowed(content.sha256) ? "allowed to run here" : "not allowed to run here");
    const bool isText = isUtf8(content.bytes) && content.bytes.find('\0') == std::string::npos;
    std::printf("%s\n", isText ? shownText(content.bytes, true).c_str() : "(no text: a program for a machine)");
    return 0;
}

} // namespace fulvex
