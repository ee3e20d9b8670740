#include "program_consent.h"

#include "atomic_file.h"
#include "error.h"
#include "user_folders.h"

namespace fulvex {

namespace fs = std::filesystem;

static fs::path fileOf(const std::string &sha256)
{
    if (sha256.size() != 64 || sha256.find_first_not_of("0123456789abcdef") != std::string::npos)
        throw Error("\"" + sha256.substr(0, 100) + "\"", "is no SHA-256", "give 64 hexadecimal digits");
    return configFolder("allowed-programs") / sha256;
}

bool isProgramAllowed(const std::string &sha256)
{
    try {
        std::error_code failure;
        return fs::is_regular_file(fileOf(sha256), failure) && !failure;
    } catch (const Error &) { // no folder, no consent
        return false;
    }
}

void allowProgram(const std::string &sha256)
{
    writeFileAtomically(fileOf(sha256), "");
}

void forbidProgram(const std::string &sha256)
{
    std::error_code failure;
    fs::remove(fileOf(sha256), failure);
    if (failure) throw Error(fileOf(sha256).string(), "cannot be removed: " + failure.message());
}

} // namespace fulvex
