#pragma once

#include "figure_worker.h"
#include "report_pages.h"

#include <QAbstractScrollArea>
#include <QImage>
#include <map>

namespace fulvex {

/// A page as so many pixels show it. May be made on any thread.
struct PageImage {
    struct From {
        std::shared_ptr<const ReportPages> pages;
        std::size_t page = 0;
        int width = 0; ///< pixels
        bool operator==(const From &) const = default;
    };
    static PageImage of(const From &from);
    From from;
    QImage image;
};

/// Pages below each other, as wide as there is room, or larger: Ctrl and the wheel. They are drawn beside the
/// interface, and only those that are seen.
class PageArea final : public QAbstractScrollArea {
    Q_OBJECT
public:
    PageArea(FigureWorker &worker, QWidget *parent = nullptr);
    /// What is seen stays where it is as far as it can.
    void show(std::shared_ptr<const ReportPages> pages);
    std::size_t pageCount() const { return m_pages ? m_pages->pages.size() : 0; }
    std::size_t currentPage() const; ///< the one in the middle
    void goToPage(std::size_t page);
    bool isDrawn() const; ///< all that is seen is there, as it is now

signals:
    void scrolled();

protected:
    void paintEvent(QPaintEvent *) override;
    void resizeEvent(QResizeEvent *) override;
    void wheelEvent(QWheelEvent *event) override;
    void keyPressEvent(QKeyEvent *event) override;
    void scrollContentsBy(int dx, int dy) override;

private:
    QSizeF pageSize() const; ///< pixels
    double pageTop(std::size_t page) const;
    std::pair<std::size_t, std::size_t> seen() const; ///< from … to
    void layOut();
    FigureWorker &m_worker;
    std::shared_ptr<const ReportPages> m_pages;
    std::map<std::size_t, std::unique_ptr<Drawn<PageImage>>> m_drawn; ///< of pages seen lately
    double m_zoom = 1;                                                ///< 1: as wide as there is room
};

} // namespace fulvex
