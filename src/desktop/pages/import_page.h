#pragma once

#include "workbench.h"

#include <QCheckBox>
#include <QComboBox>
#include <QGridLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QScrollArea>
#include <QTabBar>
#include <QTimer>

namespace fulvex {

class FileView;

/// Files on their way in: each one's beginning as it is, beside what was understood of it. What the user corrects is
/// read again at once and marked as theirs.
class ImportPage final : public QWidget {
    Q_OBJECT
public:
    explicit ImportPage(Workbench &bench, QWidget *parent = nullptr);
    void show(std::vector<ImportDraft> drafts);
    const std::vector<ImportDraft> &drafts() const { return m_drafts; }

signals:
    void finished(bool added);

protected:
    void keyPressEvent(QKeyEvent *event) override;

private:
    ImportDraft &draft() { return m_drafts[std::size_t(m_tabs->currentIndex())]; }
    void rebuild();
    void fillTableFacts(QGridLayout *grid);
    QWidget *offerButtons(); ///< readings of a file that says nothing of itself
    void fillFacts(QGridLayout *grid);
    void fillColumns(QVBoxLayout *column);
    void fillHints();
    /// A row of what was understood: words, value to be edited, and where it comes from.
    void addFact(QGridLayout *grid, const QString &words, QWidget *value, bool yours, int fact = -1);
    QLineEdit *edit(const QString &name, const QString &words, const std::function<bool(const QString &)> &take);
    QComboBox *choice(const QString &name, const QStringList &words, int current, const std::function<void(int)> &take);
    QWidget *columnCard(std::size_t index);
    int factNamed(const std::string &what) const;
    /// Reads the file again with what was corrected.
    void reread();
    void add();

    Workbench &m_bench;
    std::vector<ImportDraft> m_drafts;
    int m_shown = 0; ///< counts what was brought in
    QTabBar *m_tabs;
    FileView *m_file;
    QScrollArea *m_understood;
    QLabel *m_hint;
    QCheckBox *m_difference;
    QPushButton *m_add;
};

} // namespace fulvex
