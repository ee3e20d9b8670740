// Traces as the user handles them: with the mouse and the keyboard on the tile.

#include "desktop_support.h"
#include "document_json.h"
#include "temporary_folder.h"
#include "trace_figure.h"

#include <QMimeData>
#include <gmock/gmock.h>

using namespace fulvex;
using test::Desk;

namespace {

constexpr double interval = 1e-9;
constexpr int samples = 4000;

/// Two channels of one capture: a sine of 100 samples a period, and the same turned over, five samples later.
struct Traces : testing::Test {
    Traces()
    {
        std::string table = "time,p,n\n";
        for (int i = 0; i < samples; ++i) {
            const auto sine = [](double at) { return std::sin(2 * M_PI * at / 100) * (1 + 0.1 * std::sin(at / 700)); };
            table +=
                std::to_string(i) + "e-9," + std::to_string(sine(i)) + "," + std::to_string(-0.5 * sine(i - 5)) + "\n";
        }
        folder.write("sines.csv", table);
        project = QString::fromStdString(folder.write("sines.fulvex", R"({"fulvex": 1, "title": "sines",
            "captures": [{"id": "run", "file": "sines.csv"}],
            "channels": [{"id": "p", "capture": "run", "column": 0}, {"id": "n", "capture": "run", "column": 1},
                         {"id": "d", "formula": "p - n"}],
            "sheets": [{"id": "look", "title": "Look", "tiles": [
                {"kind": "traces", "of": ["p", "n"], "lanes": true, "row": 0, "column": 0},
                {"kind": "traces", "of": ["p"], "own_view": true, "from": 1e-6, "to": 1.05e-6, "row": 1, "column": 0}]}]})"));
        desk.window().openFiles({project});
        EXPECT_TRUE(desk.settled());
    }
    ~Traces() override { desk.bench().undoStack().clear(); }
    QWidget *tile(int index = 0) { return desk.window().findChildren<QWidget *>("traceTile")[index]; }
    const Document &document() { return desk.bench().document(); }
    const TileEntry &entry(int index = 0) { return document().sheets[0].tiles[std::size_t(index)]; }
    /// Where things lie on a tile, by the figure that it paints.
    QRectF body(int index = 0) { return QRectF(tile(index)->rect()).adjusted(4, 26, -4, -4); }
    TraceFigure figure(int index = 0)
    {
        const auto view = desk.bench().view(index);
        return traceFigure(*desk.bench().results(), document(), entry(index), view.from, view.to);
    }
    void drag(QPointF from, QPointF to, int index = 0, Qt::KeyboardModifiers keys = {})
    {
        QTest::mousePress(tile(index), Qt::LeftButton, keys, from.toPoint());
        QTest::mouseMove(tile(index), ((from + to) / 2).toPoint());
        QTest::mouseMove(tile(index), to.toPoint());
        QTest::mouseRelease(tile(index), Qt::LeftButton, keys, to.toPoint());
    }
    void click(QPointF at, int index = 0, Qt::KeyboardModifiers keys = {})
    {
        QTest::mouseClick(tile(index), Qt::LeftButton, keys, at.toPoint());
    }
    QPointF onTrace(const std::string &channel, double time, int index = 0)
    {
        const TraceFigure f = figure(index);
        const auto source = findEntry(desk.bench().results()->channels, channel)->source;
        return {f.xOf(body(index), time), f.yOf(body(index), f.lineOf(channel), *traceValue(*source, time, false))};
    }
    test::TemporaryFolder folder;
    QString project;
    Desk desk;
};

} // namespace

TEST_F(Traces, LanesTakeTheHeightsTheyAreDraggedTo)
{
    const TraceFigure before = figure();
    const QRectF first = before.laneRect(body(), 0);
    drag({first.center().x(), first.bottom() + 3}, {first.center().x(), first.bottom() + 23});
    const TraceFigure after = figure();
    EXPECT_NEAR(after.laneRect(body(), 0).height(), first.height() + 20, 1);
    EXPECT_NEAR(after.laneRect(body(), 1).bottom(), before.laneRect(body(), 1).bottom(), 0.01);
    EXPECT_EQ(tile()->cursor().shape(), Qt::CrossCursor);
    desk.key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_TRUE(entry().heights.empty()); // one step
}

TEST_F(Traces, ATraceIsMovedByItsZeroAndScaledByItsAxis)
{
    TraceFigure f = figure();
    const double low = f.lines[0].low, high = f.lines[0].high, height = f.laneRect(body(), 0).height();
    const QPointF zero = f.handleBox(body(), 0).center();
    drag(zero, zero + QPointF(0, 10));
    f = figure();
    EXPECT_NEAR(f.lines[0].low, low + 10 / height * (high - low), 1e-9);
    EXPECT_NEAR(f.lines[0].high - f.lines[0].low, high - low, 1e-9);
    EXPECT_FALSE(f.lines[1].ownRange);
    // The wheel on the axis scales about the pointer: its value stays under it.
    const QPointF at(f.plotRect(body()).left() - 20, f.laneRect(body(), 0).top() + 12);
    const double under = f.valueAt(body(), 0, at.y());
    QWheelEvent turn(at, tile()->mapToGlobal(at), {}, {0, 120}, Qt::NoButton, Qt::NoModifier, Qt::NoScrollPhase, false);
    QApplication::sendEvent(tile(), &turn);
    f = figure();
    EXPECT_NEAR(f.lines[0].high - f.lines[0].low, 0.9 * (high - low), 1e-9);
    EXPECT_NEAR(f.valueAt(body(), 0, at.y()), under, 1e-9);
    QTest::mouseDClick(tile(), Qt::LeftButton, {}, at.toPoint());
    EXPECT_TRUE(entry().ranges.empty());
    EXPECT_TRUE(document().notes.empty());
}

TEST_F(Traces, AMarkerSitsOnTheTraceUnderThePointerAndFollowsIt)
{
    click(onTrace("p", 1.020e-6, 1), 1);
    ASSERT_EQ(document().markers.size(), 1u);
    EXPECT_EQ(document().markers[0].channel, "p");
    EXPECT_NEAR(*document().markers[0].time, 1.020e-6, 1e-10);
    const double before = *figure(1).markers[0].value;
    // Deskewed, the trace is another one at that moment.
    desk.bench().change("delay", [](Document &d) { d.channels[0].delay = 7e-9; });
    ASSERT_TRUE(desk.settled());
    const double after = *figure(1).markers[0].value;
    const auto source = findEntry(desk.bench().results()->channels, "p")->source;
    EXPECT_NEAR(after, *traceValue(*source, *document().markers[0].time, false), 1e-12);
    EXPECT_GT(std::abs(after - before), 0.05);
    // A click far from any trace is a free moment; its value differences are of the first trace.
    const QRectF plot = figure(1).plotRect(body(1));
    const QPointF p = onTrace("p", 1.010e-6, 1);
    click({p.x(), p.y() > plot.center().y() ? plot.top() + 20 : plot.bottom() - 20}, 1, Qt::ShiftModifier);
    ASSERT_EQ(document().markers.size(), 2u);
    EXPECT_EQ(document().markers[1].channel, "");
    // Dragged, it is elsewhere: one step.
    const double time = *document().markers[1].time;
    const TraceFigure f = figure(1);
    drag({f.xOf(body(1), time), plot.center().y() + 30}, {f.xOf(body(1), time) + 50, plot.center().y() + 30}, 1);
    EXPECT_NEAR(*document().markers[1].time - time, 50 / plot.width() * 50e-9, 1e-10);
    desk.key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_EQ(*document().markers[1].time, time);
}

TEST_F(Traces, AClickOnTheAxisIsAValueMarkerAndTheInspectorTellsTheDifferences)
{
    const TraceFigure f = figure();
    const double level = 0.25;
    click({f.plotRect(body()).left() - 30, f.yOf(body(), 0, level)});
    click(onTrace("p", 1.5e-6), 0, Qt::ControlModifier);
    click(onTrace("p", 2.5e-6), 0, Qt::ControlModifier);
    ASSERT_EQ(document().markers.size(), 3u);
    EXPECT_NEAR(*document().markers[0].level, level,
                2 * (f.lines[0].high - f.lines[0].low) / f.laneRect(body(), 0).height());
    EXPECT_FALSE(document().markers[0].time);
    desk.bench().select({Selection::Kind::marker, document().markers[2].id});
    QStringList words;
    for (QLabel *label : desk.find<QWidget>("inspectorForm")->findChildren<QLabel *>()) words << label->text();
    const double dt = *document().markers[2].time - *document().markers[1].time;
    EXPECT_NEAR(dt, 1e-6, 6e-9);
    const std::string all = words.join(" ").toStdString();
    EXPECT_THAT(all, testing::HasSubstr("Marker c"));
    EXPECT_THAT(all, testing::ContainsRegex("from a: dv"));
    EXPECT_THAT(all, testing::ContainsRegex("from b: dt .* 1/dt .* dv .* slope .*V/s"));
    // Freed from its trace in the Inspector it has no value of its own.
    auto *sits = desk.find<QComboBox>("channel");
    sits->setCurrentIndex(0);
    emit sits->activated(0);
    EXPECT_EQ(document().markers[2].channel, "");
    tile()->setFocus();
    QTest::keyClick(tile(), Qt::Key_Delete);
    EXPECT_EQ(document().markers.size(), 2u);
}

TEST_F(Traces, ARegionIsDraggedNamedEditedAndUsed)
{
    const TraceFigure f = figure();
    const double y = f.laneRect(body(), 0).top() + 4;
    drag({f.xOf(body(), 1e-6), y}, {f.xOf(body(), 2e-6), y}, 0, Qt::ControlModifier);
    ASSERT_EQ(document().regions.size(), 1u);
    EXPECT_NEAR(document().regions[0].start, 1e-6, 6e-9);
    EXPECT_NEAR(document().regions[0].stop, 2e-6, 6e-9);
    EXPECT_NEAR(desk.bench().viewTo() - desk.bench().viewFrom(), samples * interval, 1e-8); // not zoomed
    auto *name = desk.find<QLineEdit>("id"); // selected, so the Inspector has it
    ASSERT_TRUE(name);
    desk.bench().change("measure", [](Document &d) {
        d.measurements.push_back({.id = "count", .quantity = "edge_count", .source = "p", .region = d.regions[0].id});
    });
    name->setText("Start up");
    QTest::keyClick(name, Qt::Key_Return);
    ASSERT_TRUE(test::waitFor([&] { return desk.bench().selection().id == "start_up"; }));
    EXPECT_EQ(document().regions[0].id, "start_up");
    EXPECT_EQ(document().measurements[0].region, "start_up");
    // Its edge is dragged to the end of the record: 1 us to the right of a period of 0.1 us has 20 crossings more.
    ASSERT_TRUE(desk.settled());
    const double before = *desk.bench().results()->rows[0].statistics.mean;
    const double stop = document().regions[0].stop;
    drag({f.xOf(body(), stop), y}, {f.xOf(body(), stop + 1e-6), y});
    EXPECT_NEAR(document().regions[0].stop, stop + 1e-6, 6e-9);
    ASSERT_TRUE(desk.settled());
    EXPECT_NEAR(*desk.bench().results()->rows[0].statistics.mean - before, 20, 1);
    auto *start = desk.find<QLineEdit>("start");
    start->setText("500 ns");
    QTest::keyClick(start, Qt::Key_Return);
    EXPECT_DOUBLE_EQ(document().regions[0].start, 500e-9);
    desk.ask("go to region start");
    EXPECT_NEAR(desk.bench().viewFrom(), 500e-9, 1e-9);
    // Written to a file it holds the region's samples and no others.
    desk.answer(QString::fromStdString(folder / "part.csv"));
    desk.ask("write the chosen region");
    desk.bench().errands().finish();
    EXPECT_THAT(test::readAll(folder / "part.csv"), testing::HasSubstr("e-07,"));
    desk.bench().select({Selection::Kind::region, "start_up"});
    QTest::mouseClick(desk.find<QPushButton>("removeRegion"), Qt::LeftButton);
    EXPECT_TRUE(document().regions.empty());
    EXPECT_EQ(document().measurements[0].region, ""); // goes on over the whole record
}

TEST_F(Traces, ANoteIsMovedWidenedAndEdited)
{
    desk.bench().change("note", [](Document &d) {
        NoteEntry note{"seen", "p", "the crest, seen twice", 2e-6, 0.5};
        d.notes.push_back(note);
    });
    TraceFigure f = figure();
    QRectF box = f.noteBox(body(), f.notes[0], desk.bench().look());
    drag(box.center(), box.center() + QPointF(60, 20));
    f = figure();
    EXPECT_NEAR(f.noteBox(body(), f.notes[0], desk.bench().look()).left(), box.left() + 60, 1.5);
    box = f.noteBox(body(), f.notes[0], desk.bench().look());
    drag(box.bottomRight() - QPointF(2, 2), box.bottomRight() - QPointF(62, 2));
    f = figure();
    const QRectF narrow = f.noteBox(body(), f.notes[0], desk.bench().look());
    EXPECT_NEAR(narrow.width(), box.width() - 60, 2);
    EXPECT_GT(narrow.height(), box.height()); // its words take another line
    desk.answer("the crest, seen once");
    QTest::mouseDClick(tile(), Qt::LeftButton, {}, narrow.center().toPoint());
    EXPECT_EQ(document().notes[0].text, "the crest, seen once");
    click(narrow.center());
    EXPECT_EQ(desk.bench().selection().id, "seen");
    auto *level = desk.find<QLineEdit>("level");
    ASSERT_TRUE(level);
    level->setText("-250 mV");
    QTest::keyClick(level, Qt::Key_Return);
    EXPECT_DOUBLE_EQ(document().notes[0].level, -0.25);
    EXPECT_EQ(parseDocument(documentText(document()), "again"), document());
}

TEST_F(Traces, ViewsHaveAHistory)
{
    const auto view = [&] { return desk.bench().view(); };
    const auto whole = view();
    const double y = figure().laneRect(body(), 0).top() + 4;
    drag({300, y}, {500, y});
    const auto first = view();
    drag({300, y}, {400, y});
    const auto second = view();
    ASSERT_NE(first, second);
    desk.key(Qt::Key_Left, Qt::AltModifier);
    EXPECT_EQ(view(), first);
    QTest::mouseClick(tile(), Qt::BackButton);
    EXPECT_EQ(view(), whole);
    desk.key(Qt::Key_Right, Qt::AltModifier);
    EXPECT_EQ(view(), first);
    tile()->setFocus();
    QTest::keyClick(tile(), Qt::Key_F);
    desk.key(Qt::Key_Right, Qt::AltModifier); // another way was taken: nothing lies ahead
    EXPECT_EQ(view(), whole);
    desk.key(Qt::Key_Left, Qt::AltModifier);
    EXPECT_EQ(view(), first);
}

TEST_F(Traces, ADetailTileHasItsOwnViewWhichTheStripMoves)
{
    EXPECT_NEAR(desk.bench().view(1).from, 1e-6, 1e-12);
    const auto sheet = desk.bench().view();
    QWheelEvent turn(QPointF(400, 60), tile(1)->mapToGlobal(QPointF(400, 60)), {}, {0, 120}, Qt::NoButton,
                     Qt::NoModifier, Qt::NoScrollPhase, false);
    QApplication::sendEvent(tile(1), &turn);
    const double width = desk.bench().view(1).to - desk.bench().view(1).from;
    EXPECT_NEAR(width, 0.8 * 50e-9, 1e-12);
    EXPECT_EQ(desk.bench().view(), sheet);
    // Its frame in the Strip is dragged; the sheet's view stays.
    auto *strip = desk.find<QWidget>("strip");
    const double perSecond = (strip->width() - 28) / (samples * interval);
    const QPoint frame(int(14 + perSecond * (desk.bench().view(1).from + width / 2)), 30);
    QTest::mousePress(strip, Qt::LeftButton, {}, frame);
    QTest::mouseMove(strip, frame + QPoint(150, 0));
    QTest::mouseMove(strip, frame + QPoint(300, 0));
    QTest::mouseRelease(strip, Qt::LeftButton, {}, frame + QPoint(300, 0));
    EXPECT_NEAR(desk.bench().view(1).from, 1e-6 + 300 / perSecond, 3 / perSecond);
    EXPECT_EQ(desk.bench().view(), sheet);
    const auto own = desk.bench().view(1);
    desk.key(Qt::Key_S, Qt::ControlModifier); // saved with it
    desk.bench().errands().finish();
    const TileEntry saved = loadDocument(project.toStdString()).sheets[0].tiles[1];
    EXPECT_DOUBLE_EQ(*saved.from, own.from);
    EXPECT_DOUBLE_EQ(*saved.to, own.to);
}

TEST_F(Traces, APinchZoomsAtItsMiddle)
{
    const QPointF at(500, 80);
    const TraceFigure f = figure();
    const double under = f.timeAt(body(), at.x()), width = f.to - f.from;
    QNativeGestureEvent pinch(Qt::ZoomNativeGesture, QPointingDevice::primaryPointingDevice(), 2, at, at,
                              tile()->mapToGlobal(at), 0.25, QPointF());
    QApplication::sendEvent(tile(), &pinch);
    const TraceFigure closer = figure();
    EXPECT_NEAR(closer.to - closer.from, width / 1.25, 1e-12);
    EXPECT_NEAR(closer.timeAt(body(), at.x()), under, 1e-12);
}

TEST_F(Traces, OneActionAlignsOneChannelToAnother)
{
    desk.bench().select({Selection::Kind::channel, "n"});
    desk.ask("align n to p by edges");
    desk.bench().errands().finish();
    EXPECT_NEAR(document().channels[1].delay, -5e-9, 0.05e-9); // straight lines on 100 samples a period
    EXPECT_THAT(desk.message().toStdString(), testing::HasSubstr("onto p, turned over"));
    desk.key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_EQ(document().channels[1].delay, 0);
    desk.ask("align n to p by correlation");
    ASSERT_TRUE(desk.settled()); // the traces of the present document are what is aligned
    EXPECT_NEAR(document().channels[1].delay, -5e-9, 0.05e-9);
    desk.bench().align("d", "p", true);
    EXPECT_THAT(desk.message().toStdString(), testing::HasSubstr("d is computed"));
}

TEST_F(Traces, AKeptCopyStaysWhenItsChannelChanges)
{
    desk.bench().select({Selection::Kind::channel, "d"});
    desk.key(Qt::Key_K, Qt::ControlModifier);
    desk.bench().errands().finish();
    ASSERT_EQ(document().channels.size(), 4u);
    const ChannelEntry copy = document().channels[3];
    EXPECT_EQ(copy.label, "d, kept");
    EXPECT_EQ(copy.formula, "");
    ASSERT_TRUE(desk.settled());
    const auto valueOf = [&](const std::string &id, double time) {
        return *traceValue(*findEntry(desk.bench().results()->channels, id)->source, time, true);
    };
    EXPECT_DOUBLE_EQ(valueOf(copy.id, 1.23e-6), valueOf("d", 1.23e-6));
    const double kept = valueOf(copy.id, 1.23e-6);
    desk.bench().change("formula", [](Document &d) { d.channels[2].formula = "p + n"; });
    ASSERT_TRUE(desk.settled());
    EXPECT_NE(valueOf("d", 1.23e-6), kept);
    EXPECT_EQ(valueOf(copy.id, 1.23e-6), kept);
    // Its delay and scale are its own.
    desk.bench().change("scale", [](Document &d) { d.channels[3].scale = 2; });
    ASSERT_TRUE(desk.settled());
    EXPECT_DOUBLE_EQ(valueOf(copy.id, 1.23e-6), 2 * kept);
    // A channel of a file is kept without writing anything.
    desk.bench().keepCopy("p");
    EXPECT_EQ(document().channels.back().capture, "run");
    EXPECT_EQ(entry().of.back(), document().channels.back().id); // beside it, where it was shown
}

TEST_F(Traces, ArePaintedAnewWhenTheyChangeAndNotWithEveryResult)
{
    struct Paints final : QObject {
        int count = 0;
        bool eventFilter(QObject *, QEvent *event) override
        {
            count += event->type() == QEvent::Paint;
            return false;
        }
    } paints;
    tile()->installEventFilter(&paints);
    const auto paintedBy = [&](const std::function<void(Document &)> &edit) {
        QTest::qWait(50);
        paints.count = 0;
        EXPECT_TRUE(desk.bench().change("edit", edit));
        EXPECT_TRUE(desk.settled());
        QTest::qWait(50);
        return paints.count;
    };
    const auto addRow = [](Document &d) {
        d.measurements.push_back({.id = "rate", .quantity = "frequency", .source = "p"});
    };
    EXPECT_EQ(paintedBy(addRow), 0);
    EXPECT_EQ(paintedBy([](Document &d) { d.measurements[0].limit.max = 1; }), 0);
    EXPECT_GT(paintedBy([](Document &d) { d.channels[0].scale = 2; }), 0);
    EXPECT_GT(paintedBy([](Document &d) { d.channels[1].label = "other"; }), 0);
    EXPECT_GT(paintedBy([](Document &d) { d.regions.push_back({"r", 1e-6, 2e-6}); }), 0);
    EXPECT_GT(paintedBy([](Document &d) { d.notes.push_back({"note", "p", "here", 1e-6, 0}); }), 0);
    desk.bench().select({Selection::Kind::measurement, "rate"});
    EXPECT_GT(paintedBy([](Document &d) { d.measurements[0].region = "r"; }), 0); // its moments are marked
}

TEST_F(Traces, AChannelDroppedFromTheChainIsShownOnce)
{
    const auto drop = [&](const char *channel) {
        QMimeData carried;
        carried.setData("application/x-fulvex-channel", channel);
        QDragEnterEvent enter(QPoint(100, 60), Qt::CopyAction, &carried, Qt::LeftButton, Qt::NoModifier);
        QApplication::sendEvent(tile(1), &enter);
        EXPECT_TRUE(enter.isAccepted());
        QDropEvent event(QPointF(100, 60), Qt::CopyAction, &carried, Qt::LeftButton, Qt::NoModifier);
        QApplication::sendEvent(tile(1), &event);
    };
    drop("d");
    drop("d");
    EXPECT_EQ(entry(1).of, (std::vector<std::string>{"p", "d"}));
    desk.key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_EQ(entry(1).of, (std::vector<std::string>{"p"}));
    QMimeData words;
    words.setText("d");
    QDragEnterEvent enter(QPoint(100, 60), Qt::CopyAction, &words, Qt::LeftButton, Qt::NoModifier);
    enter.ignore();
    QApplication::sendEvent(tile(1), &enter);
    EXPECT_FALSE(enter.isAccepted());
}
