// A report's content laid on pages, and its figures as SVG: of content made by hand, so that what has to come out is
// known.

#include "error.h"
#include "report.h"
#include "report_logo.h"
#include "report_pages.h"
#include "svg_picture.h"

#include <QBuffer>
#include <QXmlStreamReader>
#include <gmock/gmock.h>
#include <gtest/gtest.h>

using namespace fulvex;
using testing::HasSubstr;

namespace {

using Mark = ReportContent::Mark;

ReportContent::Row row(QStringList cells)
{
    ReportContent::Row made;
    made.cells = std::move(cells);
    return made;
}

ReportContent::Figure figure(double height, const QColor &colour = Qt::black)
{
    ReportContent::Figure made{"a figure",
                               "what is to be seen",
                               QSizeF(456, height),
                               [colour](QPainter &painter, const QRectF &area) { painter.fillRect(area, colour); },
                               {}};
    made.making = {{"levels", "by the histogram"}, {"clock", "a loop of order 2"}};
    return made;
}

ReportContent content(const std::string &paper, int rows, int figures)
{
    ReportContent made;
    made.title = "A report";
    made.paper = paper;
    made.word = "Passes";
    made.verdict = Mark::pass;
    ReportContent::Table table;
    table.heading = "Many";
    table.columns = {"quantity", "value"};
    for (int i = 0; i < rows; ++i) table.rows.push_back(row({QString("row %1").arg(i), QString("%1.5 ps").arg(i)}));
    made.chapters.push_back({"Tables", {table}});
    ReportContent::Chapter chapter{"Figures", {}};
    for (int i = 0; i < figures; ++i) chapter.blocks.emplace_back(figure(200));
    if (figures > 0) made.chapters.push_back(std::move(chapter));
    return made;
}

QImage painted(const ReportPages &pages, std::size_t page, QColor paper = Qt::white)
{
    QImage image(pages.size.toSize(), QImage::Format_RGB32);
    image.fill(paper);
    QPainter painter(&image);
    pages.paint(painter, page);
    return image;
}

/// The rectangle around all that is not paper.
QRect inked(const QImage &image)
{
    QRect all;
    for (int y = 0; y < image.height(); ++y)
        for (int x = 0; x < image.width(); ++x)
            if (image.pixelColor(x, y) != QColor(Qt::white)) all |= QRect(x, y, 1, 1);
    return all;
}

bool isWellFormed(const QString &xml)
{
    QXmlStreamReader reader(xml);
    while (!reader.atEnd()) reader.readNext();
    return !reader.hasError();
}

} // namespace

TEST(ReportPages, AreOfThePaperAndKeepItsMargins)
{
    Progress progress;
    for (const char *paper : {"a4", "letter"}) {
        const ReportPages pages = reportPages(content(paper, 120, 7), progress);
        const QSizeF points = pages.size * ReportPages::unit;
        EXPECT_NEAR(points.width(), std::string(paper) == "a4" ? 595 : 612, 1);
        EXPECT_NEAR(points.height(), std::string(paper) == "a4" ? 842 : 792, 1);
        ASSERT_GT(pages.pages.size(), 3u);
        for (std::size_t page = 0; page < pages.pages.size(); ++page) {
            const QRect ink = inked(painted(pages, page));
            EXPECT_GE(ink.left(), 50) << paper << " " << page;
            EXPECT_LE(ink.right(), pages.size.width() - 50) << paper << " " << page;
            EXPECT_GE(ink.top(), 50);
            EXPECT_LE(ink.bottom(), pages.size.height() - 20); // the page's number
        }
    }
}

/// Figures stay whole: a page holds all of their black or none; a heading is never the last thing on a page.
TEST(ReportPages, FiguresStayWholeAndHeadingsWithThem)
{
    Progress progress;
    for (int rows = 0; rows < 60; rows += 7) {
        const ReportPages pages = reportPages(content("a4", rows, 5), progress);
        std::size_t figures = 0;
        for (std::size_t page = 0; page < pages.pages.size(); ++page) {
            const QImage image = painted(pages, page);
            int black = 0; // lines of the column that figures fill
            for (int y = 0; y < image.height(); ++y) black += image.pixelColor(60, y) == QColor(Qt::black);
            const double each = 200 * (pages.size.width() - 104 - 174) / 456;
            EXPECT_NEAR(black / each, double(pages.pages[page].figures), 0.02) << rows << " rows, page " << page;
            figures += pages.pages[page].figures;
        }
        EXPECT_EQ(figures, 5u);
        ASSERT_EQ(pages.headings.size(), rows > 0 ? 2u : 2u);
        const std::size_t at = pages.headings[1].page;
        EXPECT_GT(pages.pages[at].figures, 0u) << rows;
    }
}

TEST(ReportPages, WhatAPageSaysBesideAFigureIsNotSaidTwice)
{
    Progress progress;
    ReportContent once = content("a4", 0, 1), twice = content("a4", 0, 2);
    // Ink in the margin beside figures, left of which a line runs.
    const auto margin = [&](const ReportContent &of) {
        const ReportPages pages = reportPages(of, progress);
        int ink = 0;
        for (std::size_t page = 0; page < pages.pages.size(); ++page) {
            const QImage image = painted(pages, page);
            for (int y = 60; y < image.height() - 60; ++y)
                for (int x = image.width() - 52 - 150; x < image.width() - 52; ++x)
                    ink += pages.pages[page].figures > 0 && image.pixelColor(x, y).lightness() < 128;
        }
        return ink;
    };
    EXPECT_GT(margin(once), 100);
    EXPECT_NEAR(margin(once), margin(twice), 0.1 * margin(once));
}

TEST(ReportPages, AnEmptyReportIsAPage)
{
    Progress progress;
    ReportContent none;
    none.title = "Nothing";
    none.word = "No limits";
    const ReportPages pages = reportPages(none, progress);
    EXPECT_EQ(pages.pages.size(), 1u);
    EXPECT_TRUE(pages.headings.empty());
    EXPECT_EQ(reportPdf(none, progress).substr(0, 5), "%PDF-");
}

TEST(ReportPages, AbsurdWordsAreBrokenAndEnd)
{
    Progress progress;
    ReportContent made = content("letter", 0, 0);
    ReportContent::Table table;
    table.columns = {QString(3000, 'x'), "b"};
    table.rows.push_back(row({QString(20000, 'y'), QString("/").repeated(500)}));
    made.chapters[0].blocks = {table, ReportContent::Paragraph{QString(5000, 'z')}};
    const ReportPages pages = reportPages(made, progress);
    for (std::size_t page = 0; page < pages.pages.size(); ++page)
        EXPECT_LE(inked(painted(pages, page)).right(), pages.size.width() - 48) << page;
}

TEST(ReportPages, MayBeCancelled)
{
    Progress progress;
    progress.cancel();
    EXPECT_THROW(reportPages(content("a4", 3, 3), progress), Cancelled);
}

TEST(SvgPicture, HoldsShapesWordsAndImagesAsTheyWereDrawn)
{
    const QString svg = svgPicture({200, 100}, "p1", [](QPainter &painter, const QRectF &area) {
        EXPECT_EQ(area, QRectF(0, 0, 200, 100));
        painter.translate(10, 20);
        painter.scale(2, 2);
        painter.setPen(QPen(QColor("#112233"), 1.5, Qt::DashLine));
        painter.drawLine(QPointF(0, 0), QPointF(5, 5));
        painter.setPen(QColor(0, 0, 255));
        painter.drawText(QPointF(3, 4), "a < b & \"c\"");
        painter.save();
        painter.setClipRect(QRectF(0, 0, 10, 10));
        painter.fillRect(QRectF(0, 0, 50, 50), QColor(255, 0, 0, 51));
        painter.restore();
        QImage image(2, 2, QImage::Format_RGB32);
        image.fill(Qt::green);
        painter.drawImage(QRectF(20, 10, 10, 10), image);
    });
    EXPECT_TRUE(isWellFormed(svg)) << svg.toStdString();
    const std::string text = svg.toStdString();
    EXPECT_THAT(text, HasSubstr("viewBox=\"0 0 200 100\""));
    EXPECT_THAT(text, HasSubstr("10,20 20,30")); // in the picture's own coordinates
    EXPECT_THAT(text, HasSubstr("stroke-width=\"3\""));
    EXPECT_THAT(text, HasSubstr("stroke-dasharray"));
    EXPECT_THAT(text, HasSubstr("a &lt; b &amp; &quot;c&quot;"));
    EXPECT_THAT(text, HasSubstr("fill-opacity=\"0.2\""));
    EXPECT_THAT(text, HasSubstr("clip-path=\"url(#p1c1)\""));
    EXPECT_THAT(text, HasSubstr("<image x=\"50\" y=\"40\" width=\"20\" height=\"20\""));
    EXPECT_EQ(svg.count("<g "), svg.count("</g>"));
}

TEST(SvgPicture, OfNothingIsEmpty)
{
    EXPECT_TRUE(isWellFormed(svgPicture({10, 10}, "p", [](QPainter &, const QRectF &) {})));
}

TEST(ReportLogo, IsNoLargerThanItIsShownAndNothingElseThanAPng)
{
    QImage large(3000, 1500, QImage::Format_RGB32);
    large.fill(Qt::red);
    ReportEntry entry;
    entry.logo = logoText(large);
    EXPECT_LE(entry.logo.size(), 400'000u);
    const QImage logo = logoOf(entry);
    EXPECT_EQ(logo.width(), 480);
    EXPECT_EQ(logo.height(), 240);
    EXPECT_EQ(logo.pixelColor(100, 100), QColor(Qt::red));
    for (const char *other : {"", "nonsense", "PHN2Zz48L3N2Zz4="}) {
        entry.logo = other;
        EXPECT_TRUE(logoOf(entry).isNull()) << other;
    }
}
