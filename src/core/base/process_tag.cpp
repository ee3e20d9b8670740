#include "process_tag.h"

#include <fstream>
#include <optional>
#include <unistd.h>
#include <utility>

namespace fulvex {

namespace {

std::string thisBoot()
{
    std::string id;
    std::ifstream("/proc/sys/kernel/random/boot_id") >> id;
    return id.empty() ? "0" : id.substr(0, 8);
}

/// When a process began, in the kernel's ticks since the boot (proc(5), field 22 of stat); empty: it runs no more.
std::string beginOf(std::string_view process)
{
    std::ifstream file("/proc/" + std::string(process) + "/stat");
    std::string line;
    std::getline(file, line);
    const std::size_t name = line.rfind(')'); // which may hold anything
    if (name == std::string::npos) return {};
    std::size_t at = name;
    for (int field = 3; field <= 22 && at != std::string::npos; ++field) at = line.find(' ', at + 1);
    if (at == std::string::npos) return {};
    return line.substr(at + 1, line.find(' ', at + 1) - at - 1);
}

struct Tag {
    std::string_view boot, process, begin;
};

std::optional<Tag> parse(std::string_view text)
{
    const std::size_t second = text.rfind('-');
    if (second == text.npos || second == 0) return {};
    const std::size_t first = text.rfind('-', second - 1);
    if (first == text.npos || first == 0) return {};
    const Tag tag{text.substr(0, first), text.substr(first + 1, second - first - 1), text.substr(second + 1)};
    const auto digits = [](std::string_view part) {
        return !part.empty() && part.find_first_not_of("0123456789") == part.npos;
    };
    if (!digits(tag.process) || !digits(tag.begin)) return {};
    return tag;
}

} // namespace

std::string processTag()
{
    static const std::string boot = thisBoot();
    static thread_local std::pair<pid_t, std::string> own; // a fork is another process
    if (const pid_t id = ::getpid(); own.first != id)
        own = {id, boot + "-" + std::to_string(id) + "-" + beginOf(std::to_string(id))};
    return own.second;
}

bool isOverHere(std::string_view text)
{
    const auto tag = parse(text);
    return tag && (tag->boot != thisBoot() || beginOf(tag->process) != tag->begin);
}

bool isOver(std::string_view text)
{
    const auto tag = parse(text);
    return tag && tag->boot == thisBoot() && beginOf(tag->process) != tag->begin;
}

} // namespace fulvex
