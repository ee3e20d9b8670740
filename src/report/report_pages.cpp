#include "report_pages.h"

#include "look.h"
#include "page_words.h"
#include "ruler.h"

#include <QPageSize>
#include <algorithm>
#include <cmath>
#include <numeric>

namespace fulvex {

namespace {

using Mark = ReportContent::Mark;
using Headings = std::vector<ReportPages::Heading>;

const Look &look()
{
    return Look::onPaper();
}

QColor inkOf(Mark mark)
{
    return mark == Mark::pass        ? look().pass
           : mark == Mark::fail      ? look().fail
           : mark == Mark::undecided ? undecidedInk(look())
                                     : look().ink;
}

constexpr double scaleWidth = 110;        // units, of a small picture in a table
constexpr qsizetype longestHeading = 150; // letters
constexpr qsizetype longestCell = 1500;   // letters: a row is no longer than a page

/// Widths of columns: each has at least its longest word, where a page is wide enough; those that would like little
/// more get that before others do.
std::vector<double> widthsOf(const std::vector<QStringList> &rows, int scales, const QFont &font, double whole,
                             double gap)
{
    const std::size_t columns = rows.empty() ? 0 : std::size_t(rows.front().size());
    std::vector<double> least(columns, 0), wanted(columns, 0);
    for (const QStringList &row : rows) {
        for (std::size_t c = 0; c < columns; ++c) {
            const QString &cell = row[qsizetype(c)];
            if (cell.isEmpty()) continue;
            wanted[c] = std::max(wanted[c], PageWords::widthOf(cell, font) + gap);
            least[c] = std::max(least[c], PageWords::longestOf(cell, font) + gap);
        }
    }
    if (scales >= 0) least[std::size_t(scales)] = wanted[std::size_t(scales)] = scaleWidth + gap;
    double sum = 0;
    for (const double one : least) sum += one;
    if (sum >= whole) {
        for (double &one : least) one *= whole / sum;
        return least;
    }
    // The narrowest first: each gets what it would like as long as that is no more than its share of what is left.
    std::vector<std::size_t> order(columns);
    std::iota(order.begin(), order.end(), 0);
    std::ranges::sort(order, {}, [&](std::size_t c) { return wanted[c] - least[c]; });
    double spare = whole - sum;
    for (std::size_t i = 0; i < columns; ++i) {
        const std::size_t c = order[i];
        const double more = std::min(wanted[c] - least[c], spare / double(columns - i));
        least[c] += more;
        spare -= more;
    }
    return least;
}

/// Lays content on pages, top down. `listed`: what the contents list, with their pages, as an earlier pass found them.
class Layout {
public:
    Layout(const ReportContent &content, const Headings &listed, std::size_t pages, Progress &progress)
        : m_content(content), m_listed(listed), m_count(pages), m_progress(progress)
    {
        const QPageSize paper(content.paper == "letter" ? QPageSize::Letter : QPageSize::A4);
        m_pages.size = paper.size(QPageSize::Point) / ReportPages::unit;
        m_width = m_pages.size.width() - 2 * left;
        m_bottom = m_pages.size.height() - 56;
    }
    ReportPages made()
    {
        beginPage();
        titlePage();
        for (const ReportContent::Chapter &chapter : m_content.chapters) {
            chapterHeading(chapter);
            for (const ReportContent::Block &block : chapter.blocks) std::visit(*this, block);
        }
        return std::move(m_pages);
    }
    void operator()(const ReportContent::Paragraph &paragraph)
    {
        using As = ReportContent::Paragraph::As;
        constexpr double figureBehind = 220;
        if (paragraph.as == As::heading) return subheading(paragraph.words, figureBehind);
        words(breakable(paragraph.words), 10, false, paragraph.as == As::quiet ? look().quiet : look().ink, 6);
    }
    void operator()(const ReportContent::Table &table)
    {
        if (table.rows.empty()) return;
        std::vector<QStringList> cells;
        const bool head = std::ranges::any_of(table.columns, [](const QString &c) { return !c.isEmpty(); });
        if (head) cells.push_back(table.columns);
        for (const ReportContent::Row &row : table.rows) {
            QStringList broken;
            for (const QString &cell : row.cells) broken << breakable(shortened(cell, longestCell));
            broken.last() = ReportContent::shapeOf(row.mark) + broken.last();
            cells.push_back(std::move(broken));
        }
        const QFont font = look().font(9);
        std::vector<QStringList> measured;
        for (std::size_t i = 0; i < cells.size(); ++i)
            if (i < std::size_t(head) || !table.rows[i - std::size_t(head)].heading) measured.push_back(cells[i]);
        std::vector<double> widths = widthsOf(measured, table.scales, font, m_width, 10);
        if (table.numbersFrom >= 0) // to the margin: verdicts stand below each other from table to table
            widths[0] += std::max(0.0, m_width - std::accumulate(widths.begin(), widths.end(), 0.0));
        constexpr double firstRows = 60;
        if (!table.heading.isEmpty()) subheading(shortened(table.heading, longestHeading), firstRows);
        for (std::size_t i = 0; i < cells.size(); ++i) {
            const ReportContent::Row *of = i < std::size_t(head) ? nullptr : &table.rows[i - std::size_t(head)];
            const double after = of && of->heading ? 24 : 0; // a heading has a row behind it
            if (need(heightOf(cells[i], widths, of) + after) && of && head)
                tableRow(cells[0], widths, table, nullptr); // on the next page again
            tableRow(cells[i], widths, table, of);
        }
        m_y += 8;
    }
    void operator()(const ReportContent::Figure &figure)
    {
        m_progress.advance(0);
        const double wide = m_width - margin - gap, scale = wide / figure.size.width();
        const PageWords title(breakable(shortened(figure.title, 2 * longestHeading)), look().font(10, true), wide),
            see(breakable(shortened(figure.see, longestCell)), look().font(10), wide);
        const double above = title.height() + (figure.see.isEmpty() ? 0 : see.height() + 1) + 3;
        const double tall = above + figure.size.height() * scale;
        need(tall + 4);
        std::vector<PageWords> notes = makingBeside(figure.making);
        double noted = 0;
        for (std::size_t i = 0; i < notes.size(); ++i) noted += notes[i].height() + (i % 2 ? 4 : 0);
        const double upper = m_y, lower = upper + std::max(tall, noted + 4);
        put([=](QPainter &painter) { title.paint(painter, {left, upper}, look().ink); });
        if (!figure.see.isEmpty())
            put([=](QPainter &painter) { see.paint(painter, {left, upper + title.height() + 1}, look().ink); });
        put([paint = figure.paint, size = figure.size, at = QPointF(left, upper + above), scale](QPainter &painter) {
            painter.save();
            painter.translate(at);
            painter.scale(scale, scale);
            painter.setClipRect(QRectF(QPointF(0, 0), size)); // a long note stays within
            paint(painter, QRectF(QPointF(0, 0), size));
            painter.restore();
        });
        ++m_pages.pages.back().figures;
        const double x = left + wide + gap;
        double y = upper;
        for (std::size_t i = 0; i < notes.size(); ++i) {
            put([note = notes[i], x, y, colour = i % 2 ? look().quiet : look().ink](QPainter &painter) {
                note.paint(painter, {x, y}, colour);
            });
            y += notes[i].height() + (i % 2 ? 4 : 0);
        }
        if (!notes.empty()) line({x - gap / 2, upper}, {x - gap / 2, lower});
        m_y = lower + 14;
    }

private:
    static constexpr double left = 52, top = 52, margin = 150, gap = 24;

    void put(ReportPages::Item item) { m_pages.pages.back().items.push_back(std::move(item)); }
    void line(QPointF from, QPointF to)
    {
        put([from, to, colour = look().hairline](QPainter &painter) {
            painter.setPen(QPen(colour, 0.7));
            painter.drawLine(from, to);
        });
    }
    void beginPage()
    {
        m_pages.pages.emplace_back();
        m_y = top;
        m_said.clear();
        const QFont small = look().font(9);
        constexpr qsizetype aLine = 90; // letters
        const PageWords title(shortened(m_content.title, aLine), small, m_width - 60),
            number(QString("%1 of %2").arg(m_pages.pages.size()).arg(std::max(m_count, m_pages.pages.size())), small,
                   m_width, Qt::AlignRight);
        const double y = m_pages.size.height() - 42;
        put([title, number, y, colour = look().quiet](QPainter &painter) {
            title.paint(painter, {left, y}, colour);
            number.paint(painter, {left, y}, colour);
        });
    }
    /// Whether a new page was begun.
    bool need(double height)
    {
        if (m_y + height <= m_bottom || m_y == top) return false;
        beginPage();
        return true;
    }
    void words(const QString &said, double size, bool bold, const QColor &colour, double after)
    {
        const PageWords laid(said, look().font(size, bold), m_width);
        constexpr int together = 12; // lines that no page parts
        if (laid.lines() <= together) need(laid.height());
        for (int line = 0; line < laid.lines(); ++line) {
            need(laid.heightOf(line));
            put([laid, line, y = m_y, colour](QPainter &painter) { laid.paintLine(painter, line, {left, y}, colour); });
            m_y += laid.heightOf(line);
        }
        m_y += after;
    }
    void titlePage()
    {
        if (!m_content.logo.isNull()) {
            constexpr double most = 56; // units high
            const QSizeF size = QSizeF(m_content.logo.size()).scaled(m_width / 2, most, Qt::KeepAspectRatio);
            const QRectF at(QPointF(left + m_width - size.width(), m_y), size);
            put([logo = m_content.logo, at](QPainter &painter) {
                painter.setRenderHint(QPainter::SmoothPixmapTransform);
                painter.drawImage(at, logo);
            });
            m_y += size.height() + 8;
        }
        constexpr qsizetype longestTitle = 200; // letters; all of it stands in the results
        words(breakable(shortened(m_content.title, longestTitle)), 24, true, look().ink, 4);
        for (const QString &fact : m_content.facts) words(breakable(fact), 10, false, look().quiet, 1);
        verdict();
        for (const ReportContent::Table &table : m_content.glance) (*this)(table);
        contents();
    }
    /// In a frame: what it is, and why.
    void verdict()
    {
        constexpr double pad = 12, wordWidth = 130;
        const QColor ink = m_content.verdict == Mark::none ? look().quiet : inkOf(m_content.verdict);
        const PageWords word(ReportContent::shapeOf(m_content.verdict) + m_content.word, look().font(18, true),
                             wordWidth),
            why(breakable(shortened(m_content.summary, longestCell)), look().font(11), m_width - wordWidth - 3 * pad);
        const double height = std::max(word.height(), why.height()) + 2 * pad;
        need(height + 18);
        const QRectF frame(left, m_y + 8, m_width, height);
        put([=](QPainter &painter) {
            QColor wash = ink;
            wash.setAlphaF(0.08f);
            painter.setRenderHint(QPainter::Antialiasing);
            painter.setPen(QPen(ink, 1.2));
            painter.setBrush(wash);
            painter.drawRoundedRect(frame, 4, 4);
            word.paint(painter, {frame.left() + pad, frame.center().y() - word.height() / 2}, ink);
            why.paint(painter, {frame.left() + 2 * pad + wordWidth, frame.center().y() - why.height() / 2}, look().ink);
        });
        m_y = frame.bottom() + 14;
    }
    void contents()
    {
        if (m_content.chapters.empty()) return;
        subheading("Contents", 40);
        const QFont font = look().font(10);
        const double step = PageWords("x", font, m_width).height() + 2;
        const std::size_t count = m_content.chapters.size(), columns = count > 8 ? 2 : 1,
                          lines = (count + columns - 1) / columns;
        const double wide = (m_width - double(columns - 1) * gap) / double(columns);
        constexpr qsizetype entry = 40; // letters
        for (std::size_t row = 0; row < lines; ++row) {
            need(step);
            for (std::size_t column = 0; column < columns; ++column) {
                const std::size_t i = column * lines + row;
                if (i >= count) continue;
                const PageWords name(shortened(m_content.chapters[i].title, entry), font, wide - 40),
                    page(i < m_listed.size() ? QString::number(m_listed[i].page + 1) : QString(), font, wide,
                         Qt::AlignRight);
                const double x = left + double(column) * (wide + gap), y = m_y;
                const QPointF from(x + name.width() + 8, y + step - 5), to(x + wide - page.width() - 8, y + step - 5);
                put([=](QPainter &painter) {
                    name.paint(painter, {x, y}, look().ink);
                    page.paint(painter, {x, y}, look().quiet);
                    painter.setPen(QPen(look().hairline, 1, Qt::DotLine));
                    if (to.x() > from.x()) painter.drawLine(from, to);
                });
            }
            m_y += step;
        }
    }
    /// A chapter begins a page where little is left of the one before.
    void chapterHeading(const ReportContent::Chapter &chapter)
    {
        constexpr double above = 26, keptWith = 120;
        const PageWords laid(breakable(shortened(chapter.title, longestHeading)), look().font(16, true), m_width);
        const bool first = m_pages.headings.empty();
        const auto *figure = std::get_if<ReportContent::Figure>(&chapter.blocks.front());
        const double figureHeight =
            figure ? figure->size.height() * (m_width - margin - gap) / figure->size.width() + 40 : 0;
        if (first && m_y > m_pages.size.height() / 2) beginPage(); // the first page stands alone
        need(above + laid.height() + std::max(keptWith, figureHeight));
        if (m_y > top) m_y += above;
        m_pages.headings.push_back({shortened(chapter.title, longestHeading), m_pages.pages.size() - 1});
        put([laid, y = m_y, colour = look().ink](QPainter &painter) { laid.paint(painter, {left, y}, colour); });
        m_y += laid.height() + 8;
    }
    void subheading(const QString &said, double keptWith)
    {
        constexpr double above = 8;
        const PageWords laid(breakable(said), look().font(12, true), m_width);
        need(above + laid.height() + keptWith);
        if (m_y > top) m_y += above;
        put([laid, y = m_y, colour = look().ink](QPainter &painter) { laid.paint(painter, {left, y}, colour); });
        m_y += laid.height() + 4;
    }
    Qt::Alignment alignmentOf(const ReportContent::Table &table, std::size_t column) const
    {
        const bool number = table.numbersFrom >= 0 && int(column) >= table.numbersFrom;
        return number ? Qt::AlignRight : Qt::AlignLeft;
    }
    double heightOf(const QStringList &cells, const std::vector<double> &widths, const ReportContent::Row *of) const
    {
        if (of && of->heading) return PageWords(cells[0], look().font(9, true), m_width).height() + 8;
        double tallest = 12;
        for (std::size_t c = 0; c < widths.size(); ++c)
            tallest = std::max(tallest, PageWords(cells[qsizetype(c)], look().font(9), widths[c] - 8).height());
        return tallest + 5;
    }
    void tableRow(const QStringList &cells, const std::vector<double> &widths, const ReportContent::Table &table,
                  const ReportContent::Row *of)
    {
        const double height = heightOf(cells, widths, of);
        if (of && of->heading) {
            const PageWords laid(cells[0], look().font(9, true), m_width);
            put([laid, y = m_y + 5, colour = look().ink](QPainter &painter) {
                laid.paint(painter, {left, y}, colour);
            });
        } else {
            double x = left;
            for (std::size_t c = 0; c < widths.size(); ++c) {
                const bool last = c + 1 == widths.size();
                const QColor colour = !of                              ? look().quiet
                                      : last && of->mark != Mark::none ? inkOf(of->mark)
                                                                       : look().ink;
                const bool right = alignmentOf(table, c) == Qt::AlignRight;
                const PageWords laid(cells[qsizetype(c)], look().font(9), widths[c] - 8, alignmentOf(table, c));
                const double at = right ? x + 8 : x;
                if (of && int(c) == table.scales && of->scale)
                    put([scale = of->scale, area = QRectF(x + 10, m_y, widths[c] - 14, height - 3)](QPainter &painter) {
                        painter.save();
                        scale(painter, area);
                        painter.restore();
                    });
                else
                    put([laid, at, y = m_y, colour](QPainter &painter) { laid.paint(painter, {at, y}, colour); });
                x += widths[c];
            }
        }
        m_y += height;
        line({left, m_y - 2}, {left + m_width, m_y - 2});
    }
    /// What a page does not say yet: "levels" and how, one after the other.
    std::vector<PageWords> makingBeside(const ReportContent::Making &making)
    {
        std::vector<PageWords> notes;
        for (const auto &[what, how] : making) {
            if (!m_said.insert(what + '\n' + how).second) continue;
            notes.emplace_back(breakable(what), look().font(8, true), margin);
            notes.emplace_back(breakable(shortened(how, longestCell / 3)), look().font(8), margin);
        }
        return notes;
    }

    const ReportContent &m_content;
    const Headings &m_listed;
    std::size_t m_count;
    Progress &m_progress;
    ReportPages m_pages;
    double m_width = 0, m_bottom = 0, m_y = top;
    std::set<QString> m_said; ///< beside this page's figures
};

} // namespace

void ReportPages::paint(QPainter &painter, std::size_t page) const
{
    for (const Item &item : pages[page].items) {
        painter.save(); // what an item leaves set would tint the next one's images on a PDF
        item(painter);
        painter.restore();
    }
}

ReportPages reportPages(const ReportContent &content, Progress &progress)
{
    // The contents tell pages that are known once all is laid out; their own length does not depend on that.
    const ReportPages first = Layout(content, {}, 0, progress).made();
    return Layout(content, first.headings, first.pages.size(), progress).made();
}

} // namespace fulvex
