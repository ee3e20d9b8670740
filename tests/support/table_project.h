#pragma once

#include "engine.h"
#include "temporary_folder.h"

#include <cmath>
#include <string>
#include <vector>

namespace fulvex::test {

/// A project over one text table of one column, in a folder of its own.
class TableProject {
public:
    explicit TableProject(const std::vector<double> &volts, double interval = 1e-10) : m_engine(FULVEX_SHIPPED_MASKS)
    {
        std::string table = "v\n";
        for (const double v : volts) table += std::isnan(v) ? "nan,\n" : std::to_string(v) + ",\n";
        m_folder.write("a.csv", table);
        document.captures.push_back({"r", "a.csv", {}, {}});
        document.captures[0].import.sampleInterval = interval;
        document.channels.push_back({.id = "a", .capture = "r"});
    }
    void measure(const std::string &quantity, const std::string &source, const std::string &clock = {},
                 const std::string &eye = {})
    {
        document.measurements.push_back(
            {.id = quantity, .quantity = quantity, .source = source, .clock = clock, .eye = eye});
    }
    Results evaluate(Engine::Options options = {})
    {
        validate(document);
        Progress progress;
        return m_engine.evaluate(document, m_folder.path(), options, progress);
    }
    const Engine &engine() const { return m_engine; }
    Document document;

private:
    TemporaryFolder m_folder;
    Engine m_engine;
};

} // namespace fulvex::test
