#include "evaluator.h"
#include "signals.h"
#include "temporary_folder.h"
#include "wait_for.h"

#include <gtest/gtest.h>
#include <set>

using namespace fulvex;

namespace {

Document documentOf(const test::TemporaryFolder &folder, std::int64_t unitIntervals)
{
    test::DataSpec spec;
    spec.unitIntervals = unitIntervals;
    folder.write("r.raw", test::bytesOf(test::makeData(spec).volts));
    Document document;
    CaptureEntry capture{"r", "r.raw", "", {}};
    capture.import.format = "raw";
    capture.import.sampleType = SampleType::f64;
    capture.import.sampleInterval = 1e-10;
    document.captures.push_back(capture);
    document.channels.push_back({.id = "a", .capture = "r"});
    document.measurements.push_back({.id = "rise", .quantity = "rise_time", .source = "a"});
    return document;
}

struct Heard {
    explicit Heard(Evaluator &evaluator)
    {
        QObject::connect(&evaluator, &Evaluator::finished,
                         [this](std::shared_ptr<const Results> results, EvaluationTicket ticket, bool complete) {
                             EXPECT_FALSE(ended(ticket)) << "told after its end";
                             EXPECT_FALSE(!finished.empty() && finished.back().first == ticket) << "told twice";
                             if (!complete) early.emplace_back(ticket, results);
                             if (complete) finished.emplace_back(ticket, results);
                         });
        QObject::connect(&evaluator, &Evaluator::ended, [this](EvaluationTicket ticket) { ends.push_back(ticket); });
        QObject::connect(&evaluator, &Evaluator::failed, [this](const QString &what, EvaluationTicket ticket) {
            EXPECT_FALSE(ended(ticket));
            failures << what;
        });
    }
    bool ended(EvaluationTicket ticket) const { return std::find(ends.begin(), ends.end(), ticket) != ends.end(); }
    std::vector<std::pair<EvaluationTicket, std::shared_ptr<const Results>>> finished;
    decltype(finished) early; ///< told before the end
    std::vector<EvaluationTicket> ends;
    QStringList failures;
};

} // namespace

TEST(Evaluator, TellsResultsWithTheTicketOfTheirRequestAndThenItsEnd)
{
    const test::TemporaryFolder folder;
    const Document document = documentOf(folder, 500);
    Evaluator evaluator;
    Heard told(evaluator);
    for (std::uint64_t revision = 1; revision <= 5; ++revision) {
        Document scaled = document;
        scaled.channels[0].scale = double(revision);
        evaluator.request(scaled, folder.path(), {}, {7, revision});
        ASSERT_TRUE(test::waitFor([&] { return told.ended({7, revision}); }));
        ASSERT_EQ(told.finished.size(), revision);
        EXPECT_EQ(told.finished.back().first, (EvaluationTicket{7, revision}));
        EXPECT_EQ(*told.finished.back().second->document, scaled);
    }
    EXPECT_TRUE(told.failures.empty());
}

TEST(Evaluator, OfManyRequestsAtOnceTheLastIsAnswered)
{
    const test::TemporaryFolder folder;
    const Document document = documentOf(folder, 3000);
    Evaluator evaluator;
    Heard told(evaluator);
    for (std::uint64_t revision = 1; revision <= 200; ++revision) {
        Document scaled = document;
        scaled.channels[0].scale = double(revision);
        evaluator.request(scaled, folder.path(), {}, {1 + revision / 50, revision});
        if (revision % 20 == 0) QTest::qWait(3);
    }
    ASSERT_TRUE(test::waitFor([&] { return told.ended({5, 200}); }));
    ASSERT_FALSE(told.finished.empty());
    EXPECT_EQ(told.finished.back().first, (EvaluationTicket{5, 200}));
    EXPECT_EQ(told.finished.back().second->document->channels[0].scale, 200);
    for (const auto &[ticket, results] : told.finished)
        EXPECT_EQ(results->document->channels[0].scale, double(ticket.revision)); // never those of another
}

TEST(Evaluator, WhileSomethingIsDraggedEachRequestThatRunsGivesAFirstAnswer)
{
    const test::TemporaryFolder folder;
    Document document = documentOf(folder, 60000);
    Evaluator evaluator;
    Heard told(evaluator);
    evaluator.request(document, folder.path(), {"rise"}, {1, 1});
    ASSERT_TRUE(test::waitFor([&] { return told.ended({1, 1}); }));
    told.early.clear();
    std::set<std::uint64_t> answered; // revisions that had a first answer of their own while the drag went on
    std::uint64_t revision = 1;
    const auto drag = [&] {
        document.channels[0].scale = double(++revision);
        evaluator.request(document, folder.path(), {"rise"}, {1, revision});
        for (const auto &[ticket, results] : told.early) {
            EXPECT_EQ(results->document->channels[0].scale, double(ticket.revision));
            if (results->rows.at(0).share < 1) answered.insert(ticket.revision);
        }
        return answered.size() >= 4;
    };
    ASSERT_TRUE(test::waitFor(drag)); // asks again and again, as a drag does
    ASSERT_TRUE(test::waitFor([&] { return told.ended({1, revision}); }));
    EXPECT_EQ(told.finished.back().first, (EvaluationTicket{1, revision}));
    EXPECT_FALSE(told.finished.back().second->rows.at(0).pending);
}

TEST(Evaluator, ACancelAndAnEndAtAnyMomentLeaveNothingBehind)
{
    const test::TemporaryFolder folder;
    const Document document = documentOf(folder, 20000);
    for (int wait = 0; wait < 12; ++wait) {
        auto evaluator = std::make_unique<Evaluator>();
        Heard told(*evaluator);
        evaluator->request(document, folder.path(), {}, {1, 1});
        QTest::qWait(wait);
        evaluator->cancel();
        ASSERT_TRUE(test::waitFor([&] { return told.ended({1, 1}); }));
        evaluator->request(document, folder.path(), {}, {1, 2});
        QTest::qWait(wait);
        evaluator.reset(); // while it runs
    }
}

TEST(Evaluator, AFailureIsToldBeforeTheEnd)
{
    const test::TemporaryFolder folder;
    Document document = documentOf(folder, 500);
    document.measurements[0].quantity = "nothing_like_it";
    Evaluator evaluator;
    Heard told(evaluator);
    evaluator.request(document, folder.path(), {}, {1, 1});
    ASSERT_TRUE(test::waitFor([&] { return told.ended({1, 1}); }));
    ASSERT_EQ(told.failures.size(), 1);
    EXPECT_TRUE(told.failures[0].contains("nothing_like_it")) << told.failures[0].toStdString();
}
