#include "npy_reader.h"
#include "read_file.h"

#include <cmath>
#include <cstring>

using namespace fulvex;

namespace {

std::string npy(const std::string &descr, const std::string &shape, bool fortran, const std::string &data,
                char version = 1)
{
    const std::string dictionary =
        "{'descr': '" + descr + "', 'fortran_order': " + (fortran ? "True" : "False") + ", 'shape': " + shape + ", }\n";
    std::string bytes("\x93NUMPY", 6);
    bytes += version;
    bytes += '\0';
    bytes += char(dictionary.size());
    bytes += std::string(version == 1 ? 1 : 3, '\0');
    return bytes + dictionary + data;
}

template <typename T>
std::string packed(std::vector<double> values, bool swap)
{
    std::string bytes;
    for (const double value : values) {
        const T sample = T(value);
        std::string one(sizeof(T), '\0');
        std::memcpy(one.data(), &sample, sizeof(T));
        if (swap) std::reverse(one.begin(), one.end());
        bytes += one;
    }
    return bytes;
}

template <typename T>
class NpyOf : public testing::Test {
};

template <typename T>
struct Code;
template <>
struct Code<std::int8_t> {
    static constexpr const char *text = "i1";
};
template <>
struct Code<std::uint8_t> {
    static constexpr const char *text = "u1";
};
template <>
struct Code<std::int16_t> {
    static constexpr const char *text = "i2";
};
template <>
struct Code<std::uint16_t> {
    static constexpr const char *text = "u2";
};
template <>
struct Code<std::int32_t> {
    static constexpr const char *text = "i4";
};
template <>
struct Code<std::uint32_t> {
    static constexpr const char *text = "u4";
};
template <>
struct Code<std::int64_t> {
    static constexpr const char *text = "i8";
};
template <>
struct Code<std::uint64_t> {
    static constexpr const char *text = "u8";
};
template <>
struct Code<float> {
    static constexpr const char *text = "f4";
};
template <>
struct Code<double> {
    static constexpr const char *text = "f8";
};
using Types = testing::Types<std::int8_t, std::uint8_t, std::int16_t, std::uint16_t, std::int32_t, std::uint32_t,
                             std::int64_t, std::uint64_t, float, double>;
TYPED_TEST_SUITE(NpyOf, Types);

} // namespace

TYPED_TEST(NpyOf, BothByteOrdersAndLayouts)
{
    for (const bool big : {false, true}) {
        const std::string descr = std::string(1, big ? '>' : '<') + Code<TypeParam>::text;
        const Capture flat =
            test::readBytes("a.npy", npy(descr, "(6,)", false, packed<TypeParam>({1, 2, 3, 4, 5, 100}, big)));
        EXPECT_THAT(test::samplesOf(flat, 0), testing::ElementsAre(1, 2, 3, 4, 5, 100));
        const Capture rows =
            test::readBytes("a.npy", npy(descr, "(3, 2)", false, packed<TypeParam>({1, 2, 3, 4, 5, 6}, big)));
        EXPECT_THAT(test::samplesOf(rows, 1), testing::ElementsAre(2, 4, 6));
        const Capture columns =
            test::readBytes("a.npy", npy(descr, "(3, 2)", true, packed<TypeParam>({1, 2, 3, 4, 5, 6}, big)));
        EXPECT_THAT(test::samplesOf(columns, 1), testing::ElementsAre(4, 5, 6));
        const Capture wide =
            test::readBytes("a.npy", npy(descr, "(2, 3)", false, packed<TypeParam>({1, 2, 3, 4, 5, 6}, big)));
        EXPECT_THAT(test::samplesOf(wide, 1), testing::ElementsAre(4, 5, 6));
        EXPECT_EQ(wide.columns.size(), 2u);
    }
}

TEST(Npy, HalfPrecisionAndVersionTwo)
{
    const std::string data("\x00\x3c\x00\xc0\x01\x00\x00\x7c", 8); // 1, -2, the smallest, infinity
    const Capture capture = test::readBytes("a.npy", npy("<f2", "(4,)", false, data, 2));
    const std::vector<double> values = test::samplesOf(capture, 0);
    EXPECT_EQ(values[0], 1);
    EXPECT_EQ(values[1], -2);
    EXPECT_EQ(values[2], std::ldexp(1, -24));
    EXPECT_TRUE(std::isnan(values[3]));
}

TEST(Npy, StaysMapped)
{
    const Capture capture = test::readBytes("a.npy", npy("<i2", "(3,)", false, packed<std::int16_t>({7, 8, 9}, false)));
    EXPECT_NE(capture.columns[0].mapping, nullptr);
    EXPECT_FALSE(capture.intervalKnown);
}

TEST(Npy, BrokenFilesSayWhatAndHow)
{
    const std::string good = npy("<i2", "(1000, 2)", false, std::string(4000, 'x'));
    EXPECT_EQ(test::errorReading("a.npy", good.substr(0, good.size() - 7)),
              "a.npy: should hold 1000 x 2 samples of 2 bytes, but only 3993 bytes follow the header; the file is "
              "truncated: copy or export it again");
    EXPECT_EQ(test::errorReading("a.npy", good.substr(0, 40)),
              "a.npy: byte 8: the header should be 63 bytes long, the file has 30 left; "
              "the file is truncated: copy or export it again");
    EXPECT_EQ(test::errorReading("a.npy", npy("<c2", "(2,)", false, std::string(16, 'x'))),
              "a.npy: byte 10: holds elements of type '<c2'; save it as integers or floats of up to 8 bytes, or "
              "complex numbers of them");
    EXPECT_THAT(test::errorReading("a.npy", npy("<i2", "(1, 1, 1, 1, 1, 1, 1, 1, 2)", false, std::string(4, 'x'))),
                testing::HasSubstr("has 9 dimensions"));
    EXPECT_THAT(test::errorReading("a.npy", npy("<i2", "(0,)", false, "")), testing::HasSubstr("holds no samples"));
    EXPECT_THAT(test::errorReading("a.npy", npy("<i2", "(99999999999999999999,)", false, "")),
                testing::HasSubstr("shape cannot be read"));
    EXPECT_THAT(test::errorReading("a.npy", npy("<i2", "(9223372036854775807, 2)", false, "xx")),
                testing::HasSubstr("truncated"));
    EXPECT_THAT(test::errorReading("a.npy", std::string("\x93NUMPY\x01", 7)),
                testing::HasSubstr("ends within the array's header"));
    EXPECT_THAT(test::errorReading("a.npy", ""), testing::HasSubstr("is empty (0 bytes)"));
    EXPECT_THAT(test::errorReading("a.npy", std::string("\x01\x02\x03", 3)),
                testing::HasSubstr("not of a format that is read (npy, npz, wav"));
}
