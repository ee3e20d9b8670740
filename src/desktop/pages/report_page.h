#pragma once

#include "inspector_form.h"
#include "page_area.h"
#include "workbench.h"

#include <QProgressBar>
#include <QPushButton>
#include <QTimer>
#include <QTreeWidget>

namespace fulvex {

/// The report as it will be printed, and beside it what its first page says and which parts it has, in which order.
/// What is set is part of the project; the pages follow.
class ReportPage final : public QWidget {
    Q_OBJECT
public:
    explicit ReportPage(Workbench &bench, QWidget *parent = nullptr);
    /// While it is open its pages are laid out as the project changes.
    void setOpen(bool open);
    bool isOpen() const { return m_open; }

signals:
    void left();
    void writeWanted();

protected:
    void keyPressEvent(QKeyEvent *event) override;

private:
    void refresh(); ///< what is set, as the document says
    void fillParts();
    void takeParts(); ///< as the list stands, into the document
    void relay();     ///< asks for the pages anew
    void showPages(std::shared_ptr<const MadePages> made);
    void showPlace();
    void chooseLogo();
    void offerKept();
    void keep();
    Workbench &m_bench;
    InspectorForm *m_form;
    QTreeWidget *m_parts;
    PageArea *m_area;
    QLabel *m_place, *m_problem;
    QProgressBar *m_progress;
    QPushButton *m_logo;
    QTimer m_soon; ///< so that a word being typed is laid out once
    QTimer m_taking;
    bool m_open = false, m_filling = false;
};

} // namespace fulvex
