#include "named_files.h"

#include "atomic_file.h"
#include "error.h"
#include "json_text.h"
#include "project_file.h"

#include <algorithm>
#include <nlohmann/json.hpp>

namespace fulvex {

namespace fs = std::filesystem;
using Json = nlohmann::ordered_json;

bool leadsOut(const std::string &file)
{
    const fs::path path(file);
    return path.is_absolute() ||
           std::any_of(path.begin(), path.end(), [](const fs::path &part) { return part == ".."; });
}

bool isResultName(const fs::path &file)
{
    const std::string ending = file.extension().string();
    return isProjectName(file) || ending == ".json" || ending == ".html" || ending == ".pdf";
}

bool isProjectName(const fs::path &file)
{
    return file.extension() == ".fulvex" || file.extension() == packedEnding;
}

/// Whether a mask is a file, and not the id of a shipped one.
static bool isMaskFile(const std::string &mask)
{
    return mask.find('/') != std::string::npos || mask.ends_with(".json");
}

void renameNamedFiles(Document &document, const fs::path &base,
                      const std::function<std::string(const NamedFile &)> &use)
{
    using Kind = NamedFile::Kind;
    const auto place = [](const char *list, std::size_t i, const char *field) {
        return std::string(list) + "[" + std::to_string(i) + "]." + field;
    };
    std::error_code failure;
    for (std::size_t i = 0; i < document.masks.size(); ++i) {
        MaskEntry &mask = document.masks[i];
        if (mask.own() || !isMaskFile(mask.mask) ||
            (!leadsOut(mask.mask) && !fs::is_regular_file(base / mask.mask, failure)))
            continue;
        mask.mask =
            use({place("masks", i, "mask"), "masks/" + mask.id, "mask \"" + mask.id + "\"", mask.mask, Kind::mask});
    }
    for (std::size_t i = 0; i < document.programs.size(); ++i) {
        ProgramEntry &program = document.programs[i];
        program.file = use({place("programs", i, "file"), "programs/" + program.id, "program \"" + program.id + "\"",
                            program.file, Kind::program});
    }
    for (std::size_t i = 0; i < document.comparisons.size(); ++i) {
        ComparisonEntry &one = document.comparisons[i];
        one.file = use({place("comparisons", i, "file"), "comparisons/" + one.id, "comparison \"" + one.id + "\"",
                        one.file, Kind::comparison});
    }
    for (std::size_t i = 0; i < document.plans.size(); ++i) {
        PlanEntry &plan = document.plans[i];
        plan.file =
            use({place("plans", i, "file"), "plans/" + plan.id, "plan \"" + plan.id + "\"", plan.file, Kind::plan});
    }
    for (std::size_t i = 0; i < document.attempts.size(); ++i) {
        AttemptEntry &attempt = document.attempts[i];
        for (std::size_t k = 0; k < attempt.captures.size(); ++k) {
            const auto [slot, file] = AttemptEntry::parted(attempt.captures[k]);
            const std::string folder = "attempts/" + attempt.id + "/" + std::to_string(k + 1);
            attempt.captures[k] =
                slot + "=" +
                use({place("attempts", i, "captures"), folder, "attempt \"" + attempt.id + "\"", file, Kind::attempt});
        }
    }
}

std::vector<std::string> filesBesidePlan(const fs::path &plan)
{
    std::vector<std::string> files;
    const auto take = [&](const Json &object, const char *key, const auto &isFile) {
        const std::string name = object.is_object() ? textMember(object, key) : std::string();
        if (!name.empty() && isFile(name) && !leadsOut(name)) files.push_back(name);
    };
    const auto each = [](const Json &object, const char *key, const auto &act) {
        if (!object.is_object() || !object.contains(key) || !object[key].is_array()) return;
        for (const Json &one : object[key]) act(one);
    };
    const auto any = [](const std::string &) { return true; };
    try {
        const Json json = parseJson(readTextFile(plan), plan.string());
        each(json, "steps", [&](const Json &step) { take(step, "picture", any); });
        each(json, "setups", [&](const Json &setup) {
            if (!setup.is_object() || !setup.contains("document")) return;
            each(setup["document"], "masks", [&](const Json &mask) { take(mask, "mask", isMaskFile); });
            each(setup["document"], "programs", [&](const Json &program) { take(program, "file", any); });
        });
    } catch (const Error &) {
        return {}; // it is told where the plan is worked down
    }
    std::ranges::sort(files);
    files.erase(std::unique(files.begin(), files.end()), files.end());
    return files;
}

} // namespace fulvex
