#include "run_course.h"

#include <gtest/gtest.h>

namespace fulvex {
namespace {

TEST(RunCourse, EndsWhereItWouldInOrder)
{
    Document document;
    document.budgets.resize(1);
    Results plain;
    plain.document = std::make_shared<const Document>(document);
    const auto counted = [](Results results, const char *name) {
        results.counted = {{name, name, {}}};
        return results;
    };
    // Of seven the third and the fifth fail; they come last first.
    for (const int stopAt : {1, 2, 3}) {
        RunCourse course(stopAt);
        for (int place = 6; place >= 0; --place) {
            Results one = counted(plain, std::to_string(place).c_str());
            BudgetResult budget;
            budget.verdict = place == 2 || place == 4 ? Verdict::fail : Verdict::pass;
            one.budgets.push_back(budget);
            course.add(std::size_t(place), std::move(one));
        }
        EXPECT_EQ(course.ended(), stopAt < 3);
        EXPECT_EQ(course.results().counted.size(), stopAt == 1 ? 3u : stopAt == 2 ? 5u : 7u);
    }
}

} // namespace
} // namespace fulvex
