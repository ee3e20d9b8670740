// The Ledger, by what is done and seen.

#include "desktop_support.h"
#include "ledger_model.h"

#include <QClipboard>
#include <gtest/gtest.h>

using namespace fulvex;
using fulvex::test::Desk;

TEST(Ledger, IsFilteredSortedAndCopied)
{
    Desk desk;
    desk.openDemo();
    auto *table = desk.find<QTableView>("ledgerTable");
    const int all = table->model()->rowCount();
    auto *filter = desk.find<QLineEdit>("ledgerFilter");
    const auto says = [&](const QString &words) {
        return std::ranges::any_of(filter->parentWidget()->findChildren<QLabel *>(),
                                   [&](const QLabel *label) { return label->text().contains(words); });
    };
    QTest::keyClicks(filter, "mask");
    EXPECT_EQ(table->model()->rowCount(), 4);
    EXPECT_TRUE(says(QString("4 of %1 quantities").arg(all)));
    QTest::keyClicks(filter, " of nobody");
    EXPECT_EQ(table->model()->rowCount(), 0);
    EXPECT_TRUE(says(QString("none of %1 quantities has \"mask of nobody\"").arg(all)));
    filter->clear();
    EXPECT_EQ(table->model()->rowCount(), all);
    desk.key(Qt::Key_C, Qt::ControlModifier | Qt::ShiftModifier);
    const QStringList lines = QApplication::clipboard()->text().split('\n', Qt::SkipEmptyParts);
    EXPECT_EQ(lines.size(), all + 1);
    EXPECT_EQ(lines[0].split('\t').size(), 9);
    table->sortByColumn(0, Qt::AscendingOrder);
    EXPECT_EQ(desk.ledgerCell(0, 0), "amplitude");
}

/// Typed where it stands, with SI prefixes; judged at once, undone in one step; what is no limit says so and changes
/// nothing.
TEST(Ledger, ALimitIsTyped)
{
    Desk desk;
    desk.openDemo();
    auto *table = desk.find<QTableView>("ledgerTable");
    const int row = desk.ledgerRow("rise time, 20–80 %", "link");
    ASSERT_GE(row, 0);
    const std::string id = "tr";
    const LimitEntry before = findEntry(desk.bench().document().measurements, id)->limit;
    const auto type = [&](const QString &words) {
        table->setCurrentIndex(table->model()->index(row, 0));
        table->setFocus();
        QTest::keyClick(table, Qt::Key_F2);
        auto *editor = qobject_cast<QLineEdit *>(QApplication::focusWidget());
        ASSERT_TRUE(editor && table->isAncestorOf(editor));
        editor->selectAll();
        QTest::keyClicks(editor, words);
        QTest::keyClick(editor, Qt::Key_Return);
        EXPECT_TRUE(test::waitFor([&] { return table->hasFocus(); })); // it is taken then
    };
    type("< 300p");
    ASSERT_TRUE(desk.settled());
    EXPECT_EQ(desk.ledgerCell(row, "limit"), "< 300 ps");
    EXPECT_EQ(desk.ledgerCell(row, "verdict"), "✕ fail");
    type("0.3 .. 0.4 ns");
    ASSERT_TRUE(desk.settled());
    EXPECT_EQ(desk.ledgerCell(row, "limit"), "300 … 400 ps");
    EXPECT_EQ(desk.ledgerCell(row, "verdict"), "✓ pass");
    type("fast enough");
    EXPECT_TRUE(desk.message().contains("is no limit")) << desk.message().toStdString();
    EXPECT_EQ(desk.ledgerCell(row, "limit"), "300 … 400 ps");
    desk.bench().undoStack().undo();
    desk.bench().undoStack().undo();
    EXPECT_EQ(findEntry(desk.bench().document().measurements, id)->limit, before);
    type("none");
    EXPECT_FALSE(findEntry(desk.bench().document().measurements, id)->limit.isSet());
}

TEST(Ledger, NoNumberIsCutAndWidthsSetByHandStay)
{
    Desk desk;
    desk.openDemo();
    auto *table = desk.find<QTableView>("ledgerTable");
    QString where;
    const auto cut = [&] { // as a column's width less its margins has no room for it
        int cells = 0;
        const int margins = 2 * (table->style()->pixelMetric(QStyle::PM_FocusFrameHMargin, nullptr, table) + 1);
        for (int row = 0; row < table->model()->rowCount() && table->rowViewportPosition(row) < table->height(); ++row)
            for (int column = LedgerColumn::mean; column < LedgerColumn::limit; ++column) {
                if (table->isColumnHidden(column)) continue;
                const QVariant font = table->model()->index(row, column).data(Qt::FontRole);
                const QFontMetrics metrics(font.isValid() ? font.value<QFont>() : table->font());
                const bool isCut =
                    metrics.horizontalAdvance(desk.ledgerCell(row, column)) + margins > table->columnWidth(column);
                cells += isCut;
                if (isCut) where += " " + desk.ledgerCell(row, column);
            }
        return cells;
    };
    EXPECT_EQ(cut(), 0) << where.toStdString();
    desk.bench().change("units", [](Document &document) {
        for (ChannelEntry &channel : document.channels) channel.unit = "Pa·m³/(kg·s)";
    });
    ASSERT_TRUE(desk.settled());
    EXPECT_EQ(cut(), 0) << where.toStdString();
    table->horizontalHeader()->resizeSection(2, 60); // as a drag of its border does
    desk.bench().change("bandwidth", [](Document &document) { document.clocks.front().bandwidth = 1.4e6; });
    ASSERT_TRUE(desk.settled());
    EXPECT_EQ(table->columnWidth(2), 60);
    EXPECT_GT(cut(), 0);
}
