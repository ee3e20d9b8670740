#pragma once

#include "figure_worker.h"
#include "suggested_rows.h"
#include "workbench.h"

#include <QComboBox>
#include <QFrame>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QPushButton>
#include <set>

namespace fulvex {

/// The quantities in their groups, with a drawing of what each measures, to add as rows of the Ledger; several at once.
/// Above them: what fits the channel, told from its signal, and the sets of rows that the user kept.
/// What the chosen channel cannot give (it has no clock, no eye, no other channel) says so. Typing searches; Space or a
/// click takes a quantity, Return adds what is taken.
class QuantityPicker final : public QFrame {
    Q_OBJECT
public:
    explicit QuantityPicker(Workbench &bench, QWidget *parent = nullptr);
    /// Opens below (or above) a place on the screen.
    void open(const std::string &channel, const QRect &by);

protected:
    bool eventFilter(QObject *watched, QEvent *event) override;

private:
    void fill();
    void search();
    void take(QListWidgetItem *item);
    void showTaken();
    void add();
    void offerSuggested();
    void offerSets();
    QListWidgetItem *offer(const QString &name, const QString &title, const QString &tip);
    /// Does what an offer above the quantities says, at once.
    void perform(const QString &name);
    void wantSuggested();
    std::string channel() const;
    std::string other() const; ///< that a pair is made with
    Workbench &m_bench;
    QComboBox *m_channels;
    QLineEdit *m_search;
    QListWidget *m_list;
    QPushButton *m_add;
    std::set<QString> m_taken; ///< names of quantities
    Drawn<SuggestedRows> m_suggested;
};

} // namespace fulvex
