#pragma once

#include "error.h"
#include "formula_sketch.h"
#include "workbench.h"

#include <QCompleter>
#include <QFrame>
#include <QLabel>
#include <QPlainTextEdit>
#include <QPushButton>

namespace fulvex {

/// The text of a formula: completes names as they are typed, and marks a place in it.
class FormulaText final : public QPlainTextEdit {
    Q_OBJECT
public:
    explicit FormulaText(QWidget *parent = nullptr);
    /// What may stand in a formula, functions with their parenthesis.
    void setWords(const QStringList &words);
    void mark(int place, const QColor &ink); ///< -1: none
    bool completing() const;

signals:
    void taken();
    void left();
    void parameterWanted();
    void completionShown(const QString &word);

protected:
    void keyPressEvent(QKeyEvent *event) override;

private:
    void complete();
    QString typedWord() const;
    QCompleter *m_completer;
};

/// What a formula would make of what is in view.
class FormulaPicture final : public QWidget {
    Q_OBJECT
public:
    FormulaPicture(Workbench &bench, QWidget *parent = nullptr);
    void show(std::shared_ptr<const FormulaSketch> sketch);

protected:
    void paintEvent(QPaintEvent *event) override;

private:
    Workbench &m_bench;
    std::shared_ptr<const FormulaSketch> m_sketch; ///< the last that could be made
};

/// Where a channel's formula is typed: completion, what is wrong and where, the function under the cursor, the unit and
/// a picture of what is in view, all while one types; the project changes only when it is taken. Return takes it,
/// Escape leaves everything as it was. A number becomes a parameter by one key.
class FormulaEditor final : public QFrame {
    Q_OBJECT
public:
    FormulaEditor(Workbench &bench, QWidget *window);
    /// Edits a channel's formula; an empty id: one of a new channel, from a first guess.
    void begin(const std::string &channel, const QString &text);
    void makeParameter(); ///< of the number at the cursor

signals:
    void done();

private:
    /// The number at the cursor, and the name of the argument that it is.
    struct NumberHere {
        int at, length;
        double value;
        std::string unit, name;
    };
    std::optional<NumberHere> numberHere() const;
    void typed();
    void moved();
    void take();
    /// What keeps the project from taking a formula.
    std::optional<Error> refusal(const std::string &formula) const;
    /// Says what is wrong with a formula, and marks the character that `where` names.
    void sayWrong(const std::string &formula, const std::string &where, const std::string &found,
                  const std::string &remedy);
    void leave();
    void came();
    void place();
    Workbench &m_bench;
    FormulaText *m_text;
    QLabel *m_state, *m_help;
    FormulaPicture *m_picture;
    QPushButton *m_parameter;
    Drawn<FormulaSketch> m_sketch;
    std::string m_channel; ///< being edited; empty: a new one
};

} // namespace fulvex
