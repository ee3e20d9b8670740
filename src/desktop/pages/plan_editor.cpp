#include "plan_editor.h"

#include "atomic_file.h"
#include "axis_painter.h"
#include "error.h"
#include "quantity_table.h"
#include "references.h"

#include <QBoxLayout>
#include <QFileDialog>
#include <QFormLayout>
#include <QHeaderView>
#include <QKeyEvent>
#include <QMessageBox>
#include <algorithm>

namespace fulvex {

/// What the plan was before, and is then.
class PlanEditor::Step final : public QUndoCommand {
public:
    Step(PlanEditor &editor, const QString &what, Plan before, Plan after)
        : QUndoCommand(what), m_editor(editor), m_before(std::move(before)), m_after(std::move(after))
    {
    }
    /// What is typed into a text goes in one.
    int id() const override { return text() == tr("what is done") ? 1 : -1; }
    bool mergeWith(const QUndoCommand *later) override
    {
        m_after = static_cast<const Step *>(later)->m_after;
        return true;
    }
    void undo() override { m_editor.show(m_before); }
    void redo() override { m_editor.show(m_after); }

private:
    PlanEditor &m_editor;
    Plan m_before, m_after;
};

PlanEditor::PlanEditor(Workbench &bench, QWidget *parent)
    : QWidget(parent), m_bench(bench), m_steps(new QListWidget), m_setup(new QComboBox), m_text(new QPlainTextEdit),
      m_problem(new QLabel)
{
    setObjectName("planEditor");
    const auto changeOf = [this](const QString &what, const std::function<void()> &act) {
        change(what, [&](Plan &) { act(); });
    };
    m_slots = new FieldTable({.list = [this] { return EntryList(EntryKind::any, "capture", 100, step().captures); },
                              .unit = [](std::size_t, const Field &) { return "V"; },
                              .choices = [this](std::size_t, const Field &field) { return namesFor(field.key); },
                              .change = changeOf},
                             this);
    m_tests = new FieldTable({.list = [this] { return EntryList(EntryKind::any, "test", 1000, step().tests); },
                              .unit = [this](std::size_t row, const Field &) { return unitOf(step().tests[row]); },
                              .choices = [this](std::size_t, const Field &field) { return namesFor(field.key); },
                              .change = changeOf},
                             this);
    for (FieldTable *table : {m_slots, m_tests}) connect(table, &FieldTable::refused, &bench, &Workbench::failed);
    auto *layout = new QHBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->addWidget(makeAside());
    layout->addWidget(makeStep(), 1);
    connect(&m_undo, &QUndoStack::cleanChanged, this, [this] { refresh(); });
}

QPushButton *PlanEditor::button(const QString &words, const char *name, std::function<void()> pressed)
{
    auto *made = new QPushButton(words);
    made->setObjectName(name);
    made->setProperty("small", true);
    connect(made, &QPushButton::clicked, this, std::move(pressed));
    return made;
}

QLineEdit *PlanEditor::lineFor(const char *name, std::function<std::string &(Plan &)> member)
{
    auto *line = new QLineEdit;
    line->setObjectName(name);
    connect(line, &QLineEdit::editingFinished, this, [this, line, member] {
        const std::string typed = line->text().trimmed().toStdString();
        if (!m_filling && member(m_plan) != typed) change(tr("typing"), [&](Plan &plan) { member(plan) = typed; });
    });
    m_lines.emplace_back(line, std::move(member));
    return line;
}

QWidget *PlanEditor::makeAside()
{
    auto *aside = new QWidget;
    aside->setFixedWidth(280);
    auto *layout = new QVBoxLayout(aside);
    layout->addWidget(button(tr("Back (Esc)"), "planBack", [this] { leave(); }));
    auto *form = new QFormLayout;
    form->addRow(tr("title"), lineFor("planTitle", [](Plan &plan) -> std::string & { return plan.title; }));
    form->addRow(tr("name"), lineFor("planId", [](Plan &plan) -> std::string & { return plan.id; }));
    form->addRow(tr("revision"), lineFor("planRevision", [](Plan &plan) -> std::string & { return plan.revision; }));
    form->addRow(tr("follows"), lineFor("planSource", [](Plan &plan) -> std::string & { return plan.source; }));
    layout->addLayout(form);
    auto *heading = new QLabel(tr("Steps"));
    heading->setObjectName("heading");
    layout->addWidget(heading);
    m_steps->setObjectName("planSteps");
    m_steps->setToolTip(tr("The steps in the order in which they are done"));
    connect(m_steps, &QListWidget::currentRowChanged, this, [this] {
        if (!m_filling) refresh();
    });
    layout->addWidget(m_steps, 1);
    auto *buttons = new QHBoxLayout;
    buttons->addWidget(button(tr("Add"), "stepAdd", [this] {
        int at = m_steps->currentRow() + 1;
        change(tr("add a step"), [&](Plan &plan) {
            std::vector<std::string> taken;
            for (const PlanStep &one : plan.steps) taken.push_back(one.id);
            PlanStep fresh;
            fresh.id = freeName(taken, "step");
            fresh.title = tr("Step %1").arg(plan.steps.size() + 1).toStdString();
            if (!plan.setups.empty()) {
                fresh.setup = step().setup.empty() ? plan.setups.front().id : step().setup;
                if (const PlanSetup *its = findEntry(plan.setups, fresh.setup)) addSlots(plan, fresh, its->document);
            }
            at = std::clamp(at, 0, int(plan.steps.size()));
            plan.steps.insert(plan.steps.begin() + at, std::move(fresh));
        });
        m_steps->setCurrentRow(at);
    }));
    buttons->addWidget(button(tr("Remove"), "stepRemove", [this] {
        const int at = m_steps->currentRow();
        if (at < 0) return;
        change(tr("remove a step"), [&](Plan &plan) { plan.steps.erase(plan.steps.begin() + at); });
    }));
    for (const int by : {-1, 1}) {
        buttons->addWidget(button(by < 0 ? "↑" : "↓", by < 0 ? "stepUp" : "stepDown", [this, by] {
            const int at = m_steps->currentRow(), to = at + by;
            if (at < 0 || to < 0 || to >= int(m_plan.steps.size())) return;
            change(tr("move a step"),
                   [&](Plan &plan) { std::swap(plan.steps[std::size_t(at)], plan.steps[std::size_t(to)]); });
            m_steps->setCurrentRow(to);
        }));
    }
    layout->addLayout(buttons);
    layout->addWidget(button(tr("Take the open project as a setup"), "takeSetup", [this] { takeSetup(); }));
    m_save = new QPushButton(tr("Save"));
    m_save->setObjectName("planSave");
    connect(m_save, &QPushButton::clicked, this, &PlanEditor::save);
    layout->addWidget(m_save);
    return aside;
}

QTableView *PlanEditor::makeTable(FieldTable *model, const char *name)
{
    auto *table = new QTableView;
    table->setObjectName(name);
    table->setModel(model);
    table->setItemDelegate(new FieldDelegate(table));
    table->setSelectionBehavior(QAbstractItemView::SelectRows);
    table->setEditTriggers(QAbstractItemView::AllEditTriggers);
    table->setShowGrid(false);
    table->verticalHeader()->hide();
    table->verticalHeader()->setDefaultSectionSize(24);
    table->horizontalHeader()->setDefaultAlignment(Qt::AlignLeft | Qt::AlignVCenter);
    table->horizontalHeader()->setDefaultSectionSize(92);
    table->horizontalHeader()->setStretchLastSection(true);
    constexpr int titleColumn = 1, titleWidth = 170;
    table->setColumnWidth(titleColumn, titleWidth);
    table->setHorizontalScrollMode(QAbstractItemView::ScrollPerPixel);
    return table;
}

QWidget *PlanEditor::makeStep()
{
    auto *right = new QWidget;
    auto *layout = new QVBoxLayout(right);
    auto *form = new QFormLayout;
    form->addRow(tr("step"), lineFor("stepTitle", [this](Plan &) -> std::string & { return step().title; }));
    form->addRow(tr("name"), lineFor("stepId", [this](Plan &) -> std::string & { return step().id; }));
    form->addRow(tr("device state"), lineFor("stepState", [this](Plan &) -> std::string & { return step().state; }));
    form->addRow(tr("picture"), lineFor("stepPicture", [this](Plan &) -> std::string & { return step().picture; }));
    m_setup->setObjectName("stepSetup");
    connect(m_setup, &QComboBox::activated, this, [this] {
        changeStep(tr("another setup"),
                   [&](PlanStep &its, const Document &) { its.setup = m_setup->currentText().toStdString(); });
    });
    form->addRow(tr("measured by"), m_setup);
    layout->addLayout(form);
    m_text->setObjectName("stepText");
    m_text->setPlaceholderText(tr("What the operator does"));
    m_text->setMaximumHeight(90);
    connect(m_text, &QPlainTextEdit::textChanged, this, [this] {
        const std::string typed = m_text->toPlainText().toStdString();
        if (!m_filling && step().text != typed)
            changeStep(tr("what is done"), [&](PlanStep &its, const Document &) { its.text = typed; });
    });
    layout->addWidget(m_text);

    const auto part = [&](const QString &words, QTableView *table, int stretch, std::vector<QPushButton *> buttons) {
        auto *line = new QHBoxLayout;
        auto *heading = new QLabel(words);
        heading->setObjectName("heading");
        line->addWidget(heading);
        line->addStretch();
        for (QPushButton *one : buttons) line->addWidget(one);
        layout->addLayout(line);
        layout->addWidget(table, stretch);
    };
    m_slotTable = makeTable(m_slots, "planSlots");
    m_testTable = makeTable(m_tests, "planTests");
    part(tr("Captures, and what each has to be"), m_slotTable, 2,
         {button(tr("Add"), "slotAdd",
                 [this] {
                     changeStep(tr("add captures"),
                                [&](PlanStep &its, const Document &document) { addSlots(m_plan, its, document); });
                 }),
          button(tr("Remove"), "slotRemove", [this] {
              const int at = m_slotTable->currentIndex().row();
              if (at >= 0)
                  changeStep(tr("remove a capture"),
                             [&](PlanStep &its, const Document &) { its.captures.erase(its.captures.begin() + at); });
          })});
    part(tr("Tests"), m_testTable, 3,
         {button(tr("All that the setup judges"), "testsOfSetup",
                 [this] {
                     changeStep(tr("add tests"),
                                [](PlanStep &its, const Document &document) { addTests(its, document); });
                 }),
          button(tr("Add"), "testAdd",
                 [this] {
                     changeStep(tr("add a test"), [](PlanStep &its, const Document &) {
                         std::vector<std::string> taken;
                         for (const PlanTest &test : its.tests) taken.push_back(test.id);
                         PlanTest fresh;
                         fresh.id = freeName(taken, "test");
                         its.tests.push_back(std::move(fresh));
                     });
                 }),
          button(tr("Remove"), "testRemove", [this] {
              const int at = m_testTable->currentIndex().row();
              if (at >= 0)
                  changeStep(tr("remove a test"),
                             [&](PlanStep &its, const Document &) { its.tests.erase(its.tests.begin() + at); });
          })});
    m_problem->setObjectName("planProblem");
    m_problem->setWordWrap(true);
    layout->addWidget(m_problem);
    return right;
}

void PlanEditor::edit(Plan plan, const QString &file)
{
    m_file = file;
    m_undo.clear();
    m_steps->setCurrentRow(0);
    show(plan);
    m_steps->setCurrentRow(0);
    if (file.isEmpty()) m_undo.resetClean();
    refresh();
}

PlanStep &PlanEditor::step()
{
    const int at = m_steps->currentRow();
    return at >= 0 && at < int(m_plan.steps.size()) ? m_plan.steps[std::size_t(at)] : m_none;
}

const Document &PlanEditor::setup()
{
    const PlanSetup *its = findEntry(m_plan.setups, step().setup);
    return its ? its->document : m_noSetup;
}

std::string PlanEditor::unitOf(const PlanTest &test)
{
    const MeasurementEntry *row = findEntry(setup().measurements, test.of);
    const Quantity *quantity = row ? findQuantity(row->quantity) : nullptr;
    if (!quantity) return {};
    if (quantity->unit) return quantity->unit;
    const ChannelEntry *channel = findEntry(setup().channels, channelOf(setup(), row->id)); // measured in its unit
    return channel && !channel->unit.empty() ? channel->unit : "V";
}

std::vector<std::string> PlanEditor::namesFor(const std::string &key)
{
    std::vector<std::string> names;
    const auto add = [&](const auto &entries) {
        for (const auto &entry : entries) names.push_back(entry.id);
    };
    const Document &its = setup();
    if (key == "as") add(its.captures);
    if (key == "level_of") add(its.channels);
    if (key == "rate_of" || key == "pattern_of") add(its.clocks);
    if (key != "of") return names;
    add(its.measurements);
    add(its.masks);
    for (const BudgetEntry &budget : its.budgets)
        if (budget.limit) names.push_back(budget.id);
    for (const PhaseNoiseEntry &noise : its.phaseNoise)
        if (!noise.limitLevels.empty()) names.push_back(noise.id);
    return names;
}

void PlanEditor::change(const QString &what, const std::function<void(Plan &)> &act)
{
    Plan before = m_plan;
    act(m_plan);
    if (m_plan == before) return;
    Plan after = m_plan;
    m_undo.push(new Step(*this, what, std::move(before), std::move(after)));
}

void PlanEditor::changeStep(const QString &what, const std::function<void(PlanStep &, const Document &)> &act)
{
    if (m_plan.steps.empty()) return;
    const Document its = setup();
    change(what, [&](Plan &) { act(step(), its); });
}

void PlanEditor::show(const Plan &plan)
{
    m_plan = plan;
    refresh();
}

void PlanEditor::refresh()
{
    m_filling = true;
    const int at = std::clamp(m_steps->currentRow(), 0, std::max(0, int(m_plan.steps.size()) - 1));
    m_steps->clear();
    for (std::size_t i = 0; i < m_plan.steps.size(); ++i)
        m_steps->addItem(tr("%1  %2").arg(i + 1).arg(text(m_plan.steps[i].title)));
    m_steps->setCurrentRow(m_plan.steps.empty() ? -1 : at);
    for (const auto &[line, member] : m_lines) {
        const QString is = text(member(m_plan));
        if (line->text() == is) continue;
        line->setText(is);
        line->setCursorPosition(0);
    }
    m_setup->clear();
    for (const PlanSetup &its : m_plan.setups) m_setup->addItem(text(its.id));
    m_setup->setCurrentText(text(step().setup));
    if (m_text->toPlainText() != text(step().text)) m_text->setPlainText(text(step().text));
    m_slots->refresh();
    m_tests->refresh();
    const QString wrong = problem();
    m_problem->setText(wrong.isEmpty() ? tr("This plan can be worked down.") : wrong);
    m_save->setEnabled(wrong.isEmpty() && !m_undo.isClean());
    m_filling = false;
}

QString PlanEditor::problem() const
{
    try {
        parsePlan(planText(m_plan), m_plan.title);
        return {};
    } catch (const Error &error) {
        return text(error.what());
    }
}

void PlanEditor::takeSetup()
{
    change(tr("take a setup"), [this](Plan &plan) {
        std::vector<std::string> taken;
        for (const PlanSetup &its : plan.setups) taken.push_back(its.id);
        const std::string id = freeName(taken, m_bench.document().title.empty() ? "setup" : m_bench.document().title);
        plan.setups.push_back(setupOf(m_bench.document(), id));
        if (!plan.steps.empty() && step().setup.empty()) step().setup = id;
    });
}

bool PlanEditor::save()
{
    if (const QString wrong = problem(); !wrong.isEmpty()) {
        emit m_bench.failed(wrong);
        return false;
    }
    QString file = m_file;
    if (file.isEmpty())
        file = QFileDialog::getSaveFileName(this, tr("Save the plan"), text(m_plan.id) + planEnding,
                                            tr("Plans (*%1)").arg(planEnding));
    if (file.isEmpty()) return false;
    if (!file.endsWith(planEnding)) file += planEnding;
    try {
        writeFileAtomically(file.toStdString(), planText(m_plan));
    } catch (const Error &error) {
        emit m_bench.failed(text(error.what()));
        return false;
    }
    m_file = file;
    m_undo.setClean();
    emit saved(file);
    return true;
}

bool PlanEditor::mayLeave()
{
    if (m_undo.isClean()) return true;
    const auto answer = QMessageBox::question(this, tr("Unsaved changes"), tr("Save the changes to this plan?"),
                                              QMessageBox::Save | QMessageBox::Discard | QMessageBox::Cancel);
    return answer == QMessageBox::Discard || (answer == QMessageBox::Save && save());
}

void PlanEditor::leave()
{
    if (!mayLeave()) return;
    m_undo.setClean(); // it is let go
    emit left();
}

bool PlanEditor::event(QEvent *event)
{
    if (event->type() == QEvent::ShortcutOverride) {
        const auto *key = static_cast<QKeyEvent *>(event);
        if (key->matches(QKeySequence::Undo) || key->matches(QKeySequence::Redo) || key->matches(QKeySequence::Save)) {
            event->accept();
            return true;
        }
    }
    return QWidget::event(event);
}

void PlanEditor::keyPressEvent(QKeyEvent *event)
{
    if (event->matches(QKeySequence::Undo))
        m_undo.undo();
    else if (event->matches(QKeySequence::Redo))
        m_undo.redo();
    else if (event->matches(QKeySequence::Save))
        save();
    else if (event->key() == Qt::Key_Escape)
        leave();
    else
        QWidget::keyPressEvent(event);
}

} // namespace fulvex
