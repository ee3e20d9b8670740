#pragma once

#include <QDialog>
#include <string>
#include <vector>

class QListWidget;

namespace fulvex {

/// Some of a list of names, ticked by hand; at least one.
class ChooseSeveral : public QDialog {
    Q_OBJECT
public:
    /// `ticked`: to begin with. `accept`: what its button says.
    ChooseSeveral(const QString &question, const std::vector<std::string> &names,
                  const std::vector<std::string> &ticked, const QString &accept, QWidget *parent);
    std::vector<std::string> chosen() const;

private:
    QListWidget *m_list;
};

} // namespace fulvex
