#pragma once

#include "workbench.h"

#include <QCheckBox>
#include <QDialog>
#include <QLineEdit>

namespace fulvex {

/// Asks why moments are not to count in a row, and whether in the other rows of its channel neither. Nothing is kept
/// out without a reason.
class KeepOutDialog final : public QDialog {
    Q_OBJECT
public:
    KeepOutDialog(const Workbench &bench, const std::string &row, std::size_t moments, QWidget *parent);
    std::string reason() const { return m_reason->text().trimmed().toStdString(); }
    std::vector<std::string> rows() const; ///< that the moments are kept out of

private:
    std::string m_row;
    std::vector<std::string> m_others;
    QLineEdit *m_reason;
    QCheckBox *m_all;
};

struct SpanOut {
    double start, stop; ///< s
};
/// One undoable step.
void keepOut(Workbench &bench, const std::vector<std::string> &rows, const std::vector<SpanOut> &spans,
             const std::string &reason);
/// Takes what keeps moments out of a row away from it: they count again.
void letBackIn(Workbench &bench, const std::string &row, const std::vector<std::string> &by);

} // namespace fulvex
