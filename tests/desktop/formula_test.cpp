// A formula typed, mended, made to follow a parameter; by what is seen and done.

#include "desktop_support.h"
#include "formula_editor.h"
#include "temporary_folder.h"

#include <QLineEdit>
#include <QPlainTextEdit>
#include <QSlider>
#include <gmock/gmock.h>
#include <gtest/gtest.h>

using namespace fulvex;
using test::Desk;

namespace {

class Formulas : public testing::Test {
protected:
    Formulas() { desk.openDemo(); }
    QPlainTextEdit *text() { return desk.find<QPlainTextEdit>("formulaText"); }
    /// What the editor says of the text, once it is of that.
    std::string state(const std::string &wanted)
    {
        const auto *label = desk.find<QLabel>("formulaState");
        (void)QTest::qWaitFor([&] { return label->text().toStdString().find(wanted) != std::string::npos; }, 5000);
        return label->text().toStdString();
    }
    /// At the end of the text, key by key, taking none of the completions.
    void type(const QString &words)
    {
        text()->moveCursor(QTextCursor::End);
        for (const QChar letter : words) QTest::keyClick(text(), letter.toLatin1());
    }
    void replace(const QString &words)
    {
        text()->setFocus();
        text()->selectAll();
        QTest::keyClick(text(), Qt::Key_Delete);
        type(words);
    }
    const ChannelEntry *channel(const std::string &id) { return findEntry(desk.bench().document().channels, id); }
    Desk desk;
};

} // namespace

TEST_F(Formulas, AMistakeIsShownWhereItIsAndMended)
{
    const std::size_t before = desk.bench().document().channels.size();
    desk.key(Qt::Key_F, Qt::ControlModifier);
    ASSERT_TRUE(text() && text()->isVisible());
    replace("lowpass(p - n, 200 MHz");
    EXPECT_THAT(state("closing"), testing::HasSubstr("a closing parenthesis is missing"));
    EXPECT_THAT(desk.find<QLabel>("formulaHelp")->text().toStdString(),
                testing::HasSubstr("what lies below the corner"));
    QTest::keyClick(text(), Qt::Key_Return);
    EXPECT_TRUE(text()->isVisible()); // refused, with what was typed
    EXPECT_EQ(desk.bench().document().channels.size(), before);
    EXPECT_FALSE(desk.find<QWidget>("messageBar")->isVisible()); // it is said where it is
    type(")");
    EXPECT_THAT(state("in V"), testing::HasSubstr("in V, at 8.000 GS/s"));
    type(" + 1 s");
    EXPECT_THAT(state("do not fit"), testing::HasSubstr("V and s do not fit together"));
    ASSERT_EQ(text()->extraSelections().size(), 1);
    EXPECT_EQ(text()->extraSelections()[0].cursor.selectedText(), "+");
    replace("lowpass(p - n, 200 MHz)");
    EXPECT_THAT(state("in V"), testing::HasSubstr("in V"));
    EXPECT_TRUE(text()->extraSelections().isEmpty());
    QTest::keyClick(text(), Qt::Key_Return);
    EXPECT_FALSE(text()->isVisible());
    ASSERT_EQ(desk.bench().document().channels.size(), before + 1);
    EXPECT_EQ(desk.bench().document().channels.back().formula, "lowpass(p - n, 200 MHz)");
    EXPECT_TRUE(desk.settled());
}

TEST_F(Formulas, NamesAreCompletedAsTheyAreTyped)
{
    desk.key(Qt::Key_F, Qt::ControlModifier);
    text()->setFocus();
    text()->selectAll();
    QTest::keyClick(text(), Qt::Key_Delete);
    for (const char letter : {'h', 'i', 'g'}) QTest::keyClick(text(), letter);
    auto *list = text()->findChild<QAbstractItemView *>("formulaCompletion");
    if (!list)
        for (QWidget *top : QApplication::topLevelWidgets())
            if (top->objectName() == "formulaCompletion") list = qobject_cast<QAbstractItemView *>(top);
    ASSERT_TRUE(list && list->isVisible());
    QTest::keyClick(list, Qt::Key_Down);
    QTest::keyClick(list, Qt::Key_Return);
    EXPECT_EQ(text()->toPlainText(), "highpass(");
    QTest::keyClick(text(), Qt::Key_Escape);
    EXPECT_FALSE(text()->isVisible());
    EXPECT_TRUE(desk.bench().undoStack().isClean()); // nothing was done
}

/// A first guess: the legs of the first file, or what is selected; the first letter that is typed takes its place.
TEST_F(Formulas, BeginWithWhatIsSelected)
{
    const auto guess = [&] {
        desk.key(Qt::Key_F, Qt::ControlModifier);
        const QString all = text()->toPlainText();
        EXPECT_EQ(text()->textCursor().selectedText(), all);
        return all.toStdString();
    };
    EXPECT_EQ(guess(), "p - n");
    QTest::keyClick(text(), 'x');
    EXPECT_EQ(text()->toPlainText(), "x");
    QTest::keyClick(text(), Qt::Key_Escape);
    for (const auto &[selected, wanted] : {std::pair{"link", "link"}, {"n", "p - n"}, {"no_such", "p - n"}}) {
        desk.bench().select({Selection::Kind::channel, selected});
        EXPECT_EQ(guess(), wanted);
        QTest::keyClick(text(), Qt::Key_Escape);
    }
}

TEST_F(Formulas, APrefixOfANumberIsNoName)
{
    desk.key(Qt::Key_F, Qt::ControlModifier);
    replace("link + 1.2g"); // a name begins so: gain
    QTest::keyClick(text(), Qt::Key_Return);
    EXPECT_THAT(text()->toPlainText().toStdString(), testing::StartsWith("link + 1.2g"));
    EXPECT_THAT(text()->toPlainText().toStdString(), testing::Not(testing::HasSubstr("gain")));
    QTest::keyClick(text(), Qt::Key_Escape);
}

TEST_F(Formulas, ThatGoInACircleAreRefusedWhereTheyAreTyped)
{
    desk.addFormula("2 * link");
    ASSERT_TRUE(desk.settled());
    const std::string id = desk.bench().document().channels.back().id;
    desk.bench().select({Selection::Kind::channel, "link"});
    QTest::keyClick(desk.find<QWidget>("chainRails"), Qt::Key_F2);
    text()->setPlainText(QString::fromStdString(id) + " - n");
    QTest::keyClick(text(), Qt::Key_Return);
    EXPECT_TRUE(text()->isVisible());
    EXPECT_THAT(state("circle"), testing::HasSubstr("goes in a circle"));
    EXPECT_EQ(channel("link")->formula, "p - n");
    EXPECT_FALSE(desk.find<QWidget>("messageBar")->isVisible());
}

/// A number becomes a parameter by one key, and its slider moves the channel, its picture and the Ledger.
TEST_F(Formulas, ANumberBecomesAParameterThatMovesAllThatFollows)
{
    desk.key(Qt::Key_F, Qt::ControlModifier);
    replace("lowpass(link, 100 MHz, 4)");
    state("in V");
    QTest::keyClick(text(), Qt::Key_Return);
    const std::string id = desk.bench().document().channels.back().id;
    desk.bench().select({Selection::Kind::channel, id});
    desk.ask("ac rms " + QString::fromStdString(id));
    ASSERT_TRUE(desk.settled());
    const int row = desk.ledgerRow("ac rms", QString::fromStdString(id));
    ASSERT_GE(row, 0);
    const QString before = desk.ledgerCell(row, "mean");

    desk.bench().select({Selection::Kind::channel, id});
    QTest::keyClick(desk.find<QWidget>("chainRails"), Qt::Key_F2);
    ASSERT_TRUE(text()->isVisible());
    QTextCursor cursor = text()->textCursor();
    cursor.setPosition(int(QString("lowpass(link, 10").size()));
    text()->setTextCursor(cursor);
    EXPECT_TRUE(desk.find<QWidget>("makeParameter")->isVisible());
    QTest::keyClick(text(), Qt::Key_P, Qt::ControlModifier);
    EXPECT_EQ(text()->toPlainText(), "lowpass(link, corner, 4)");
    ASSERT_EQ(desk.bench().document().parameters.size(), 1u);
    EXPECT_EQ(desk.bench().document().parameters[0], (ParameterEntry{"corner", 1e8, 1e7, 1e9, "Hz"}));
    EXPECT_EQ(channel(id)->formula, "lowpass(link, corner, 4)");
    QTest::keyClick(text(), Qt::Key_Return);
    ASSERT_TRUE(desk.settled());
    EXPECT_EQ(desk.ledgerCell(row, "mean"), before); // the same number, by another name

    auto *slider = desk.find<QSlider>("slider_corner");
    ASSERT_TRUE(slider && slider->isVisible());
    EXPECT_EQ(slider->value(), 500); // in the middle of two decades
    slider->setValue(800);
    EXPECT_EQ(desk.bench().document().parameters[0].value, 398e6); // 10^(1.6) from 10 MHz, three digits
    ASSERT_TRUE(desk.settled());
    EXPECT_NE(desk.ledgerCell(row, "mean"), before);
    slider->setValue(700);
    slider->setValue(500);
    ASSERT_TRUE(desk.settled());
    EXPECT_EQ(desk.ledgerCell(row, "mean"), before);
    desk.bench().undoStack().undo(); // all of the dragging is one step
    EXPECT_EQ(desk.bench().document().parameters[0].value, 1e8);
    EXPECT_EQ(channel(id)->formula, "lowpass(link, corner, 4)");

    auto *value = desk.find<QLineEdit>("value_corner");
    value->setFocus();
    value->setText("2.5 GHz"); // beyond the slider's span, which it widens
    QTest::keyClick(value, Qt::Key_Return);
    EXPECT_EQ(desk.bench().document().parameters[0].value, 2.5e9);
    EXPECT_EQ(desk.bench().document().parameters[0].max, 2.5e9);
    value->setText("much");
    QTest::keyClick(value, Qt::Key_Return);
    EXPECT_THAT(desk.message().toStdString(), testing::HasSubstr("\"much\" is not a number in Hz"));
    EXPECT_EQ(desk.bench().document().parameters[0].value, 2.5e9);
}

/// What is typed is of one project and one channel, whatever comes between.
TEST_F(Formulas, TheEditorGoesWithItsChannelAndItsProject)
{
    desk.bench().select({Selection::Kind::channel, "link"});
    QTest::keyClick(desk.find<QWidget>("chainRails"), Qt::Key_F2);
    ASSERT_TRUE(text()->isVisible());
    replace("n - p");
    desk.bench().select({Selection::Kind::channel, "p"}); // by a click elsewhere
    QTest::keyClick(text(), Qt::Key_Return);
    EXPECT_EQ(channel("link")->formula, "n - p");
    desk.bench().select({Selection::Kind::channel, "link"});
    QTest::keyClick(desk.find<QWidget>("chainRails"), Qt::Key_F2);
    desk.bench().change("add", [](Document &document) { document.parameters.push_back({"k", 2}); });
    ASSERT_TRUE(text()->isVisible()); // another change does not disturb it
    replace("k * (p - n)");
    state("in V");
    desk.bench().change("remove", [](Document &document) {
        std::erase_if(document.parameters, [](const ParameterEntry &entry) { return entry.id == "k"; });
    });
    EXPECT_THAT(state("no channel"), testing::HasSubstr("no channel, parameter or region has the id \"k\""));
    QTest::keyClick(text(), Qt::Key_Return);
    EXPECT_TRUE(text()->isVisible());
    desk.bench().newProject();
    EXPECT_FALSE(text()->isVisible());
}

TEST_F(Formulas, FunctionsOfOnesOwnAreWrittenInTheInspectorAndCalled)
{
    desk.ask("add a function of one's own");
    ASSERT_EQ(desk.bench().document().functions.size(), 1u);
    auto *formula = desk.find<QLineEdit>("formula");
    ASSERT_TRUE(formula);
    formula->setText("lowpass(a, 100 MHz, 3)");
    QTest::keyClick(formula, Qt::Key_Return);
    EXPECT_EQ(desk.bench().document().functions[0].formula, "lowpass(a, 100 MHz, 3)");
    desk.key(Qt::Key_F, Qt::ControlModifier);
    replace("own(p) - own(n)");
    EXPECT_THAT(state("in V"), testing::HasSubstr("in V"));
    QTest::keyClick(text(), Qt::Key_Return);
    EXPECT_EQ(desk.bench().document().channels.back().formula, "own(p) - own(n)");
    EXPECT_TRUE(desk.settled());
}
