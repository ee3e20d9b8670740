#include "step_card.h"

#include "axis_painter.h"
#include "plain_table.h"
#include "plan_edits.h"
#include "plan_json.h"
#include "ruler.h"
#include "run_actions.h"

#include <QFileInfo>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QInputDialog>
#include <QPainter>
#include <QStyledItemDelegate>
#include <QVBoxLayout>
#include <algorithm>

namespace fulvex {

QString verdictWords(TestVerdict of)
{
    switch (of) {
    case TestVerdict::pass:
        return StepCard::tr("✓ pass");
    case TestVerdict::fail:
        return StepCard::tr("× fail");
    case TestVerdict::undecidable:
        return StepCard::tr("? not decidable");
    case TestVerdict::unmeasurable:
        return StepCard::tr("— not measurable");
    case TestVerdict::open:
        break;
    }
    return StepCard::tr("open");
}

namespace {

enum Column { test, measured, limit, ruler, margin, verdict, clause, columns };

QColor inkOf(TestVerdict of, const Look &look)
{
    return of == TestVerdict::pass                                      ? look.pass
           : of == TestVerdict::fail || of == TestVerdict::unmeasurable ? look.fail
           : of == TestVerdict::undecidable                             ? undecidedInk(look)
                                                                        : look.quiet;
}

class RulerDelegate final : public QStyledItemDelegate {
public:
    RulerDelegate(const Workbench &bench, const StepOutcome &of, QObject *parent)
        : QStyledItemDelegate(parent), m_bench(bench), m_of(of)
    {
    }
    void paint(QPainter *painter, const QStyleOptionViewItem &option, const QModelIndex &index) const override
    {
        QStyledItemDelegate::paint(painter, option, index);
        const TestOutcome &outcome = m_of.tests[std::size_t(index.row())];
        if (outcome.wanted)
            paintRuler(*painter, QRectF(option.rect).adjusted(8, 1, -8, -1), rulerOf(outcome), m_bench.look());
    }
    QSize sizeHint(const QStyleOptionViewItem &, const QModelIndex &) const override
    {
        constexpr int least = 100; // pixels, for a scale to be read
        return {least, 20};
    }

private:
    const Workbench &m_bench;
    const StepOutcome &m_of;
};

QLabel *makeLabel(const char *name, QWidget *parent)
{
    auto *label = new QLabel(parent);
    label->setObjectName(name);
    label->setWordWrap(true);
    label->setTextInteractionFlags(Qt::TextSelectableByMouse);
    label->setTextFormat(Qt::PlainText); // what a plan says is not ours
    return label;
}

void say(QLabel &label, const QString &words, const QColor &ink, const QFont &font)
{
    label.setVisible(!words.isEmpty());
    label.setText(words);
    label.setFont(font);
    QPalette palette = label.palette();
    palette.setColor(QPalette::WindowText, ink);
    label.setPalette(palette);
}

} // namespace

StepCard::StepCard(Workbench &bench, const std::string &plan, const std::string &step, QWidget *parent)
    : QWidget(parent), m_bench(bench), m_plan(plan), m_step(step), m_model(new QStandardItemModel(this)),
      m_drawn(bench.figures(), [this] { refresh(); })
{
    setObjectName("step_" + text(step));
    setFocusPolicy(Qt::StrongFocus);
    m_title = makeLabel("stepTitle", this);
    m_state = makeLabel("stepState", this);
    m_state->setAlignment(Qt::AlignRight | Qt::AlignTop);
    m_text = makeLabel("stepText", this);
    m_picture = new QLabel(this);
    m_advice = makeLabel("stepAdvice", this);
    m_checks = makeLabel("stepChecks", this);
    m_earlier = makeLabel("stepEarlier", this);
    m_boxes = new QWidget(this);
    auto *boxes = new QVBoxLayout(m_boxes);
    boxes->setContentsMargins(0, 2, 0, 2);
    m_table = makePlainTable("stepTests", m_model);
    m_table->setParent(this);
    m_table->setVerticalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    m_table->setSelectionMode(QAbstractItemView::SingleSelection);
    m_table->verticalHeader()->setDefaultSectionSize(22);
    m_table->horizontalHeader()->hide();
    m_table->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    m_table->setItemDelegateForColumn(ruler, new RulerDelegate(bench, m_outcome, m_table));
    connect(m_model, &QStandardItemModel::itemChanged, this, [this](QStandardItem *item) {
        const PlanStep *its = entry();
        if (m_filling || !its || item->column() != test || std::size_t(item->row()) >= its->tests.size()) return;
        wantTest(m_bench, m_plan, m_step, its->tests[std::size_t(item->row())].id, item->checkState() == Qt::Checked);
    });
    const auto button = [this](const char *name, const QString &words, const QString &tip) {
        auto *made = new QPushButton(words, this);
        made->setObjectName(name);
        made->setToolTip(tip);
        return made;
    };
    m_look = button("lookAtStep", tr("Look at it"), tr("The step's captures and numbers in all views"));
    m_another =
        button("anotherCapture", tr("Another capture…"), tr("Shows where files are dropped; what was found stays"));
    m_repeat = button("repeatStep", tr("Repeat the step"), tr("Begins it again; what was found stays"));
    m_skip =
        button("skipStep", tr("Leave out, because…"), tr("The step does not count; the reason stands in the report"));
    connect(m_look, &QPushButton::clicked, this, [this] { lookAtStep(m_bench, m_plan, m_step); });
    connect(m_another, &QPushButton::clicked, this, [this] {
        m_asks = !m_asks;
        refresh();
    });
    connect(m_repeat, &QPushButton::clicked, this, [this] { repeatStep(m_bench, m_plan, m_step); });
    connect(m_skip, &QPushButton::clicked, this, &StepCard::askToSkip);

    auto *all = new QVBoxLayout(this);
    all->setContentsMargins(52, 10, 16, 10);
    all->setSpacing(3);
    auto *head = new QHBoxLayout;
    head->addWidget(m_title, 1);
    head->addWidget(m_state);
    all->addLayout(head);
    for (QWidget *widget :
         {static_cast<QWidget *>(m_text), static_cast<QWidget *>(m_picture), static_cast<QWidget *>(m_table),
          static_cast<QWidget *>(m_advice), static_cast<QWidget *>(m_checks), static_cast<QWidget *>(m_boxes),
          static_cast<QWidget *>(m_earlier)})
        all->addWidget(widget);
    auto *buttons = new QHBoxLayout;
    for (QPushButton *one : {m_look, m_another, m_repeat, m_skip}) buttons->addWidget(one);
    buttons->addStretch(1);
    all->addLayout(buttons);
    refresh();
}

const PlanStep *StepCard::entry() const
{
    const PlanState *state = m_bench.planState(m_plan);
    return state && state->plan ? state->plan->step(m_step) : nullptr;
}

void StepCard::askToSkip()
{
    const PlanEntry *plan = findEntry(m_bench.document().plans, m_plan);
    if (plan && plan->skipped.contains(m_step)) return skipStep(m_bench, m_plan, m_step, {});
    bool given = false;
    const QString reason = QInputDialog::getText(this, tr("Leave a step out"), tr("Why this step is not done:"),
                                                 QLineEdit::Normal, {}, &given);
    if (given && !reason.trimmed().isEmpty()) skipStep(m_bench, m_plan, m_step, reason.trimmed());
}

QString StepCard::stateWords(const StepOutcome &outcome, bool working) const
{
    using State = StepOutcome::State;
    if (outcome.state == State::skipped) return tr("left out: %1").arg(text(outcome.reason));
    if (working) return tr("being checked and measured…");
    if (outcome.state == State::refused) return tr("× capture refused");
    if (outcome.state == State::open)
        return outcome.captures.empty() ? tr("waits for its capture") : text(outcome.reason);
    std::map<TestVerdict, int> counts;
    for (const TestOutcome &one : outcome.tests)
        if (one.wanted) ++counts[one.verdict];
    if (counts.size() == 1 && counts.contains(TestVerdict::pass))
        return tr("✓ all %1 pass").arg(counts[TestVerdict::pass]);
    QStringList words;
    const auto tell = [&](TestVerdict of, const QString &said) {
        if (counts.contains(of)) words << said.arg(counts[of]);
    };
    tell(TestVerdict::pass, tr("%1 pass"));
    tell(TestVerdict::undecidable, tr("%1 not decidable"));
    tell(TestVerdict::unmeasurable, tr("%1 not measurable"));
    tell(TestVerdict::fail, counts[TestVerdict::fail] == 1 ? tr("%1 fails") : tr("%1 fail"));
    return words.join(" · ");
}

QString StepCard::checkWords() const
{
    QStringList lines;
    for (const StepOutcome::Capture &capture : m_outcome.captures) {
        QStringList words;
        for (const CaptureFit &check : capture.checks)
            words << (check.holds
                          ? tr("%1 %2 ✓").arg(text(check.what), text(check.found))
                          : tr("%1 is %2 ×, wanted: %3").arg(text(check.what), text(check.found), text(check.wanted)));
        const QString file = QFileInfo(text(capture.file)).fileName();
        lines << (words.isEmpty() ? file : file + ": " + words.join(" · "));
    }
    return lines.join("\n");
}

QString StepCard::earlierWords() const
{
    QStringList lines;
    const AttemptEntry *newest = newestAttempt(m_bench.document(), m_plan, m_step);
    const PlanState *state = m_bench.planState(m_plan);
    for (const AttemptEntry &attempt : m_bench.document().attempts) {
        if (attempt.plan != m_plan || attempt.step != m_step || &attempt == newest) continue;
        QString came = tr("no captures");
        if (state) {
            const auto known = state->attempts.find(attempt.id);
            if (known != state->attempts.end() && known->second.outcome && !attempt.captures.empty())
                came = stateWords(*known->second.outcome, known->second.working);
        }
        QStringList files;
        for (const std::string &capture : attempt.captures)
            files << QFileInfo(text(AttemptEntry::parted(capture).second)).fileName();
        lines
            << tr("before, %1: %2 (%3)").arg(text(attempt.when).replace("T", " ").remove("Z"), came, files.join(", "));
    }
    return lines.join("\n");
}

void StepCard::fillSlots(const PlanStep &step, bool asked)
{
    for (const PlanSlot &slot : step.captures) {
        std::vector<std::string> files;
        for (const StepOutcome::Capture &capture : m_outcome.captures)
            if (capture.slot == slot.id) files.push_back(capture.file);
        SlotBox *&box = m_slots[slot.id];
        if (!box) {
            box = new SlotBox(m_bench, m_boxes);
            m_boxes->layout()->addWidget(box);
            connect(box, &SlotBox::filled, this, [this, id = slot.id](const QStringList &chosenFiles) {
                m_asks = false;
                fillSlot(m_bench, m_plan, m_step, id, chosenFiles);
            });
            connect(box, &SlotBox::liveWanted, this, [this, slot] {
                const QString address = askForInstrument(this);
                if (address.isEmpty()) return;
                m_asks = false;
                acquireForSlot(m_bench, m_plan, m_step, slot, address);
            });
        }
        box->ask(slot, files);
        box->setVisible(asked || int(files.size()) < slot.count);
    }
}

void StepCard::fillTests(const PlanStep &step)
{
    const Look &look = m_bench.look();
    m_filling = true;
    m_model->setRowCount(int(step.tests.size()));
    m_model->setColumnCount(columns);
    for (int row = 0; row < int(step.tests.size()); ++row) {
        const PlanTest &its = step.tests[std::size_t(row)];
        const TestOutcome &found = m_outcome.tests[std::size_t(row)];
        const QString words[columns] = {text(found.title.empty() ? its.of : found.title),
                                        text(measuredText(found)),
                                        text(limitText(found)),
                                        {},
                                        text(marginText(found)),
                                        found.wanted ? verdictWords(found.verdict) : tr("not to be run"),
                                        its.clause.empty() ? QString() : tr("clause %1").arg(text(its.clause))};
        for (int column = 0; column < columns; ++column) {
            auto *item = m_model->item(row, column);
            if (!item) m_model->setItem(row, column, item = new QStandardItem);
            item->setEditable(false);
            item->setText(words[column]);
            const bool right = column == measured || column == margin;
            item->setTextAlignment((right ? Qt::AlignRight : Qt::AlignLeft) | Qt::AlignVCenter);
            item->setForeground(column == verdict                                      ? inkOf(found.verdict, look)
                                : column == limit || column == clause || !found.wanted ? look.quiet
                                                                                       : look.ink);
            item->setFont(look.font(11, column == verdict && found.verdict != TestVerdict::pass && found.wanted));
            item->setToolTip(text(its.condition.empty() ? its.id : its.condition));
        }
        m_model->item(row, test)->setCheckable(true);
        m_model->item(row, test)->setCheckState(found.wanted ? Qt::Checked : Qt::Unchecked);
        m_model->item(row, test)->setToolTip(tr("Ticked: this test is run"));
    }
    m_filling = false;
}

void StepCard::showPicture(const PlanStep &step)
{
    const PlanState *state = m_bench.planState(m_plan);
    const bool wanted = !step.picture.empty() && m_outcome.state != StepOutcome::State::done && state;
    if (wanted) m_drawn.want({(state->file.parent_path() / step.picture).string()});
    const auto &made = m_drawn.newest();
    const bool there = wanted && made && !made->image.isNull();
    if (there) m_picture->setPixmap(QPixmap::fromImage(made->image));
    m_picture->setVisible(there);
}

void StepCard::refresh()
{
    const PlanStep *step = entry();
    if (!step) return;
    const Look &look = m_bench.look();
    m_outcome = m_bench.outcomeOf(m_plan, *step);
    const AttemptEntry *newest = newestAttempt(m_bench.document(), m_plan, m_step);
    const PlanState *state = m_bench.planState(m_plan);
    const auto known = newest && state ? state->attempts.find(newest->id) : decltype(state->attempts.end()){};
    const bool isKnown = newest && state && known != state->attempts.end();
    const bool working = isKnown && known->second.working, done = m_outcome.state == StepOutcome::State::done;
    const bool skipped = m_outcome.state == StepOutcome::State::skipped;
    say(*m_title, text(step->title), look.ink, look.font(13, true));
    const TestVerdict worst = m_outcome.state == StepOutcome::State::refused ? TestVerdict::fail : m_outcome.verdict();
    say(*m_state, stateWords(m_outcome, working), working ? look.quiet : inkOf(worst, look), look.font(11, done));
    say(*m_text, text(step->text), look.quiet, look.font(11));
    showPicture(*step);
    fillTests(*step);
    m_table->setVisible(!step->tests.empty() && !skipped);
    constexpr int widths[] = {170, 130, 110, 150, 52, 104, 76};
    fitColumns(*m_table, widths);
    m_table->setFixedHeight(int(step->tests.size()) * m_table->verticalHeader()->defaultSectionSize() + 2);
    QStringList advice;
    for (const TestOutcome &one : m_outcome.tests) {
        if (!one.advice.empty()) advice << text(one.title) + ": " + text(one.advice);
        if (!one.reason.empty()) advice << text(one.title) + ": " + text(one.reason);
    }
    if (isKnown && !known->second.error.empty()) advice << text(known->second.error);
    if (m_outcome.state == StepOutcome::State::refused && !m_outcome.reason.empty()) advice << text(m_outcome.reason);
    say(*m_advice, advice.join("\n"), undecidedInk(look), look.font(11));
    const bool refused = m_outcome.state == StepOutcome::State::refused;
    say(*m_checks, checkWords(), refused ? look.fail : look.quiet, look.font(11));
    say(*m_earlier, earlierWords(), look.quiet, look.font(11));
    fillSlots(*step, m_asks || refused);
    m_boxes->setVisible(!skipped);
    m_look->setVisible(done);
    m_another->setVisible(done);
    m_repeat->setVisible(done);
    m_skip->setText(skipped ? tr("Do it after all") : tr("Leave out, because…"));
    update();
}

void StepCard::paintEvent(QPaintEvent *)
{
    const PlanStep *step = entry();
    if (!step) return;
    const Look &look = m_bench.look();
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing, true);
    painter.setPen(QPen(look.hairline, 1));
    painter.setBrush(look.tile);
    painter.drawRoundedRect(QRectF(rect()).adjusted(1, 1, -1, -1), 4, 4);
    const TestVerdict worst = m_outcome.state == StepOutcome::State::refused ? TestVerdict::fail : m_outcome.verdict();
    const QColor ink = inkOf(worst, look);
    const bool full = m_outcome.state == StepOutcome::State::done && worst == TestVerdict::pass;
    const QRectF badge(14, 10, 26, 26);
    painter.setPen(QPen(ink, 1.6));
    painter.setBrush(full ? QBrush(ink) : Qt::NoBrush);
    painter.drawEllipse(badge);
    painter.setPen(full ? look.tile : look.ink);
    painter.setFont(look.font(12, true));
    const PlanState *state = m_bench.planState(m_plan);
    painter.drawText(badge, Qt::AlignCenter, QString::number(step - state->plan->steps.data() + 1));
}

} // namespace fulvex
