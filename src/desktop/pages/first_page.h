#pragma once

#include "workbench.h"

#include <QLabel>
#include <QListWidget>
#include <QPushButton>

namespace fulvex {

/// What the window shows as long as there is nothing in it: what to drop here, the demo, and what was worked on lately,
/// each with a picture.
class FirstPage final : public QWidget {
    Q_OBJECT
public:
    explicit FirstPage(Workbench &bench, QWidget *parent = nullptr);
    /// Looks anew what was worked on lately.
    void refresh();

signals:
    void tourRequested();
    void manualRequested();
    void openRequested(); ///< of whatever file the user will choose
    void projectRequested(const QString &path);

private:
    QWidget *dropPlace();
    Workbench &m_bench;
    QLabel *m_lately;
    QListWidget *m_recent;
};

/// The project of the demo, where it was made or installed; empty where it is not.
QString demoProject();

} // namespace fulvex
