#include "page_area.h"

#include "number_text.h"

#include <QKeyEvent>
#include <QPainter>
#include <QScrollBar>
#include <QWheelEvent>
#include <algorithm>
#include <cmath>

namespace fulvex {

constexpr double between = 18; // pixels, beside pages and between them

PageImage PageImage::of(const From &from)
{
    const QSizeF size = from.pages->size;
    const double scale = from.width / size.width();
    QImage image(from.width, int(std::ceil(size.height() * scale)), QImage::Format_RGB32);
    image.fill(Qt::white);
    const PlainNumbers asPrinted;
    QPainter painter(&image);
    painter.setRenderHints(QPainter::Antialiasing | QPainter::TextAntialiasing);
    painter.scale(scale, scale);
    from.pages->paint(painter, from.page);
    return {from, image};
}

PageArea::PageArea(FigureWorker &worker, QWidget *parent) : QAbstractScrollArea(parent), m_worker(worker)
{
    setObjectName("pageArea");
    setFrameShape(QFrame::NoFrame);
    setFocusPolicy(Qt::StrongFocus);
    setToolTip(tr("As it will be printed · PgUp, PgDn: the next page · Ctrl+wheel: larger or smaller"));
}

void PageArea::show(std::shared_ptr<const ReportPages> pages)
{
    if (pages == m_pages) return;
    m_pages = std::move(pages);
    std::erase_if(m_drawn, [&](const auto &one) { return one.first >= pageCount(); });
    layOut();
}

QSizeF PageArea::pageSize() const
{
    if (!m_pages) return {};
    constexpr double largest = 740; // pixels, where there is more room than a page needs
    const double wide = std::min(largest, std::max(100.0, viewport()->width() - 2 * between)) * m_zoom;
    return {wide, wide * m_pages->size.height() / m_pages->size.width()};
}

double PageArea::pageTop(std::size_t page) const
{
    return between + double(page) * (pageSize().height() + between);
}

std::pair<std::size_t, std::size_t> PageArea::seen() const
{
    if (pageCount() == 0) return {0, 0};
    const double each = pageSize().height() + between, from = verticalScrollBar()->value();
    const auto at = [&](double y) {
        return std::size_t(std::clamp(std::floor(y / each), 0.0, double(pageCount() - 1)));
    };
    return {at(from), at(from + viewport()->height()) + 1};
}

std::size_t PageArea::currentPage() const
{
    if (pageCount() == 0) return 0;
    const double each = pageSize().height() + between,
                 middle = verticalScrollBar()->value() + viewport()->height() / 3.0;
    return std::size_t(std::clamp(std::floor(middle / each), 0.0, double(pageCount() - 1)));
}

void PageArea::goToPage(std::size_t page)
{
    verticalScrollBar()->setValue(int(pageTop(std::min(page, pageCount() - 1)) - between / 2));
}

bool PageArea::isDrawn() const
{
    const auto [from, to] = seen();
    for (std::size_t page = from; page < to; ++page) {
        const auto known = m_drawn.find(page);
        if (known == m_drawn.end() || !known->second->newest() || known->second->newest()->from.pages != m_pages)
            return false;
    }
    return to > from;
}

void PageArea::layOut()
{
    const QSizeF size = pageSize();
    const double high = pageCount() ? pageTop(pageCount()) : 0, wide = size.width() + 2 * between;
    verticalScrollBar()->setPageStep(viewport()->height());
    verticalScrollBar()->setSingleStep(40);
    verticalScrollBar()->setRange(0, std::max(0, int(high) - viewport()->height()));
    horizontalScrollBar()->setPageStep(viewport()->width());
    horizontalScrollBar()->setRange(0, std::max(0, int(wide) - viewport()->width()));
    viewport()->update();
    emit scrolled();
}

void PageArea::paintEvent(QPaintEvent *)
{
    QPainter painter(viewport());
    painter.setRenderHint(QPainter::SmoothPixmapTransform);
    const QSizeF size = pageSize();
    const double left = std::max(between, (viewport()->width() - size.width()) / 2) - horizontalScrollBar()->value();
    const auto [from, to] = seen();
    std::erase_if(m_drawn, [from = from, to = to](const auto &one) {
        constexpr std::size_t kept = 3; // on either side
        return one.first + kept < from || one.first > to + kept;
    });
    for (std::size_t page = from; page < to; ++page) {
        auto &drawn = m_drawn[page];
        if (!drawn) drawn = std::make_unique<Drawn<PageImage>>(m_worker, [this] { viewport()->update(); });
        drawn->want({m_pages, page, int(size.width() * devicePixelRatioF())});
        const QRectF area(left, pageTop(page) - verticalScrollBar()->value(), size.width(), size.height());
        painter.fillRect(area, Qt::white);
        if (const auto &made = drawn->newest()) painter.drawImage(area, made->image);
        painter.setPen(palette().color(QPalette::Mid));
        painter.drawRect(area);
    }
}

void PageArea::resizeEvent(QResizeEvent *)
{
    const std::size_t page = currentPage();
    const bool begun = verticalScrollBar()->value() > 0;
    layOut();
    if (begun) goToPage(page);
}

void PageArea::wheelEvent(QWheelEvent *event)
{
    if (!(event->modifiers() & Qt::ControlModifier)) return QAbstractScrollArea::wheelEvent(event);
    const std::size_t page = currentPage();
    m_zoom = std::clamp(m_zoom * std::pow(1.2, event->angleDelta().y() / 120.0), 0.3, 4.0);
    layOut();
    goToPage(page);
}

void PageArea::keyPressEvent(QKeyEvent *event)
{
    if (pageCount() == 0) return QAbstractScrollArea::keyPressEvent(event);
    const std::size_t page = currentPage();
    switch (event->key()) {
    case Qt::Key_PageDown:
        return goToPage(page + 1);
    case Qt::Key_PageUp:
        return goToPage(page > 0 ? page - 1 : 0);
    case Qt::Key_Home:
        return goToPage(0);
    case Qt::Key_End:
        return goToPage(pageCount() - 1);
    default:
        QAbstractScrollArea::keyPressEvent(event);
    }
}

void PageArea::scrollContentsBy(int, int)
{
    viewport()->update();
    emit scrolled();
}

} // namespace fulvex
