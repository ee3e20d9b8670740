// Somebody who does everything at the wrong moment: random actions while evaluations, saves and exports are under way.
// FULVEX_STRESS=SEEDS[,STEPS[,FIRST]] runs longer.

#include "document_json.h"
#include "oracle.h"
#include "project_file.h"
#include "signals.h"
#include "wait_for.h"
#include "workbench.h"

#include <cstdio>
#include <gtest/gtest.h>
#include <random>

using namespace fulvex;
namespace fs = std::filesystem;

namespace {

std::string q(const QString &text)
{
    return text.toStdString();
}

std::string capture(std::uint64_t seed)
{
    test::DataSpec spec;
    spec.samplesPerUi = 9.7;
    spec.unitIntervals = 700 + std::int64_t(seed % 5) * 900;
    spec.noise = 0.004;
    spec.randomJitter = 0.01;
    spec.seed = seed;
    return test::bytesOf(test::makeData(spec).volts);
}

std::string projectText(const std::string &title)
{
    return R"({"fulvex": 1, "title": ")" + title + R"(",
        "captures": [{"id": "r", "file": "r.raw", "import": {"format": "raw", "sample_type": "f64", "sample_interval": 1e-10}},
                     {"id": "s", "file": "s.raw", "import": {"format": "raw", "sample_type": "f64", "sample_interval": 1e-10}}],
        "channels": [{"id": "a", "capture": "r"}, {"id": "b", "capture": "s"}, {"id": "f", "formula": "2*a - 0.1"}],
        "clocks": [{"id": "k", "source": "a"}, {"id": "loop", "source": "f", "method": "pll", "bandwidth": 5e6}],
        "eyes": [{"id": "e", "source": "a", "clock": "k"}, {"id": "e2", "source": "f", "clock": "loop"},
                 {"id": "pulses", "source": "f", "each": "rising"},
                 {"id": "repeats", "source": "a", "clock": "k", "each": "pattern", "pattern": 7}],
        "masks": [{"id": "m", "eye": "e2", "mask": "brackwater-camera-link"}],
        "measurements": [{"id": "most", "quantity": "maximum", "source": "a"}, {"id": "rise", "quantity": "rise_time", "source": "b"},
                         {"id": "tie", "quantity": "time_interval_error", "clock": "loop"},
                         {"id": "height", "quantity": "eye_height", "eye": "e"},
                         {"id": "total", "quantity": "total_jitter", "clock": "k"}],
        "budgets": [{"id": "jitter", "clock": "loop"}],
        "phase_noise": [{"id": "noise", "source": "a"}],
        "sheets": [{"id": "one", "title": "S", "tiles": [{"id": "t1", "kind": "traces", "of": ["a"], "row": 0, "column": 0}]}]})";
}

class Meddler {
public:
    explicit Meddler(std::uint64_t seed) : m_seed(seed), m_random(seed), m_bench(std::make_unique<Workbench>())
    {
        for (const char *project : {"p", "q"}) {
            fs::create_directory(m_folder.path() / project);
            for (const char *file : {"r.raw", "s.raw"})
                m_oracle.write(captureFile(project, file), capture(++m_version), false);
            m_folder.write(std::string(project) + "/p.fulvex", projectText(project));
        }
        watch();
        open("p/p.fulvex");
    }

    void run(int steps)
    {
        for (int step = 0; step < steps && !testing::Test::HasFailure(); ++step) {
            act();
            if (below(3) == 0) QTest::qWait(below(25));
            if (step % 20 == 19) rest();
        }
        rest();
    }
    int compared() const { return m_oracle.compared(); }
    int exported() const { return m_exports; }
    int saved() const { return m_saves; }

private:
    int below(int bound) { return int(m_random() % std::uint64_t(bound)); }
    std::string captureFile(const std::string &project, const std::string &file) const
    {
        return (m_folder.path() / project / file).string();
    }
    QString at(const std::string &name) const { return QString::fromStdString((m_folder.path() / name).string()); }

    /// What is told and shown from here on is looked at as it comes.
    void watch()
    {
        Workbench &bench = *m_bench;
        m_history.clear();
        QObject::connect(&bench, &Workbench::sessionBegun, [this] { m_history.clear(); });
        QObject::connect(&bench, &Workbench::documentChanged,
                         [this] { m_history[m_bench->revision()] = m_bench->document(); });
        QObject::connect(&bench, &Workbench::resultsChanged, [this] {
            const Results *results = m_bench->results();
            if (!results) return;
            EXPECT_TRUE(knows(*results->document, 0))
                << "shown: results of a document that was never open in this session";
            EXPECT_TRUE(!m_bench->upToDate() || *results->document == m_bench->document());
        });
        QObject::connect(&bench, &Workbench::failed, [this](const QString &message) {
            const bool expected = message.contains("is not done") || message.contains("written by another window") ||
                                  message.contains("nothing to keep") || message.contains("There is no") ||
                                  message.contains("while it was read") || // replaced, written to or cut by the oracle
                                  message.contains("could not be read to its end");
            EXPECT_TRUE(expected) << q(message);
        });
        QObject::connect(&bench.pages(), &PageKeeper::told, [this](std::shared_ptr<const MadePages> made) {
            EXPECT_EQ(made->session, m_bench->session()) << "shown: pages of another project";
            EXPECT_EQ(made->error, "");
        });
        QObject::connect(&bench, &Workbench::projectReady, [this](const QString &path, const OpenedProject &opened) {
            if (below(2)) m_bench->takeProject(path, opened);
        });
    }
    bool knows(const Document &document, std::uint64_t since) const
    {
        for (auto at = m_history.lower_bound(since); at != m_history.end(); ++at) {
            if (at->second == document) return true;
        }
        return false;
    }

    void open(const std::string &name)
    {
        if (!fs::exists(m_folder.path() / name)) return;
        m_bench->openProject(at(name));
    }

    void edit()
    {
        const int what = below(12);
        m_bench->change("edit", [&](Document &document) {
            const auto pick = [&](auto &list) -> auto &
            {
                return list[std::size_t(below(int(list.size())))];
            };
            if (what == 0) document.title = "title " + std::to_string(++m_edits);
            if (document.channels.empty()) return;
            if (what == 1) {
                NoteEntry note;
                note.id = freeId(document, "note");
                note.time = 1e-8 * below(100);
                note.channel = "a";
                note.text = "seen";
                document.notes.push_back(note);
            }
            if (what == 2) pick(document.channels).scale = 1 + 0.125 * below(8);
            if (what == 3) pick(document.channels).offset = 0.01 * below(8);
            if (what == 4) pick(document.channels).label = "label " + std::to_string(++m_edits);
            if (what == 5) document.captures[0].import.start = 1e-9 * below(5);
            if (what == 6 && document.measurements.size() < 8) {
                static const char *quantities[] = {"minimum", "rms", "fall_time", "period", "amplitude", "duty_cycle"};
                MeasurementEntry row;
                row.id = freeId(document, "row");
                row.quantity = quantities[below(6)];
                row.source = pick(document.channels).id;
                document.measurements.push_back(row);
            }
            if (what == 7 && document.measurements.size() > 2)
                document.measurements.erase(document.measurements.begin() + 1);
            if (what == 8 && !document.measurements.empty())
                pick(document.measurements).limit = LimitEntry{{}, 0.1 * below(9)};
            if (what == 9) document.clocks[1].bandwidth = 1e6 * (1 + below(8));
            if (what == 10) document.masks[0].margin = 0.05 * below(4);
            if (what == 11) document.channels[2].formula = std::to_string(1 + below(3)) + "*a - 0.2";
        });
    }

    void save(const std::string &name)
    {
        auto &asked = m_asked[name];
        asked.push_back(wordsOf(m_bench->document()));
        m_bench->save(at(name), [this, name, own = asked.size()] {
            // That it was written is known now; any asked for after it may be, where its window was closed meanwhile.
            m_written[name] = std::max(m_written[name], own - 1);
            ++m_saves;
        });
    }

    void exportTable()
    {
        m_bench->exportFile(at("table.txt"),
                            [this, window = m_windows, since = m_bench->revision(),
                             session = m_bench->session()](const Results &results, const std::string &, Progress &) {
                                const std::lock_guard lock(m_mutex);
                                m_exported.push_back({window, session, since, results});
                                return test::everyBit(results);
                            });
    }

    void act()
    {
        const int what = below(100);
        if (what < 38) return edit();
        if (what < 46) return m_bench->undoStack().undo();
        if (what < 50) return m_bench->undoStack().redo();
        if (what < 55) return open(below(2) ? "p/p.fulvex" : "q/p.fulvex");
        if (what < 58) return open("pack.fulvexpack");
        if (what < 59) return m_bench->newProject();
        if (what < 65) return save(below(2) ? "p/p.fulvex" : "other.fulvex");
        if (what < 69) return save("pack.fulvexpack");
        if (what < 79) return exportTable();
        if (what < 83) return m_bench->evaluator().cancel();
        if (what < 85) return m_bench->errands().cancel();
        if (what < 88) return m_bench->evaluateAnew();
        if (what < 89) return m_bench->exportChannel(at("channel.npy"), "f");
        if (what < 90)
            return below(2) ? m_bench->pages().ask(m_bench->reportSources()) : m_bench->exportReports({at("r.html")});
        if (what < 98)
            return m_oracle.write(captureFile(below(2) ? "p" : "q", below(2) ? "r.raw" : "s.raw"), capture(++m_version),
                                  below(2) == 0);
        m_bench = std::make_unique<Workbench>(); // the window closes, whatever runs, and another opens
        ++m_windows;
        watch();
        open("q/p.fulvex");
    }

    /// Once nothing is on its way, all that is shown and all that was written has to be true.
    void rest()
    {
        SCOPED_TRACE("seed " + std::to_string(m_seed));
        const auto quiet = [&] {
            return !m_bench->errands().busy() && !m_bench->evaluator().busy() && !m_bench->waiting();
        };
        ASSERT_TRUE(test::waitFor(quiet)) << "errands " << m_bench->errands().busy() << ", evaluator "
                                          << m_bench->evaluator().busy() << ", waiting " << m_bench->waiting();
        m_bench->evaluate();
        ASSERT_TRUE(test::waitFor([&] { return m_bench->upToDate() && quiet(); }));
        m_oracle.expectTrue(*m_bench->results());
        {
            const std::lock_guard lock(m_mutex);
            for (const Written &one : m_exported) {
                ++m_exports;
                const bool stillOpen = one.window == m_windows && one.session == m_bench->session();
                EXPECT_TRUE(!stillOpen || knows(*one.results.document, one.since)) << "exported: an older document";
                m_oracle.expectTrue(one.results);
            }
            m_exported.clear();
        }
        for (const auto &[name, last] : m_written) {
            Progress progress;
            const std::string found = wordsOf(openProject((m_folder.path() / name).string(), progress).document);
            const auto &asked = m_asked[name];
            EXPECT_NE(std::find(asked.begin() + std::ptrdiff_t(last), asked.end(), found), asked.end())
                << name << " holds " << found << "\nbut saved was " << asked[last];
        }
    }

    /// A document but for where its captures lie and what is shown of them.
    static std::string wordsOf(Document document)
    {
        document.sheets.clear();
        for (CaptureEntry &capture : document.captures) {
            capture.file.clear();
            capture.sha256.clear();
            capture.bytes.reset();
        }
        return documentText(document);
    }

    struct Written {
        int window; // by number: one window may lie where another lay
        std::uint64_t session, since;
        Results results;
    };
    std::uint64_t m_seed;
    std::mt19937_64 m_random;
    test::TemporaryFolder m_folder;
    test::Oracle m_oracle;
    std::uint64_t m_version = 0;
    int m_edits = 0, m_exports = 0, m_saves = 0;
    int m_windows = 0; ///< opened after the first
    std::map<std::uint64_t, Document> m_history;
    std::map<std::string, std::vector<std::string>> m_asked; ///< to be saved, by file
    std::map<std::string, std::size_t> m_written;            ///< the last of those that is known to be written
    std::mutex m_mutex;
    std::vector<Written> m_exported;
    std::unique_ptr<Workbench> m_bench; // its errands write to what stands above
};

} // namespace

TEST(Stress, WhatIsShownAndWrittenBelongsToTheDocumentShown)
{
    int seeds = 3, steps = 200, first = 1;
    if (const char *longer = std::getenv("FULVEX_STRESS")) std::sscanf(longer, "%d,%d,%d", &seeds, &steps, &first);
    int compared = 0, exported = 0, saved = 0;
    for (int seed = first; seed < first + seeds && !HasFailure(); ++seed) {
        Meddler meddler{std::uint64_t(seed)};
        meddler.run(steps);
        compared += meddler.compared();
        exported += meddler.exported();
        saved += meddler.saved();
    }
    EXPECT_GT(compared, steps * seeds / 30); // it did happen
    EXPECT_GT(exported, steps * seeds / 60);
    EXPECT_GT(saved, steps * seeds / 60);
}
