#include "look.h"
#include "report.h"

#include <QBuffer>
#include <QPageSize>
#include <QPdfWriter>

namespace fulvex {

namespace {

/// Lays content on A4 pages, top down; a unit is 0.8 points, so that the table has room.
class PageWriter {
public:
    PageWriter(QPdfWriter &writer, const QString &title) : m_writer(writer), m_painter(&writer), m_title(title)
    {
        const double scale = writer.resolution() / 72.0 * 0.8;
        m_painter.scale(scale, scale);
        footer();
    }
    void line(const QString &textLine, double size, bool bold, QColor colour, double after)
    {
        m_painter.setFont(m_look.font(size, bold));
        const QRectF wanted = m_painter.boundingRect(QRectF(left, 0, width, 1000), Qt::TextWordWrap, textLine);
        need(wanted.height());
        m_painter.setPen(colour);
        m_painter.drawText(QRectF(left, m_y, width, wanted.height() + 2), Qt::TextWordWrap, textLine);
        m_y += wanted.height() + after;
    }
    void table(const ReportContent::Table &table, const std::vector<double> &shares)
    {
        if (table.rows.empty()) return;
        m_y += 8;
        need(60);
        line(table.heading, 12, true, m_look.ink, 4);
        row(table.columns, shares, m_look.quiet, Verdict::none, false);
        for (std::size_t i = 0; i < table.rows.size(); ++i) {
            const bool verdict = !table.verdicts.empty();
            row(table.rows[i], shares, m_look.ink, verdict ? table.verdicts[i] : Verdict::none, verdict);
        }
    }
    void figures(const std::vector<ReportContent::Figure> &figures, Progress &progress)
    {
        progress.expect(double(figures.size()));
        constexpr double gap = 12, half = (width - gap) / 2;
        for (std::size_t i = 0; i < figures.size(); i += 2) {
            double tallest = 0;
            for (std::size_t k = i; k < std::min(i + 2, figures.size()); ++k)
                tallest = std::max(tallest, half / figures[k].size.width() * figures[k].size.height() + 30);
            need(tallest);
            for (std::size_t k = i; k < std::min(i + 2, figures.size()); ++k) {
                progress.advance(1);
                figure(figures[k], left + double(k - i) * (half + gap), half);
            }
            m_y += tallest + 6;
        }
    }
    QPainter &painter() { return m_painter; }

private:
    static constexpr double left = 52, width = 640, top = 52, bottom = 996;
    void footer()
    {
        ++m_page;
        m_y = top;
        m_painter.setFont(m_look.font(9));
        m_painter.setPen(m_look.quiet);
        m_painter.drawText(QRectF(left, 1010, width, 14), Qt::AlignLeft, m_title);
        m_painter.drawText(QRectF(left, 1010, width, 14), Qt::AlignRight, QString::number(m_page));
    }
    void need(double height)
    {
        if (m_y + height <= bottom) return;
        m_writer.newPage();
        footer();
    }
    void row(const QStringList &cells, const std::vector<double> &shares, QColor colour, Verdict verdict,
             bool hasVerdict)
    {
        m_painter.setFont(m_look.font(9));
        double tallest = 12;
        for (qsizetype c = 0; c < cells.size(); ++c)
            tallest = std::max(tallest, m_painter
                                            .boundingRect(QRectF(0, 0, shares[std::size_t(c)] * width - 6, 1000),
                                                          Qt::TextWrapAnywhere, cells[c])
                                            .height());
        need(tallest + 4);
        double x = left;
        for (qsizetype c = 0; c < cells.size(); ++c) {
            const bool last = hasVerdict && c + 1 == cells.size();
            m_painter.setPen(last && verdict == Verdict::fail   ? m_look.fail
                             : last && verdict == Verdict::pass ? m_look.pass
                                                                : colour);
            const QString mark = last && verdict == Verdict::fail ? "✕ " : last && verdict == Verdict::pass ? "✓ " : "";
            m_painter.drawText(QRectF(x, m_y, shares[std::size_t(c)] * width - 6, tallest + 2), Qt::TextWrapAnywhere,
                               mark + cells[c]);
            x += shares[std::size_t(c)] * width;
        }
        m_y += tallest + 2;
        m_painter.setPen(QPen(m_look.hairline, 0.5));
        m_painter.drawLine(QPointF(left, m_y), QPointF(left + width, m_y));
        m_y += 2;
    }
    void figure(const ReportContent::Figure &figure, double x, double wide)
    {
        m_painter.setFont(m_look.font(9));
        m_painter.setPen(m_look.quiet);
        m_painter.drawText(QRectF(x, m_y, wide, 26), Qt::TextWordWrap, figure.caption);
        const double scale = wide / figure.size.width();
        m_painter.save();
        m_painter.translate(x, m_y + 27);
        m_painter.scale(scale, scale);
        figure.paint(m_painter, QRectF(QPointF(0, 0), figure.size));
        m_painter.restore();
    }

    QPdfWriter &m_writer;
    QPainter m_painter;
    QString m_title;
    const Look &m_look = Look::light();
    double m_y = top;
    int m_page = 0;
};

} // namespace

std::string reportPdf(const ReportContent &content, Progress &progress)
{
    QByteArray bytes;
    QBuffer buffer(&bytes);
    buffer.open(QIODevice::WriteOnly);
    {
        QPdfWriter writer(&buffer);
        writer.setPageSize(QPageSize(QPageSize::A4));
        writer.setPageMargins(QMarginsF(0, 0, 0, 0));
        writer.setResolution(288);
        writer.setTitle(content.title);
        writer.setCreator("Fulvex");
        PageWriter page(writer, content.title);
        const Look &look = Look::light();
        page.line(content.title, 18, true, look.ink, 2);
        for (const QString &fact : content.facts) page.line(fact, 9, false, look.quiet, 1);
        const QString mark = content.failed ? "✕ " : content.verdict == "pass" ? "✓ " : "";
        page.line(mark + content.verdict + " — " + content.summary, 13, true, content.failed ? look.fail : look.pass,
                  4);
        page.table(content.ledger, {0.195, 0.10, 0.165, 0.105, 0.085, 0.085, 0.07, 0.13, 0.065});
        page.line("", 9, false, look.ink, 2);
        page.figures(content.figures, progress);
        page.table(content.failures, {0.2, 0.25, 0.2, 0.15, 0.2});
        page.table(content.keptOut, {0.28, 0.2, 0.17, 0.35});
        page.table(content.provenance, {0.28, 0.72});
        page.table(content.clocks, {0.15, 0.3, 0.2, 0.35});
        page.table(content.captures, {0.1, 0.34, 0.15, 0.11, 0.3});
        page.table(content.stated, {0.15, 0.3, 0.55});
    }
    return bytes.toStdString();
}

} // namespace fulvex
