#include "pyramid_store.h"
#include "temporary_folder.h"
#include "user_folders.h"

#include <cstdlib>
#include <gtest/gtest.h>

using namespace fulvex;

namespace {

struct PyramidStoreTest : testing::Test {
    PyramidStoreTest() { setenv("XDG_CACHE_HOME", folder.path().c_str(), 1); }
    Pyramid pyramid() const
    {
        std::vector<Extent> ground(PyramidStore::leastSamples / Pyramid::finest);
        for (std::size_t i = 0; i < ground.size(); ++i) ground[i] = {float(i % 7), float(i % 11 + 10)};
        RawVector<float> picks(ground.size() * Pyramid::picked);
        for (std::size_t i = 0; i < picks.size(); ++i) picks[i] = float(i % 13);
        return Pyramid::over(std::move(ground), std::move(picks));
    }
    test::TemporaryFolder folder;
};

} // namespace

TEST_F(PyramidStoreTest, GivesBackWhatItKept)
{
    EXPECT_FALSE(PyramidStore::find("key", PyramidStore::leastSamples));
    PyramidStore::keep("key", pyramid());
    const auto found = PyramidStore::find("key", PyramidStore::leastSamples);
    ASSERT_TRUE(found);
    EXPECT_EQ(found->ground(), pyramid().ground());
    EXPECT_EQ(found->whole(), pyramid().whole());
    EXPECT_EQ(found->picks(), pyramid().picks());
    EXPECT_FALSE(PyramidStore::find("another", PyramidStore::leastSamples));
    EXPECT_FALSE(PyramidStore::find("key", PyramidStore::leastSamples + 1000)); // of another length
}

TEST_F(PyramidStoreTest, PassesOverDamageAndFoldersThatCannotBeUsed)
{
    PyramidStore::keep("key", pyramid());
    const auto path = cacheFolder("pyramids") / "key";
    const std::string whole = test::readAll(path);
    std::ofstream(path, std::ios::binary) << whole.substr(0, whole.size() - 1);
    EXPECT_FALSE(PyramidStore::find("key", PyramidStore::leastSamples));
    std::string damaged;
    for (const std::size_t at :
         {std::size_t(0), std::size_t(10), std::size_t(20), whole.size() / 3, whole.size() - 1}) {
        damaged = whole;
        damaged[at] ^= 1;
        std::ofstream(path, std::ios::binary) << damaged;
        EXPECT_FALSE(PyramidStore::find("key", PyramidStore::leastSamples)) << at;
    }
    std::ofstream(path, std::ios::binary) << whole;
    EXPECT_TRUE(PyramidStore::find("key", PyramidStore::leastSamples));
    PyramidStore::keep("short", Pyramid::over({{0, 1}}, RawVector<float>(Pyramid::picked)));
    EXPECT_FALSE(std::filesystem::exists(cacheFolder("pyramids") / "short"));
    folder.write("file", "");
    setenv("XDG_CACHE_HOME", (folder / "file").c_str(), 1);
    PyramidStore::keep("key", pyramid());
    EXPECT_FALSE(PyramidStore::find("key", PyramidStore::leastSamples));
}
