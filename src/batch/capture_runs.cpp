#include "capture_runs.h"

#include "error.h"
#include "number_text.h"

#include <filesystem>
#include <map>

namespace fulvex {

namespace fs = std::filesystem;

std::pair<std::string, std::string> splitAt(const std::string &text, const char *option)
{
    const std::size_t at = text.find('=');
    if (at == 0 || at == std::string::npos || at + 1 == text.size())
        throw Error(std::string(option) + " " + text, "is not of the form NAME=VALUE",
                    "write for example " + std::string(option) + (option[2] == 'c' ? " run1=link.npy" : " fc=20e6"));
    return {text.substr(0, at), text.substr(at + 1)};
}

std::string absoluteFile(const std::string &file)
{
    std::error_code failure; // without a working folder it stays as it is
    const fs::path absolute = fs::absolute(file, failure);
    return failure ? file : absolute.string();
}

Document documentFor(const RunCommand &command, Document document)
{
    for (const std::string &setting : command.parameters) {
        const auto [id, value] = splitAt(setting, "--set");
        ParameterEntry *parameter = findEntry(document.parameters, id);
        if (!parameter)
            throw Error("--set " + setting, "the project has no parameter \"" + id + "\"",
                        "see \"parameters\" in " + command.project);
        const auto number = plainNumber(value);
        if (!number) throw Error("--set " + setting, "the value is not a number", "write a plain SI number");
        parameter->value = *number;
        const ParameterEntry &p = *parameter;
        if ((p.min && p.value < *p.min) || (p.max && p.value > *p.max))
            throw Error("--set " + setting, "lies outside the parameter's min and max",
                        "see \"parameters\" in " + command.project);
    }
    std::map<std::string, std::vector<std::string>> files;
    for (const std::string &setting : command.captures) {
        const auto [id, file] = splitAt(setting, "--capture");
        if (!findEntry(document.captures, id))
            throw Error("--capture " + setting, "the project has no capture \"" + id + "\"",
                        "see \"captures\" in " + command.project);
        files[id].push_back(absoluteFile(file));
    }
    for (auto &[id, list] : files) { // other files were asked for
        CaptureEntry &capture = *findEntry(document.captures, id);
        capture.file = list.front();
        capture.sha256.clear();
        capture.run.files = std::move(list);
        capture.run.leftOut.clear();
    }
    return document;
}

} // namespace fulvex
