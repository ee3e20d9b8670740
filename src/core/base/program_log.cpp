#include "program_log.h"

#include "user_folders.h"

#include <atomic>
#include <cstdlib>
#include <memory>
#include <spdlog/sinks/rotating_file_sink.h>
#include <spdlog/spdlog.h>

namespace fulvex {

namespace {

std::atomic<LogLevel> wantedLevel = LogLevel::off;

std::shared_ptr<spdlog::logger> &logger()
{
    static auto *const one = new std::shared_ptr<spdlog::logger>; // for good: threads may log while the program ends
    return *one;
}

spdlog::level::level_enum levelOf(LogLevel level)
{
    switch (level) {
    case LogLevel::error:
        return spdlog::level::err;
    case LogLevel::warning:
        return spdlog::level::warn;
    case LogLevel::info:
        return spdlog::level::info;
    case LogLevel::debug:
        return spdlog::level::debug;
    case LogLevel::off:
        break;
    }
    return spdlog::level::off;
}

} // namespace

std::optional<LogLevel> logLevelOf(std::string_view name)
{
    if (name == "off") return LogLevel::off;
    if (name == "error") return LogLevel::error;
    if (name == "warning") return LogLevel::warning;
    if (name == "info") return LogLevel::info;
    if (name == "debug") return LogLevel::debug;
    return {};
}

void startLog(const std::string &program, LogLevel level)
{
    wantedLevel = LogLevel::off;
    if (level == LogLevel::off) return;
    try {
        constexpr std::size_t size = 1 << 20, files = 2; // beside the one that is written
        const auto path = stateFolder() / (program + ".log");
        logger() = std::make_shared<spdlog::logger>(
            program, std::make_shared<spdlog::sinks::rotating_file_sink_mt>(path.string(), size, files));
        logger()->set_level(levelOf(level));
        logger()->set_pattern("%Y-%m-%dT%H:%M:%S.%e%z %l %t %v");
        logger()->flush_on(spdlog::level::trace); // the last line before a fault is the one that is wanted
        logger()->set_error_handler([](const std::string &) {}); // a full disk is told by what matters
        wantedLevel = level;
    } catch (const std::exception &) {
        logger().reset();
    }
}

bool isLogged(LogLevel level)
{
    return level != LogLevel::off && level <= wantedLevel.load(std::memory_order_acquire);
}

void logLine(LogLevel level, const std::string &text)
{
    if (isLogged(level)) logger()->log(levelOf(level), spdlog::string_view_t(text));
}

std::string withoutNames(const std::string &message)
{
    std::string kept;
    bool quoted = false, path = false;
    for (const char c : message) {
        if (c == '"') {
            if (!quoted) kept += "\"…\"";
            quoted = !quoted;
            continue;
        }
        if (quoted) continue;
        if (c == '/' && !path) { // with what stands before it up to a blank
            kept.erase(kept.find_last_of(' ') + 1);
            kept += "…";
            path = true;
        }
        if (path && c == ' ') path = false;
        if (!path) kept += c;
    }
    return kept;
}

} // namespace fulvex
