#pragma once

#include "workbench.h"

#include <QLineEdit>
#include <QListWidget>

namespace fulvex {

/// The masks that there are, by title and with a small drawing of each, to be searched and chosen from; another file as
/// well.
class MaskList final : public QWidget {
    Q_OBJECT
public:
    /// `chosen`: the mask that is in use, a shipped one's id or a file; empty: none.
    MaskList(const Workbench &bench, const std::string &chosen, QWidget *parent = nullptr);

signals:
    void picked(const std::string &mask); ///< as a document names it

private:
    void add(const std::string &mask, const QString &title, const QString &tip, const QImage &drawing);
    void search(const QString &words);
    void pick(const QListWidgetItem *item);
    QLineEdit *m_search;
    QListWidget *m_list;
    std::string m_chosen;
};

} // namespace fulvex
