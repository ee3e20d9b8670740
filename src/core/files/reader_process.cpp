#include "reader_process.h"

#include "child_process.h"
#include "error.h"
#include "memory_budget.h"
#include "program_folders.h"

#include <cstdlib>
#include <fcntl.h>
#include <nlohmann/json.hpp>
#include <poll.h>
#include <sys/mman.h>
#include <sys/stat.h>
#include <unistd.h>

namespace fulvex {

namespace {

using Json = nlohmann::ordered_json;

constexpr std::size_t mostSaid = 64 << 20; ///< places of arrays in words, and signs of life

/// Everything that the child says until it ends; it has to show a sign of life every so often.
std::string listen(int from, const std::string &name, Progress &progress)
{
    constexpr int patience = 60000, glance = 50; // ms
    std::string said;
    int silent = 0;
    while (true) {
        progress.advance(0);
        pollfd waiting{from, POLLIN, 0};
        const int ready = ::poll(&waiting, 1, glance);
        if (ready == 0 && (silent += glance) > patience)
            throw Error(name, "takes too long to unpack", "it is damaged, or too large for its kind of compression");
        if (ready <= 0) continue;
        silent = 0;
        char block[65536];
        const ssize_t got = ::read(from, block, sizeof block);
        if (got <= 0) return said;
        said.append(block, std::size_t(got));
        if (said.size() > mostSaid)
            throw Error(name, "holds more arrays than can be told of", "save fewer of them in one file");
    }
}

/// What the child put on its shelf, in memory.
struct Shelf {
    std::span<const std::byte> bytes;
    ~Shelf()
    {
        if (!bytes.empty()) ::munmap(const_cast<std::byte *>(bytes.data()), bytes.size());
    }
};

std::shared_ptr<const Shelf> takeShelf(int id)
{
    auto shelf = std::make_shared<Shelf>();
    struct stat facts {};
    // Nobody can change it any more: not even what the child may have left running.
    if (::fcntl(id, F_ADD_SEALS, F_SEAL_SHRINK | F_SEAL_GROW | F_SEAL_WRITE | F_SEAL_SEAL) != 0) return shelf;
    if (::fstat(id, &facts) != 0 || facts.st_size == 0) return shelf;
    void *data = ::mmap(nullptr, std::size_t(facts.st_size), PROT_READ, MAP_PRIVATE, id, 0);
    if (data != MAP_FAILED) shelf->bytes = {static_cast<const std::byte *>(data), std::size_t(facts.st_size)};
    return shelf;
}

/// A column where the child says it is: nothing of that is believed before it is checked.
Waveform columnOf(const Json &place, const std::shared_ptr<const MappedFile> &file,
                  const std::shared_ptr<const Shelf> &shelf)
{
    Waveform column;
    column.name = place.at("name");
    column.unit = place.at("unit");
    column.type = sampleTypeOf(place.at("type").get<std::string>()).value();
    column.swapped = place.at("swapped");
    column.count = place.at("count");
    column.stride = place.at("stride");
    const bool shelved = place.at("shelved");
    const auto bytes = shelved ? shelf->bytes : file->bytes();
    const std::int64_t offset = place.at("offset"), size = std::int64_t(sampleSize(column.type));
    const auto all = std::int64_t(bytes.size());
    if (column.count < 1 || column.stride < 1 || offset < 0 || offset > all - size ||
        (column.count - 1) > (all - size - offset) / column.stride)
        throw std::out_of_range("a column lies outside the file");
    column.data = bytes.data() + offset;
    column.owner = shelf;
    if (!shelved) column.owner = column.mapping = file;
    return column;
}

std::vector<NamedArray> arraysOf(const std::string &said, const std::shared_ptr<const MappedFile> &file,
                                 const std::shared_ptr<const Shelf> &shelf)
{
    const std::string name = file->path().string();
    const std::size_t answerAt = said.find('{');
    std::vector<NamedArray> arrays;
    std::optional<Error> told;
    try {
        if (answerAt == std::string::npos) throw std::out_of_range("no answer");
        const Json answer = Json::parse(said.substr(answerAt));
        if (answer.contains("what")) {
            told = Error(answer.at("where"), answer.at("what"), answer.at("remedy"));
        } else {
            for (const Json &one : answer.at("arrays")) {
                NamedArray array;
                array.name = one.at("name");
                if (one.at("interval").is_number()) array.interval = one.at("interval").get<double>();
                if (one.at("start").is_number()) array.start = one.at("start").get<double>();
                for (const Json &fact : one.at("stated")) array.stated.push_back({fact.at(0), fact.at(1)});
                for (const Json &place : one.at("columns")) array.columns.push_back(columnOf(place, file, shelf));
                arrays.push_back(std::move(array));
            }
        }
    } catch (const std::exception &) { // it died, or was made to say nonsense
        throw Error(name, "is damaged: the library that reads its format failed on it",
                    "the file is truncated or damaged: save it again");
    }
    if (told) throw *told;
    return arrays;
}

} // namespace

std::vector<NamedArray> arraysByReader(const char *format, const std::shared_ptr<const MappedFile> &file,
                                       const ImportOptions &options, Progress &progress)
{
    constexpr double own = 512.0 * (1 << 20); // libraries, stacks, and room for them to work in
    const double size = double(file->bytes().size()), unpacked = MemoryBudget::allowed(file->bytes().size());
    int ends[2];
    if (::pipe2(ends, O_CLOEXEC) != 0) throw Error(file->path().string(), "no pipe can be opened");
    Descriptor output(ends[0]), input(ends[1]), shelf(::memfd_create("fulvex-arrays", MFD_CLOEXEC | MFD_ALLOW_SEALING));
    std::vector<std::string> words{(helperFolder() / "fulvex-reader").string(), format, file->path().string()};
    words.insert(words.end(), options.datasets.begin(), options.datasets.end());
    ChildProcess::How how{.words = words, .output = input.id(), .further = shelf.id()};
#if !defined(__SANITIZE_ADDRESS__) && !defined(__SANITIZE_THREAD__) // which lay out memory of their own
    how.memory = own + size + 2 * unpacked;                         // of the shelf as well
#endif
    ChildProcess child(how);
    input.close();
    progress.expect(1);
    const std::string said = listen(output.id(), file->path().string(), progress);
    progress.advance(1);
    child.end();
    if (!(identityOf(file->path()) == file->identity())) // the child opened what stood at the path
        throw Error(file->path().string(), "was replaced while it was read", "read it again");
    return arraysOf(said, file, takeShelf(shelf.id()));
}

} // namespace fulvex
