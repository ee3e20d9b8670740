#pragma once

#include "temporary_folder.h"

#include <cstdlib>
#include <string>
#include <sys/wait.h>

namespace fulvex::test {

struct Outcome {
    int status; ///< of the exit; 124 when it did not end within a minute
    std::string out, err;
};

/// Runs the command-line program in a folder, with a cache of its own there.
inline Outcome runBatch(const TemporaryFolder &folder, const std::string &arguments)
{
    const std::string out = folder / "stdout", err = folder / "stderr";
    const int status = std::system(("cd '" + folder.path().string() + "' && XDG_CACHE_HOME=cache timeout 60 '" +
                                    FULVEX_BATCH + "' " + arguments + " > '" + out + "' 2> '" + err + "'")
                                       .c_str());
    return {WEXITSTATUS(status), readAll(out), readAll(err)};
}

} // namespace fulvex::test
