#include "engine.h"
#include "npy_header.h"
#include "signals.h"
#include "temporary_folder.h"
#include "two_columns.h"

#include <gtest/gtest.h>

using namespace fulvex;

namespace {

/// Unit of a row that measures a formula over a and b; b is in A where that is stated.
std::string unitOf(const std::vector<std::pair<std::string, std::string>> &formulas, bool stated)
{
    Document document = test::twoColumns(1e-9);
    if (stated) document.channels[1].unit = "A";
    for (const auto &[id, formula] : formulas) {
        ChannelEntry channel;
        channel.id = id;
        channel.formula = formula;
        document.channels.push_back(channel);
    }
    MeasurementEntry row;
    row.id = "m";
    row.quantity = "mean";
    row.source = formulas.back().first;
    document.measurements.push_back(row);
    const test::TemporaryFolder folder;
    folder.write("a.npy", npyHeader("<f8", 3, 2) + test::bytesOf({1, 2, 3, 4, 5, 6}));
    Engine engine(FULVEX_SHIPPED_MASKS);
    Progress progress;
    const Row found = engine.evaluate(document, folder.path(), {}, progress).rows.at(0);
    return found.reason.empty() ? found.unit : found.reason;
}

} // namespace

/// A unit that nobody stated is V until something beside it has one, however many formulas lie between.
TEST(FormulaChannels, TakeUnitsThatSomebodyStated)
{
    EXPECT_EQ(unitOf({{"d", "a - b"}}, false), "V");
    EXPECT_EQ(unitOf({{"d", "a / b"}}, false), "");
    EXPECT_EQ(unitOf({{"d", "a * b"}}, false), "V²");
    EXPECT_EQ(unitOf({{"d", "a * b"}}, true), "W");
    EXPECT_EQ(unitOf({{"d", "a + b"}}, true), "A");
    EXPECT_EQ(unitOf({{"d", "2 * a"}, {"e", "d - abs(a)"}, {"f", "e + b"}}, true), "A");
    EXPECT_EQ(unitOf({{"d", "derivative(a)"}, {"e", "d * 1 ns + b"}}, true), "A");
}

TEST(FormulaChannels, OfUnitsThatDoNotFitSayWhere)
{
    const std::string reason = unitOf({{"d", "b + 3 mV"}}, true);
    EXPECT_NE(reason.find("channel \"d\": character 3"), std::string::npos) << reason;
    EXPECT_NE(reason.find("A and V do not fit together in \"+\""), std::string::npos) << reason;
}
