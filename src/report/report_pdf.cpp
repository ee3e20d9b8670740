#include "pdf_additions.h"
#include "report.h"
#include "report_pages.h"
#include "report_seal.h"

#include <QBuffer>
#include <QPageSize>
#include <QPdfWriter>

namespace fulvex {

std::string reportPdf(const ReportContent &content, Progress &progress)
{
    const ReportPages pages = reportPages(content, progress);
    progress.expect(double(content.figures()));
    QByteArray bytes;
    QBuffer buffer(&bytes);
    buffer.open(QIODevice::WriteOnly);
    {
        QPdfWriter writer(&buffer);
        writer.setPageSize(QPageSize(content.paper == "letter" ? QPageSize::Letter : QPageSize::A4));
        writer.setPageMargins(QMarginsF(0, 0, 0, 0));
        writer.setResolution(288);
        writer.setTitle(content.title);
        writer.setCreator("Fulvex");
        QPainter painter(&writer);
        const double scale = writer.resolution() / 72.0 * ReportPages::unit;
        painter.scale(scale, scale);
        for (std::size_t page = 0; page < pages.pages.size(); ++page) {
            if (page > 0) writer.newPage();
            pages.paint(painter, page);
            progress.advance(double(pages.pages[page].figures));
        }
    }
    std::vector<PdfHeading> outline;
    for (const ReportPages::Heading &heading : pages.headings)
        outline.push_back({heading.words.toStdU16String(), heading.page});
    return sealed(withAdditions(bytes.toStdString(), outline, "results.json", content.resultsJson));
}

} // namespace fulvex
