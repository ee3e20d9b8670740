// fulvex-reader FORMAT FILE [DATASET…]: unpacks the arrays of a file for ReaderProcess, which starts it. Samples that
// do not lie in the file as they are go to file descriptor 3, one array behind the other; standard output tells where
// each is, as JSON, after lines of progress. Not for people.

#include "error.h"
#include "hdf5_reader.h"
#include "mat_reader.h"

#include <cstdio>
#include <nlohmann/json.hpp>
#include <unistd.h>

using namespace fulvex;

namespace {

using Json = nlohmann::ordered_json;

/// Writes arrays to descriptor 3 and keeps account of where they are.
class Shelf {
public:
    explicit Shelf(const MappedFile &file) : m_file(file) {}
    void put(const NamedArray &array)
    {
        Json columns = Json::array();
        for (const Waveform &column : array.columns) columns.push_back(placeOf(column));
        Json stated = Json::array();
        for (const StatedFact &fact : array.stated) stated.push_back({fact.what, fact.value});
        m_arrays.push_back({{"name", array.name},
                            {"stated", stated},
                            {"interval", array.interval ? Json(*array.interval) : Json()},
                            {"start", array.start ? Json(*array.start) : Json()},
                            {"columns", columns}});
    }
    Json take() { return std::move(m_arrays); }

private:
    Json placeOf(const Waveform &column)
    {
        Json place{{"name", column.name},       {"unit", column.unit},     {"type", sampleTypeName(column.type)},
                   {"swapped", column.swapped}, {"stride", column.stride}, {"count", column.count},
                   {"shelved", !column.mapping}};
        if (column.mapping) {
            place["offset"] = column.data - m_file.bytes().data();
            return place;
        }
        // Column by column, whatever the array's order was.
        const std::size_t size = sampleSize(column.type);
        std::vector<std::byte> packed(std::size_t(column.count) * size);
        for (std::int64_t i = 0; i < column.count; ++i)
            std::copy_n(column.data + i * column.stride, size, packed.data() + std::size_t(i) * size);
        for (std::size_t done = 0; done < packed.size();) {
            const ssize_t wrote = ::write(3, packed.data() + done, packed.size() - done);
            if (wrote <= 0) throw Error("", "there is no memory left to unpack it");
            done += std::size_t(wrote);
        }
        place["stride"] = size;
        place["offset"] = m_written;
        m_written += packed.size();
        return place;
    }
    const MappedFile &m_file;
    Json m_arrays = Json::array();
    std::size_t m_written = 0;
};

} // namespace

int main(int argc, char **argv)
{
    if (argc < 3) return 64;
    Json answer;
    try {
        const std::string format = argv[1];
        const auto file = MappedFile::open(argv[2]);
        const std::vector<std::string> datasets(argv + 3, argv + argc);
        Shelf shelf(*file);
        const auto put = [&](const NamedArray &array) {
            shelf.put(array);
            std::printf(".\n");
            std::fflush(stdout);
        };
        format == "mat" ? unpackMat(file, datasets, put) : unpackHdf5(file, datasets, put);
        answer = {{"arrays", shelf.take()}};
    } catch (const Error &error) {
        answer = {{"where", error.where()}, {"what", error.found()}, {"remedy", error.remedy()}};
    } catch (const std::exception &) {
        answer = {{"where", argv[2]}, {"what", "takes more memory than such a file may"}, {"remedy", "save it again"}};
    }
    std::printf("%s\n", answer.dump(-1, ' ', false, Json::error_handler_t::replace).c_str());
    std::fflush(stdout);
    ::_exit(0); // whatever a damaged file did to the libraries' own keeping
}
