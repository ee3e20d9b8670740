#pragma once

#include "capture_reader.h"
#include "error.h"
#include "temporary_folder.h"

#include <gtest/gtest.h>

namespace fulvex::test {

inline Capture readFile(const std::string &path, const ImportOptions &options = {})
{
    Progress progress;
    return readCapture(path, options, progress);
}

/// Where files of `readBytes` lie; captures are read from it as long as a test has them.
inline const TemporaryFolder &readFolder()
{
    static const TemporaryFolder folder;
    return folder;
}

/// What a file of this name and content is read as.
inline Capture readBytes(const std::string &name, const std::string &bytes, const ImportOptions &options = {})
{
    return readFile(readFolder().write(name, bytes), options);
}

/// What is said against such a file, from its name on, if that is told; "no error" where it is read.
inline std::string errorReading(const std::string &name, const std::string &bytes, const ImportOptions &options = {})
{
    try {
        readBytes(name, bytes, options);
    } catch (const Error &error) {
        EXPECT_FALSE(error.remedy().empty()) << error.what();
        const std::string said = error.what();
        return said.find(name) == said.npos ? said : said.substr(said.find(name));
    }
    return "no error";
}

inline std::vector<double> samplesOf(const Capture &capture, std::size_t column)
{
    std::vector<double> samples(std::size_t(capture.axis.count));
    capture.columns.at(column).read(0, samples);
    return samples;
}

} // namespace fulvex::test
