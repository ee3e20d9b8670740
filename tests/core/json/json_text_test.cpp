#include "error.h"
#include "json_text.h"

#include <gmock/gmock.h>
#include <nlohmann/json.hpp>

using namespace fulvex;
using testing::HasSubstr;

namespace {

std::string said(const std::string &text)
{
    try {
        parseJson(text, "f");
        return "taken";
    } catch (const Error &error) {
        return error.what();
    }
}

std::string nested(int depth, const char *open, const char *close)
{
    std::string text;
    for (int i = 0; i < depth; ++i) text += open;
    text += "1";
    for (int i = 0; i < depth; ++i) text += close;
    return text;
}

} // namespace

TEST(JsonText, IsAsDeepAsAnythingOfOursAndNotDeeper)
{
    EXPECT_EQ(said(nested(deepestJson, "[", "]")), "taken");
    EXPECT_THAT(said(nested(deepestJson + 2, "[", "]")), HasSubstr("levels deep"));
    EXPECT_THAT(said(nested(1'000'000, "[", "]")), HasSubstr("levels deep")); // not a stack overflow
    EXPECT_THAT(said(nested(1'000'000, "{\"a\":", "}")), HasSubstr("levels deep"));
}

TEST(JsonText, AnObjectOfAMillionMembersIsRefusedBeforeTheyAreSearched)
{
    std::string text = "{";
    for (int i = 0; i < 1'000'000; ++i) text += (i ? ",\"k" : "\"k") + std::to_string(i) + "\":1";
    EXPECT_THAT(said(text + "}"), HasSubstr("more than 10000 members"));
    EXPECT_EQ(said("[{\"a\":1},{\"a\":1},{\"b\":{\"a\":2}}]"), "taken");
}

TEST(JsonText, FaultsSayTheLineAndNamesThatAreNoUtf8AreWritten)
{
    EXPECT_THAT(said("{\n\"a\": 1,\n}"), HasSubstr("f: line 3: is not valid JSON"));
    EXPECT_THAT(said("1e999"), HasSubstr("too large"));
    EXPECT_THAT(said("\"\xFF\""), HasSubstr("is not valid JSON"));
    EXPECT_EQ(jsonText(nlohmann::ordered_json{{"a", "x\xFF"}}, -1), "{\"a\":\"x\xEF\xBF\xBD\"}");
}
