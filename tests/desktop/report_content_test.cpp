// What a report says: its verdict and chapters, of plans and results made by hand.

#include "plan_json.h"
#include "report_content.h"
#include "temporary_folder.h"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

using namespace fulvex;
using testing::HasSubstr;

namespace {

using Mark = ReportContent::Mark;

TestOutcome outcome(const char *id, TestVerdict verdict, double value, double most)
{
    TestOutcome made;
    made.id = id;
    made.title = std::string("test ") + id;
    made.unit = "s";
    made.verdict = verdict;
    made.value = value;
    made.uncertainty = 1e-12;
    made.most = most;
    made.margin = marginOf(value, {{}, most}).share;
    return made;
}

/// A plan of two steps: the first with the outcomes given, the second open.
ReportedPlan planWith(std::vector<TestOutcome> tests)
{
    Plan plan;
    plan.id = "harbour";
    plan.title = "Harbour";
    plan.steps.resize(2);
    plan.steps[0].id = "first";
    plan.steps[0].title = "Cold";
    plan.steps[0].text = "At 15 degrees.";
    plan.steps[1].id = "second";
    plan.steps[1].title = "Warm";
    StepOutcome done, open;
    done.id = "first";
    done.state = StepOutcome::State::done;
    for (const TestOutcome &test : tests) {
        PlanTest its;
        its.id = test.id;
        its.clause = "4.2";
        plan.steps[0].tests.push_back(its);
    }
    done.tests = std::move(tests);
    open.id = "second";
    open.reason = "waits for warm";
    return {"harbour", std::make_shared<const Plan>(std::move(plan)), {done, open}, "abc", {}, {}};
}

struct Said {
    ReportContent content;
    std::string summary, chapters;
};

Said said(const ReportedPlan &plan, const ReportEntry &report = {})
{
    Document document;
    document.title = "Lights";
    document.report = report;
    document.plans = {{"harbour", "harbour.fulvexplan", {}, {}}};
    Results results;
    results.document = std::make_shared<const Document>(document);
    Progress progress;
    Said made{reportContent({results, {"sha", "now", {}, {}, {}}, {plan}, {}}, progress), {}, {}};
    made.summary = made.content.summary.toStdString();
    for (const ReportContent::Chapter &chapter : made.content.chapters)
        made.chapters += chapter.title.toStdString() + "; ";
    return made;
}

} // namespace

TEST(ReportContents, TheVerdictSaysWhatFailsWhatIsOpenAndWhatIsTightest)
{
    const auto pass = outcome("a", TestVerdict::pass, 3e-10, 4e-10),
               tight = outcome("b", TestVerdict::pass, 3.9e-10, 4e-10),
               fail = outcome("c", TestVerdict::fail, 5e-10, 4e-10);
    auto undecided = outcome("d", TestVerdict::undecidable, 4e-10, 4e-10);
    undecided.advice = "It lies on its limit: twice as many edges would decide it.";
    const Said all = said(planWith({pass, tight, fail, undecided}));
    EXPECT_EQ(all.content.verdict, Mark::fail);
    EXPECT_EQ(all.content.word, "Fails");
    EXPECT_THAT(all.summary, HasSubstr("1 of 4 fails: test c, 500 ± 1 ps, limit < 400 ps."));
    EXPECT_THAT(all.summary,
                HasSubstr("1 not decidable: test d (it lies on its limit: twice as many edges would decide it)."));
    EXPECT_THAT(all.summary, HasSubstr("2 pass, the tightest by 2.5 %: test b."));
    EXPECT_EQ(said(planWith({pass, undecided})).content.word, "Not decidable");
    EXPECT_EQ(said(planWith({pass, undecided})).content.verdict, Mark::undecided);
    EXPECT_EQ(said(planWith({pass, tight})).content.word, "Passes");
    EXPECT_THAT(said(planWith({pass, tight})).summary, HasSubstr("All 2 pass"));
    EXPECT_EQ(said(planWith({})).content.word, "No limits");
    auto open = outcome("e", TestVerdict::open, 0, 1);
    open.value.reset();
    EXPECT_EQ(said(planWith({pass, open})).content.word, "Open");
}

TEST(ReportContents, PartsAreInTheirOrderAndWhatIsLeftOutIsNotThere)
{
    const ReportedPlan plan = planWith({outcome("a", TestVerdict::pass, 1e-10, 4e-10)});
    const Said all = said(plan);
    EXPECT_THAT(all.chapters, HasSubstr("1 Cold; 2 Warm; "));
    ASSERT_EQ(all.content.glance.size(), 1u);
    ReportEntry without;
    without.without = {"harbour"};
    EXPECT_THAT(said(plan, without).chapters, testing::Not(HasSubstr("Cold")));
    EXPECT_TRUE(said(plan, without).content.glance.empty());
    ReportEntry some;
    some.parts = {"making", "captures"};
    EXPECT_THAT(said(plan, some).chapters, testing::Not(HasSubstr("Cold")));
    ReportedPlan broken{"harbour", nullptr, {}, {}, {}, "harbour.fulvexplan: No such file or directory"};
    const Said told = said(broken);
    EXPECT_THAT(told.chapters, HasSubstr("Plan harbour"));
    EXPECT_EQ(std::get<ReportContent::Paragraph>(told.content.chapters[0].blocks[0]).words,
              "harbour.fulvexplan: No such file or directory");
}

/// What plans came to stands in the results that a report holds, and is read from there.
TEST(ReportContents, HoldsWhatPlansCameTo)
{
    const Said all = said(planWith({outcome("a", TestVerdict::fail, 5e-10, 4e-10)}));
    EXPECT_THAT(all.content.resultsJson, HasSubstr("\"fulvex_plan_results\""));
    EXPECT_THAT(all.content.resultsJson, HasSubstr("\"sha256\": \"abc\""));
}

TEST(ReportContents, AStepShowsItsPictureWhereItCanBeRead)
{
    const test::TemporaryFolder folder;
    QImage picture(1200, 300, QImage::Format_RGB32);
    picture.fill(Qt::darkBlue);
    ASSERT_TRUE(picture.save(QString::fromStdString(folder / "bench.png")));
    folder.write("broken.png", "no picture");
    for (const auto &[name, figures] : {std::pair("bench.png", 1u), {"broken.png", 0u}, {"nowhere.png", 0u}}) {
        ReportedPlan plan = planWith({});
        Plan with = *plan.plan;
        with.steps[0].picture = name;
        plan.plan = std::make_shared<const Plan>(with);
        plan.folder = folder.path();
        const Said made = said(plan);
        EXPECT_EQ(made.content.figures(), figures) << name;
        if (figures == 0) continue;
        for (const ReportContent::Block &block : made.content.chapters[0].blocks)
            if (const auto *figure = std::get_if<ReportContent::Figure>(&block)) {
                EXPECT_EQ(figure->size, QSizeF(456, 114)); // scaled into the column
            }
    }
}
