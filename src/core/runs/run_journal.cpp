#include "run_journal.h"

#include "error.h"
#include "part_file.h"

#include <algorithm>
#include <set>

namespace fulvex {

namespace fs = std::filesystem;

RunJournal::RunJournal(fs::path folder) : m_folder(std::move(folder))
{
    std::error_code failure;
    fs::create_directories(m_folder, failure);
    if (failure) throw Error(m_folder.string(), "cannot be made: " + failure.message(), "give another folder");
}

fs::path RunJournal::fileOf(std::size_t number) const
{
    return m_folder / (std::to_string(number) + ".part");
}

std::vector<Results> RunJournal::load(const Document &document)
{
    struct Held {
        fs::path file;
        std::vector<CountedCapture> captures;
    };
    std::vector<Held> held;
    std::error_code failure;
    for (fs::directory_iterator one(m_folder, failure), end; !failure && one != end; one.increment(failure)) {
        if (one->path().extension() != ".part") continue;
        held.push_back({one->path(), capturesOfPart(one->path(), document)});
        std::size_t number = 0;
        for (const char digit : one->path().stem().string())
            number =
                digit >= '0' && digit <= '9' && number < 1'000'000'000 ? 10 * number + std::size_t(digit - '0') : 0;
        m_next = std::max(m_next, number + 1);
    }
    std::sort(held.begin(), held.end(), [](const Held &a, const Held &b) {
        return std::pair(b.captures.size(), a.file) < std::pair(a.captures.size(), b.file);
    });
    std::set<std::string> known;
    std::vector<Results> sums;
    m_files.clear();
    for (const Held &one : held) {
        const auto isKnown = [&](const CountedCapture &capture) { return known.contains(capture.name); };
        if (std::all_of(one.captures.begin(), one.captures.end(), isKnown)) {
            fs::remove(one.file, failure); // the program died between writing the sum and removing this
            continue;
        }
        if (std::any_of(one.captures.begin(), one.captures.end(), isKnown))
            throw Error(one.file.string(), "holds captures that another part beside it holds as well, and others",
                        "remove it, or begin anew in another folder");
        for (const CountedCapture &capture : one.captures) known.insert(capture.name);
        sums.push_back(readPart(one.file, document));
        m_files.push_back(one.file);
    }
    return sums;
}

void RunJournal::write(const Results &sum, std::size_t replaces)
{
    const fs::path file = fileOf(m_next++);
    writePart(file, sum);
    std::error_code failure; // what stays is found to be held by the sum
    for (; replaces > 0 && !m_files.empty(); --replaces) {
        fs::remove(m_files.back(), failure);
        m_files.pop_back();
    }
    m_files.push_back(file);
}

} // namespace fulvex
