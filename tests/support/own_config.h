#pragma once

#include "temporary_folder.h"

#include <cstdlib>
#include <string>

namespace fulvex::test {

/// A configuration folder of the test's own, in which nothing is allowed yet.
class OwnConfig {
public:
    OwnConfig()
    {
        if (const char *before = std::getenv("XDG_CONFIG_HOME")) m_before = before;
        ::setenv("XDG_CONFIG_HOME", m_folder.path().c_str(), 1);
    }
    ~OwnConfig()
    {
        m_before.empty() ? ::unsetenv("XDG_CONFIG_HOME") : ::setenv("XDG_CONFIG_HOME", m_before.c_str(), 1);
    }
    OwnConfig(const OwnConfig &) = delete;
    OwnConfig &operator=(const OwnConfig &) = delete;

private:
    TemporaryFolder m_folder;
    std::string m_before;
};

} // namespace fulvex::test
