#include "pyramid_store.h"

#include "atomic_file.h"
#include "error.h"
#include "mapped_file.h"
#include "user_folders.h"

#include <cstring>
#include <functional>
#include <string_view>

namespace fulvex {

namespace {

constexpr char magic[8] = {'F', 'V', 'X', 'P', 'Y', 'R', '0', '4'};

/// What tells damage. Files are read where they were written: on other machines and libraries they are made anew.
std::size_t digestOf(std::string_view bytes)
{
    return std::hash<std::string_view>()(bytes);
}

template <typename Values>
std::string_view bytesOf(const Values &values)
{
    return {reinterpret_cast<const char *>(values.data()), values.size() * sizeof(values[0])};
}

struct Head {
    char is[sizeof magic];
    std::size_t ground, picks; ///< their digests
};

std::filesystem::path placeOf(const std::string &key)
{
    return cacheFolder("pyramids") / key;
}

} // namespace

std::optional<Pyramid> PyramidStore::find(const std::string &key, std::int64_t samples)
{
    if (samples < leastSamples) return {};
    try {
        const auto path = placeOf(key);
        std::error_code missing;
        if (!std::filesystem::exists(path, missing)) return {};
        const auto file = MappedFile::open(path);
        const auto bytes = file->bytes();
        std::vector<Extent> ground(std::size_t((samples + Pyramid::finest - 1) / Pyramid::finest));
        RawVector<float> picks(ground.size() * Pyramid::picked);
        Head head;
        if (bytes.size() != sizeof head + bytesOf(ground).size() + bytesOf(picks).size()) return {};
        std::memcpy(&head, bytes.data(), sizeof head);
        std::memcpy(ground.data(), bytes.data() + sizeof head, bytesOf(ground).size());
        std::memcpy(picks.data(), bytes.data() + sizeof head + bytesOf(ground).size(), bytesOf(picks).size());
        if (!file->disturbance().empty() || std::memcmp(head.is, magic, sizeof magic) != 0 ||
            head.ground != digestOf(bytesOf(ground)) || head.picks != digestOf(bytesOf(picks)))
            return {};
        touchCached(path);
        return Pyramid::over(std::move(ground), std::move(picks));
    } catch (const Error &) {
        return {};
    }
}

void PyramidStore::keep(const std::string &key, const Pyramid &pyramid)
{
    if (std::int64_t(pyramid.blocks()) * Pyramid::finest < leastSamples || pyramid.isSketch()) return;
    try {
        const auto ground = pyramid.ground();
        const auto picks = pyramid.picks();
        Head head{{}, digestOf(bytesOf(ground)), digestOf(bytesOf(picks))};
        std::memcpy(head.is, magic, sizeof magic);
        AtomicFile file(placeOf(key), AtomicFile::Kept::cached);
        file.write(std::string_view(reinterpret_cast<const char *>(&head), sizeof head));
        file.write(bytesOf(ground));
        file.write(bytesOf(picks));
        file.commit();
        trimCache(cacheFolder("pyramids"), cacheShare(0.2));
    } catch (const Error &) {
        // it is built again the next time
    }
}

} // namespace fulvex
