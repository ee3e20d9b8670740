#pragma once

#include "desktop_support.h"
#include "npy_files.h"
#include "plan_edits.h"
#include "plan_tile.h"
#include "slot_box.h"
#include "step_card.h"
#include "temporary_folder.h"

#include <QLabel>
#include <QMimeData>
#include <QPushButton>
#include <QTableView>
#include <QTest>
#include <gtest/gtest.h>

namespace fulvex::test {

/// A plan of two steps over data of 0.8 V at 1 GBd, and captures for it.
struct Station {
    Station()
    {
        write("cold.npy", 4000, 1, 0.12);
        write("slow.npy", 4000, 2, 0.30);
        write("warm.npy", 4000, 3, 0.13);
        write("short.npy", 300, 4, 0.12);
        folder.write("station.fulvexplan",
                     R"json({"fulvex_plan": 1, "id": "station", "title": "Station", "revision": "A",
            "source": "an invented agreement",
            "setups": [{"id": "plain", "document": {"fulvex": 1,
                "captures": [{"id": "r", "import": {"sample_interval": 1e-10}}],
                "channels": [{"id": "a", "capture": "r", "unit": "V"}],
                "levels": [{"id": "default", "kind": "percent", "low": 20, "mid": 50, "high": 80, "states": "histogram"}],
                "clocks": [{"id": "ck", "source": "a"}],
                "measurements": [{"id": "tr", "quantity": "rise_time", "source": "a"},
                                 {"id": "amp", "quantity": "amplitude", "source": "a"}],
                "sheets": [{"id": "s", "title": "Trace", "tiles": [{"kind": "traces", "of": ["a"], "row": 0, "column": 0}]}]}}],
            "steps": [{"id": "first", "title": "Cold", "text": "At 15 degrees.", "setup": "plain",
                "captures": [{"id": "cold", "as": "r", "wants": {"samples": 20000, "rate_of": "ck", "symbol_rate": 1e9,
                    "ppm": 200}}],
                "tests": [{"id": "rise", "of": "tr", "limit": {"max": 3e-10}, "clause": "4.2"},
                          {"id": "swing", "of": "amp", "limit": {"min": 0.7}, "clause": "4.3"}]},
              {"id": "second", "title": "Warm", "text": "At 45 degrees.", "setup": "plain",
                "captures": [{"id": "warm", "as": "r"}],
                "tests": [{"id": "rise", "of": "tr", "limit": {"max": 3e-10}}]}]})json");
    }
    void write(const char *name, std::int64_t unitIntervals, std::uint64_t seed, double sigma) const
    {
        DataSpec spec;
        spec.samplesPerUi = 10;
        spec.unitIntervals = unitIntervals;
        spec.seed = seed;
        spec.noise = 0.003;
        spec.edgeSigma = sigma;
        writeNpy(folder / name, makeData(spec).volts);
    }
    QString file(const char *name) const { return QString::fromStdString(folder / name); }
    TemporaryFolder folder;
};

struct StationDesk : Station, Desk {
    StationDesk() { drop({file("station.fulvexplan")}); }
    bool planned()
    {
        return waitFor([&] { return find<StepCard>("step_second") && card("first")->isVisible(); });
    }
    StepCard *card(const char *step) { return find<StepCard>((std::string("step_") + step).c_str()); }
    QString says(const char *step, const char *label)
    {
        auto *its = card(step)->findChild<QLabel *>(label);
        return its->isVisible() ? its->text() : QString();
    }
    /// Drops a file onto a step's slot, as with a mouse.
    void dropInto(const char *step, const char *slot, const char *name)
    {
        auto *box = card(step)->findChild<SlotBox *>(QString("slot_") + slot);
        ASSERT_TRUE(box && box->isVisible()) << step << " " << slot;
        QMimeData files;
        files.setUrls({QUrl::fromLocalFile(file(name))});
        QDragEnterEvent enter(QPoint(20, 20), Qt::CopyAction, &files, Qt::LeftButton, Qt::NoModifier);
        QApplication::sendEvent(box, &enter);
        EXPECT_TRUE(enter.isAccepted());
        QDropEvent drop(QPointF(20, 20), Qt::CopyAction, &files, Qt::LeftButton, Qt::NoModifier);
        QApplication::sendEvent(box, &drop);
    }
    bool comesTo(const char *step, StepOutcome::State state)
    {
        return waitFor([&] {
            const PlanState *known = bench().planState("station");
            if (!known || !known->plan) return false;
            const AttemptEntry *newest = newestAttempt(bench().document(), "station", step);
            if (newest && known->attempts.contains(newest->id) && known->attempts.at(newest->id).working) return false;
            return bench().outcomeOf("station", *known->plan->step(step)).state == state;
        });
    }
    QString cell(const char *step, int row, int column)
    {
        return card(step)->findChild<QTableView *>("stepTests")->model()->index(row, column).data().toString();
    }
    void click(const char *step, const char *button)
    {
        auto *its = card(step)->findChild<QPushButton *>(button);
        ASSERT_TRUE(its && its->isVisible()) << button;
        QTest::mouseClick(its, Qt::LeftButton);
    }
};

} // namespace fulvex::test
