#include "look.h"
#include "pdf_additions.h"
#include "report.h"
#include "report_seal.h"

#include <QBuffer>
#include <QPageSize>
#include <QPdfWriter>
#include <cmath>

namespace fulvex {

namespace {

/// A cell as it may be broken: not within a number or before its unit, but within what no line is long enough for.
QString breakable(const QString &cell)
{
    constexpr qsizetype longest = 24, group = 16; // letters
    QString words;
    qsizetype run = 0;
    for (qsizetype i = 0; i < cell.size(); ++i) {
        const QChar c = cell[i];
        const bool betweenDigits = c == QChar(0x2009), beforeUnit = c == ' ' && i > 0 && cell[i - 1].isDigit() &&
                                                                    i + 1 < cell.size() && cell[i + 1] != QChar(0x2026);
        words += betweenDigits ? QChar(0x202F) : beforeUnit ? QChar(0x00A0) : c;
        run = c.isSpace() ? 0 : run + 1;
        const bool path = c == '/' || c == ',' || c == ';';
        if (path || (run >= longest && run % group == 0)) words += QChar(0x200B);
    }
    return words;
}

/// Widths of columns: what each needs, and what is left over by how much more each would like; what no page is wide
/// enough for goes down to its longest word.
std::vector<double> widthsOf(const std::vector<QStringList> &rows, const QFontMetricsF &metrics, double whole,
                             double gap)
{
    const std::size_t columns = rows.empty() ? 0 : std::size_t(rows.front().size());
    std::vector<double> least(columns, 0), wanted(columns, 0);
    for (const QStringList &row : rows) {
        for (std::size_t c = 0; c < columns; ++c) {
            const QString &cell = row[qsizetype(c)];
            wanted[c] = std::max(wanted[c], metrics.horizontalAdvance(cell) + gap);
            qsizetype from = 0;
            for (qsizetype to = 0; to <= cell.size(); ++to) {
                const bool ends = to == cell.size() || cell[to] == ' ' || cell[to] == QChar(0x200B);
                if (!ends) continue;
                least[c] = std::max(least[c], metrics.horizontalAdvance(cell.mid(from, to - from)) + gap);
                from = to + 1;
            }
        }
    }
    double sum = 0, more = 0;
    for (std::size_t c = 0; c < columns; ++c) sum += least[c], more += wanted[c] - least[c];
    const double spare = whole - sum;
    for (std::size_t c = 0; c < columns; ++c) {
        if (spare < 0)
            least[c] *= whole / sum;
        else if (more > 0)
            least[c] += (wanted[c] - least[c]) * std::min(1.0, spare / more);
    }
    return least;
}

/// Lays content on pages, top down; a unit is 0.8 points, so that the table has room. Laid out twice: the first time
/// nothing is painted, to know where headings come to stand and how many pages there are.
class PageWriter {
public:
    PageWriter(QPdfWriter &writer, QPainter &painter, const QString &title, bool dry)
        : m_writer(writer), m_painter(painter), m_title(title), m_dry(dry)
    {
    }
    void begin(int pages)
    {
        m_pages = pages;
        beginPage();
    }
    void line(const QString &words, double size, bool bold, QColor colour, double after)
    {
        m_painter.setFont(m_look.font(size, bold));
        const double height = heightOf(words, width);
        need(height);
        write(QRectF(left, m_y, width, height + 2), Qt::TextWordWrap, words, colour);
        m_y += height + after;
    }
    /// The verdict in a frame: what it is, and why.
    void verdict(const QString &word, const QString &why, const QColor &colour)
    {
        constexpr double pad = 10, wordWidth = 120;
        m_painter.setFont(m_look.font(11));
        const double height = std::max(26.0, heightOf(why, width - wordWidth - 3 * pad)) + 2 * pad;
        need(height + 8);
        const QRectF frame(left, m_y + 6, width, height);
        if (!m_dry) {
            QColor wash = colour;
            wash.setAlphaF(0.08f);
            m_painter.setPen(QPen(colour, 1.2));
            m_painter.setBrush(wash);
            m_painter.drawRoundedRect(frame, 4, 4);
        }
        m_painter.setFont(m_look.font(18, true));
        write(QRectF(frame.left() + pad, frame.top(), wordWidth, height), Qt::AlignVCenter, word, colour);
        m_painter.setFont(m_look.font(11));
        write(QRectF(frame.left() + pad + wordWidth, frame.top(), width - wordWidth - 3 * pad, height),
              Qt::AlignVCenter | Qt::TextWordWrap, why, m_look.ink);
        m_y = frame.bottom() + 10;
    }
    void heading(const QString &words, double keptWith)
    {
        constexpr double above = 14, size = 22;
        need(above + size + keptWith);
        m_y += above;
        m_headings.emplace_back(words, m_page);
        m_painter.setFont(m_look.font(13, true));
        write(QRectF(left, m_y, width, size), Qt::AlignLeft | Qt::AlignVCenter, words, m_look.ink);
        m_y += size + 2;
    }
    void table(const ReportContent::Table &table)
    {
        if (table.rows.empty()) return;
        heading(table.heading, 50);
        const bool verdicts = !table.verdicts.empty();
        std::vector<QStringList> cells{table.columns};
        for (std::size_t i = 0; i < table.rows.size(); ++i) {
            QStringList row;
            for (const QString &cell : table.rows[i]) row << breakable(cell);
            if (verdicts && table.verdicts[i] != Verdict::none)
                row.last() = (table.verdicts[i] == Verdict::fail ? "✕ " : "✓ ") + row.last();
            cells.push_back(std::move(row));
        }
        m_painter.setFont(m_look.font(9));
        const std::vector<double> widths = widthsOf(cells, QFontMetricsF(m_painter.font()), width, 8);
        for (std::size_t i = 0; i < cells.size(); ++i) {
            const Verdict is = i > 0 && verdicts ? table.verdicts[i - 1] : Verdict::none;
            if (need(tallestOf(cells[i], widths) + 4) && i > 0)
                row(cells[0], widths, m_look.quiet, Verdict::none); // at the top of the next page again
            row(cells[i], widths, i == 0 ? m_look.quiet : m_look.ink, is);
        }
    }
    void figures(const std::vector<ReportContent::Figure> &figures, std::size_t from, std::size_t to,
                 Progress &progress)
    {
        constexpr double gap = 12, half = (width - gap) / 2;
        for (std::size_t i = from; i < to; i += 2) {
            const double tallest = rowHeight(figures, i, to, half);
            need(tallest);
            for (std::size_t k = i; k < std::min(i + 2, to); ++k) {
                if (!m_dry) progress.advance(1);
                figure(figures[k], left + double(k - i) * (half + gap), half);
            }
            m_y += tallest + 6;
        }
    }
    double firstRow(const std::vector<ReportContent::Figure> &figures, std::size_t from, std::size_t to)
    {
        constexpr double gap = 12;
        return rowHeight(figures, from, to, (width - gap) / 2);
    }
    void contents(const std::vector<std::pair<QString, int>> &headings, bool room)
    {
        heading("Contents", 40);
        m_headings.pop_back(); // it does not list itself
        m_painter.setFont(m_look.font(10));
        constexpr double step = 15;
        for (const auto &[words, page] : headings) {
            need(step);
            write(QRectF(left, m_y, width - 40, step), Qt::AlignLeft | Qt::AlignVCenter, words, m_look.ink);
            if (!room)
                write(QRectF(left, m_y, width, step), Qt::AlignRight | Qt::AlignVCenter, QString::number(page + 1),
                      m_look.quiet);
            m_y += step;
        }
    }
    const std::vector<std::pair<QString, int>> &headings() const { return m_headings; }
    int pages() const { return m_page + 1; }

private:
    static constexpr double left = 52, width = 640, top = 52, bottom = 996;
    double heightOf(const QString &words, double wide)
    {
        return m_painter.boundingRect(QRectF(0, 0, wide, 4000), Qt::TextWordWrap, words).height();
    }
    void write(const QRectF &area, int flags, const QString &words, const QColor &colour)
    {
        if (m_dry) return;
        m_painter.setPen(colour);
        m_painter.drawText(area, flags, words);
    }
    void beginPage()
    {
        m_y = top;
        const QFont font = m_painter.font();
        m_painter.setFont(m_look.font(9));
        const QRectF foot(left, 1010, width, 14);
        write(foot, Qt::AlignLeft, m_title, m_look.quiet);
        write(foot, Qt::AlignRight, QString("%1 of %2").arg(m_page + 1).arg(m_pages), m_look.quiet);
        m_painter.setFont(font);
    }
    /// Whether a new page was begun.
    bool need(double height)
    {
        if (m_y + height <= bottom || m_y == top) return false;
        ++m_page;
        if (!m_dry) m_writer.newPage();
        beginPage();
        return true;
    }
    double tallestOf(const QStringList &cells, const std::vector<double> &widths)
    {
        m_painter.setFont(m_look.font(9));
        double tallest = 12;
        for (qsizetype c = 0; c < cells.size(); ++c)
            tallest = std::max(tallest, heightOf(cells[c], widths[std::size_t(c)] - 6));
        return tallest;
    }
    void row(const QStringList &cells, const std::vector<double> &widths, QColor colour, Verdict verdict)
    {
        const double tallest = tallestOf(cells, widths);
        double x = left;
        for (qsizetype c = 0; c < cells.size(); ++c) {
            const bool last = c + 1 == cells.size();
            write(QRectF(x, m_y, widths[std::size_t(c)] - 6, tallest + 2), Qt::TextWordWrap, cells[c],
                  last && verdict == Verdict::fail   ? m_look.fail
                  : last && verdict == Verdict::pass ? m_look.pass
                                                     : colour);
            x += widths[std::size_t(c)];
        }
        m_y += tallest + 2;
        if (!m_dry) {
            m_painter.setPen(QPen(m_look.hairline, 0.5));
            m_painter.drawLine(QPointF(left, m_y), QPointF(left + width, m_y));
        }
        m_y += 2;
    }
    double rowHeight(const std::vector<ReportContent::Figure> &figures, std::size_t from, std::size_t to, double wide)
    {
        m_painter.setFont(m_look.font(9));
        double tallest = 0;
        for (std::size_t k = from; k < std::min(from + 2, to); ++k)
            tallest = std::max(tallest, wide / figures[k].size.width() * figures[k].size.height() +
                                            heightOf(breakable(figures[k].caption), wide) + 4);
        return tallest;
    }
    void figure(const ReportContent::Figure &figure, double x, double wide)
    {
        m_painter.setFont(m_look.font(9));
        const QString caption = breakable(figure.caption);
        const double words = heightOf(caption, wide);
        write(QRectF(x, m_y, wide, words + 2), Qt::TextWordWrap, caption, m_look.quiet);
        if (m_dry) return;
        const double scale = wide / figure.size.width();
        m_painter.save();
        m_painter.translate(x, m_y + words + 3);
        m_painter.scale(scale, scale);
        figure.paint(m_painter, QRectF(QPointF(0, 0), figure.size));
        m_painter.restore();
    }

    QPdfWriter &m_writer;
    QPainter &m_painter;
    QString m_title;
    const Look &m_look = Look::light();
    bool m_dry;
    double m_y = top;
    int m_page = 0, m_pages = 0;
    std::vector<std::pair<QString, int>> m_headings; ///< with their pages, from 0 on
};

void write(PageWriter &page, const ReportContent &content, const std::vector<std::pair<QString, int>> &headings,
           bool room, Progress &progress)
{
    const Look &look = Look::light();
    page.line(content.title, 20, true, look.ink, 3);
    for (const QString &fact : content.facts) page.line(fact, 10, false, look.quiet, 1);
    const QString word = content.failed ? "✕ Fails" : content.verdict == "pass" ? "✓ Passes" : "No limits";
    page.verdict(word, content.summary,
                 content.failed              ? look.fail
                 : content.verdict == "pass" ? look.pass
                                             : look.quiet);
    page.table(content.ledger);
    page.contents(headings, room);
    for (std::size_t i = 0; i < content.sections.size(); ++i) {
        const auto [from, to] = content.figuresOf(i);
        if (from == to) continue;
        page.heading(content.sections[i].title, page.firstRow(content.figures, from, to));
        page.figures(content.figures, from, to, progress);
    }
    for (const ReportContent::Table *table : {&content.failures, &content.keptOut, &content.provenance, &content.clocks,
                                              &content.captures, &content.stated})
        page.table(*table);
}

} // namespace

std::string reportPdf(const ReportContent &content, Progress &progress)
{
    QByteArray bytes;
    QBuffer buffer(&bytes);
    buffer.open(QIODevice::WriteOnly);
    std::vector<PdfHeading> outline;
    progress.expect(double(content.figures.size()));
    {
        QPdfWriter writer(&buffer);
        writer.setPageSize(QPageSize(QPageSize::A4));
        writer.setPageMargins(QMarginsF(0, 0, 0, 0));
        writer.setResolution(288);
        writer.setTitle(content.title);
        writer.setCreator("Fulvex");
        QPainter painter(&writer);
        const double scale = writer.resolution() / 72.0 * 0.8;
        painter.scale(scale, scale);
        std::vector<std::pair<QString, int>> headings;
        int pages = 0;
        for (int pass = 0; pass < 2; ++pass) { // the second knows what the contents list
            PageWriter measured(writer, painter, content.title, true);
            measured.begin(0);
            write(measured, content, headings, true, progress);
            headings = measured.headings();
            pages = measured.pages();
        }
        PageWriter page(writer, painter, content.title, false);
        page.begin(pages);
        write(page, content, headings, false, progress);
        for (const auto &[words, at] : page.headings()) outline.push_back({words.toStdU16String(), std::size_t(at)});
    }
    return sealed(withAdditions(bytes.toStdString(), outline, "results.json", content.resultsJson));
}

} // namespace fulvex
