#include "formula_editor.h"

#include "axis_painter.h"
#include "formula_check.h"
#include "formula_edits.h"
#include "number_text.h"

#include <QAbstractItemView>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QRegularExpression>
#include <QScrollBar>
#include <QStringListModel>
#include <QVBoxLayout>
#include <algorithm>

namespace fulvex {

namespace {

/// The innermost call that is open before a place, and which of its arguments stands there.
struct OpenCall {
    std::string function; ///< empty: none
    std::size_t argument = 0;
};
OpenCall openCallAt(const QString &words, int place)
{
    OpenCall call;
    int depth = 0;
    for (int at = place - 1; at >= 0; --at) {
        if (words[at] == ')') ++depth;
        if (words[at] == ',' && depth == 0) ++call.argument;
        if (words[at] != '(' || depth-- > 0) continue;
        static const QRegularExpression name("[A-Za-z_][A-Za-z_0-9]*$");
        call.function = name.match(words.left(at)).captured().toStdString();
        if (!call.function.empty()) return call;
        call.argument = 0; // a parenthesis alone
        depth = 0;
    }
    return {};
}

const FormulaFunction *functionNamed(const std::string &name)
{
    const auto table = formulaFunctions();
    const auto found = std::find_if(table.begin(), table.end(), [&](const auto &one) { return name == one.name; });
    return found == table.end() ? nullptr : &*found;
}

} // namespace

FormulaText::FormulaText(QWidget *parent) : QPlainTextEdit(parent), m_completer(new QCompleter(this))
{
    setObjectName("formulaText");
    setLineWrapMode(QPlainTextEdit::WidgetWidth);
    setTabChangesFocus(true);
    m_completer->setWidget(this);
    m_completer->setCompletionMode(QCompleter::PopupCompletion);
    m_completer->setCaseSensitivity(Qt::CaseInsensitive);
    m_completer->setModel(new QStringListModel(m_completer));
    m_completer->popup()->setObjectName("formulaCompletion");
    connect(m_completer, qOverload<const QString &>(&QCompleter::activated), this, [this](const QString &word) {
        QTextCursor cursor = textCursor();
        cursor.movePosition(QTextCursor::Left, QTextCursor::KeepAnchor, int(typedWord().size()));
        cursor.insertText(word);
        setTextCursor(cursor);
    });
    connect(m_completer, qOverload<const QString &>(&QCompleter::highlighted), this, &FormulaText::completionShown);
}

void FormulaText::setWords(const QStringList &words)
{
    static_cast<QStringListModel *>(m_completer->model())->setStringList(words);
}

void FormulaText::mark(int place, const QColor &ink)
{
    QList<QTextEdit::ExtraSelection> marks;
    if (place >= 0) {
        QTextEdit::ExtraSelection wrong;
        wrong.format.setUnderlineStyle(QTextCharFormat::WaveUnderline);
        wrong.format.setUnderlineColor(ink);
        QColor wash = ink;
        wash.setAlpha(50);
        wrong.format.setBackground(wash);
        wrong.cursor = textCursor();
        const int length = int(toPlainText().size()), from = std::clamp(place, 0, std::max(0, length - 1));
        wrong.cursor.setPosition(from);
        wrong.cursor.movePosition(QTextCursor::Right, QTextCursor::KeepAnchor);
        if (wrong.cursor.selectedText().front().isLetter())
            wrong.cursor.movePosition(QTextCursor::EndOfWord, QTextCursor::KeepAnchor);
        marks << wrong;
    }
    setExtraSelections(marks);
}

bool FormulaText::completing() const
{
    return m_completer->popup()->isVisible();
}

QString FormulaText::typedWord() const
{
    const QString before = toPlainText().left(textCursor().position());
    static const QRegularExpression word("(?<![A-Za-z_0-9.])[A-Za-z_][A-Za-z_0-9]*$"); // no prefix or unit of a number
    return word.match(before).captured();
}

void FormulaText::keyPressEvent(QKeyEvent *event)
{
    const int key = event->key();
    const bool ends = key == Qt::Key_Return || key == Qt::Key_Enter || key == Qt::Key_Escape || key == Qt::Key_Tab;
    if (completing() && ends) {
        // The list's, unless nothing in it is chosen: then what is typed is meant.
        if (key == Qt::Key_Escape || m_completer->popup()->currentIndex().isValid()) return event->ignore();
        m_completer->popup()->hide();
    }
    if (key == Qt::Key_Return || key == Qt::Key_Enter) {
        emit taken();
        return;
    }
    if (key == Qt::Key_Escape) {
        emit left();
        return;
    }
    if (key == Qt::Key_P && event->modifiers() == Qt::ControlModifier) {
        emit parameterWanted();
        return;
    }
    const QString before = toPlainText();
    QPlainTextEdit::keyPressEvent(event);
    const bool asked = key == Qt::Key_Space && event->modifiers() == Qt::ControlModifier;
    if (asked || toPlainText() != before) complete();
}

void FormulaText::complete()
{
    const QString word = typedWord();
    m_completer->setCompletionPrefix(word);
    const bool whole = m_completer->completionCount() == 1 && m_completer->currentCompletion() == word;
    if (word.isEmpty() || m_completer->completionCount() == 0 || whole) {
        m_completer->popup()->hide();
        return;
    }
    QRect at = cursorRect();
    at.setWidth(m_completer->popup()->sizeHintForColumn(0) +
                m_completer->popup()->verticalScrollBar()->sizeHint().width() + 12);
    m_completer->complete(at);
}

FormulaPicture::FormulaPicture(Workbench &bench, QWidget *parent) : QWidget(parent), m_bench(bench)
{
    setObjectName("formulaPicture");
    setFixedHeight(96);
}

void FormulaPicture::show(std::shared_ptr<const FormulaSketch> sketch)
{
    m_sketch = std::move(sketch);
    update();
}

void FormulaPicture::paintEvent(QPaintEvent *)
{
    QPainter painter(this);
    const Look &look = m_bench.look();
    const QRectF plot(56.5, 3.5, width() - 60, height() - 20);
    painter.setPen(look.hairline);
    painter.setBrush(look.tile);
    painter.drawRect(plot);
    const Extent whole = m_sketch ? m_sketch->whole() : Extent::nothing();
    if (whole.empty()) return paintEmpty(painter, plot, tr("What it makes of what is in view appears here."), look);
    const double apart = std::max({double(whole.high) - whole.low, 1e-9 * std::abs(double(whole.high)), 1e-30});
    const AxisScale y{whole.low - 0.06 * apart, whole.high + 0.06 * apart, m_sketch->unit};
    paintLabelsLeft(painter, plot, y, look);
    paintLabelsBelow(painter, plot, {m_sketch->start, m_sketch->stop, "s"}, look, plot.left() - 20, width());
    painter.setPen(QPen(look.trace(0), 1));
    const auto up = [&](double value) { return plot.bottom() - plot.height() * y.shareOf(value); };
    const AxisScale across{m_sketch->start, m_sketch->stop, "s"};
    QPolygonF line;
    const auto draw = [&] {
        painter.setRenderHint(QPainter::Antialiasing, true);
        painter.drawPolyline(std::exchange(line, {}));
    };
    for (const auto &[time, value] : m_sketch->samples) {
        if (value == value)
            line << QPointF(plot.left() + plot.width() * across.shareOf(time), up(value));
        else
            draw();
    }
    draw();
    painter.setRenderHint(QPainter::Antialiasing, false);
    const double step = plot.width() / double(m_sketch->columns.size());
    for (std::size_t i = 0; i < m_sketch->columns.size(); ++i) {
        Extent column = m_sketch->columns[i];
        if (column.empty()) continue;
        if (i + 1 < m_sketch->columns.size() && !m_sketch->columns[i + 1].empty()) { // down or up to the next
            const Extent next = m_sketch->columns[i + 1];
            if (next.low > column.high) column.high = next.low;
            if (next.high < column.low) column.low = next.high;
        }
        const double x = plot.left() + step * (double(i) + 0.5);
        painter.drawLine(QPointF(x, up(column.low)), QPointF(x, std::min(up(column.high), up(column.low) - 1)));
    }
}

FormulaEditor::FormulaEditor(Workbench &bench, QWidget *window)
    : QFrame(window), m_bench(bench), m_text(new FormulaText), m_state(new QLabel), m_help(new QLabel),
      m_picture(new FormulaPicture(bench)), m_parameter(new QPushButton), m_sketch(bench.figures(), [this] { came(); })
{
    setObjectName("formulaEditor");
    setFrameShape(QFrame::StyledPanel);
    setAutoFillBackground(true);
    setFixedWidth(520);
    auto *layout = new QVBoxLayout(this);
    layout->setContentsMargins(10, 8, 10, 8);
    layout->setSpacing(5);
    m_text->setFixedHeight(44);
    layout->addWidget(m_text);
    for (QLabel *words : {m_state, m_help}) {
        words->setWordWrap(true);
        words->setTextFormat(Qt::PlainText);
        layout->addWidget(words);
    }
    m_state->setObjectName("formulaState");
    m_help->setObjectName("formulaHelp");
    layout->addWidget(m_picture);
    auto *buttons = new QHBoxLayout;
    m_parameter->setObjectName("makeParameter");

    auto *leaves = new QPushButton(tr("Leave as it was"));
    leaves->setToolTip(tr("Esc"));
    auto *takes = new QPushButton(tr("Take"));
    takes->setObjectName("takeFormula");
    takes->setToolTip(tr("Return"));
    for (QPushButton *button : {m_parameter, leaves, takes}) button->setFocusPolicy(Qt::TabFocus);
    buttons->addWidget(m_parameter);
    buttons->addStretch();
    buttons->addWidget(leaves);
    buttons->addWidget(takes);
    layout->addLayout(buttons);
    connect(m_text, &FormulaText::taken, this, &FormulaEditor::take);
    connect(m_text, &FormulaText::left, this, &FormulaEditor::leave);
    connect(m_text, &FormulaText::parameterWanted, this, &FormulaEditor::makeParameter);
    connect(takes, &QPushButton::clicked, this, &FormulaEditor::take);
    connect(leaves, &QPushButton::clicked, this, &FormulaEditor::leave);
    connect(m_parameter, &QPushButton::clicked, this, &FormulaEditor::makeParameter);
    connect(m_text, &QPlainTextEdit::textChanged, this, &FormulaEditor::typed);
    connect(m_text, &QPlainTextEdit::cursorPositionChanged, this, &FormulaEditor::moved);
    connect(m_text, &FormulaText::completionShown, this, [this](const QString &word) {
        const std::string name = word.chopped(word.endsWith('(')).toStdString();
        if (const FormulaFunction *function = functionNamed(name)) m_help->setText(tr(function->help));
    });
    connect(&bench, &Workbench::sessionBegun, this, &FormulaEditor::leave); // what was typed was of another project
    for (auto changed : {&Workbench::documentChanged, &Workbench::resultsChanged, &Workbench::viewChanged})
        connect(&bench, changed, this, [this] {
            if (isHidden()) return;
            if (!m_channel.empty() && !findEntry(m_bench.document().channels, m_channel))
                return leave(); // removed meanwhile
            typed();
        });
    hide();
}

void FormulaEditor::begin(const std::string &channel, const QString &text)
{
    m_channel = channel;
    m_sketch.drop();
    m_picture->show(nullptr);
    QStringList words;
    for (const FormulaFunction &function : formulaFunctions())
        if (std::isalpha(static_cast<unsigned char>(function.name[0]))) words << fulvex::text(function.name) + "(";
    const Document &document = m_bench.document();
    for (const FunctionEntry &entry : document.functions) words << fulvex::text(entry.id) + "(";
    for (const ProgramEntry &entry : document.programs) words << fulvex::text(entry.id) + "(";
    const auto add = [&](const auto &entries) {
        for (const auto &entry : entries) words << fulvex::text(entry.id);
    };
    add(document.channels);
    add(document.parameters);
    add(document.regions);
    add(document.clocks);
    add(document.measurements);
    words.removeAll(fulvex::text(channel)); // it cannot stand on itself
    words.sort();
    m_text->setWords(words);
    m_text->setPlainText(text);
    m_text->moveCursor(QTextCursor::End);
    if (channel.empty()) m_text->selectAll(); // a guess, which the first letter replaces
    QWidget::show();
    place();
    raise();
    m_text->setFocus();
    typed();
    moved();
}

void FormulaEditor::place()
{
    adjustSize();
    const QWidget *window = parentWidget();
    move(std::max(0, std::min(250, window->width() - width() - 8)),
         std::max(0, std::min(110, window->height() - height() - 8)));
}

void FormulaEditor::typed()
{
    const QString words = m_text->toPlainText().trimmed();
    FormulaSketch::From from{
        words.toStdString(), ownFunctions(m_bench.document()), {}, {}, {}, m_bench.sharedResults(), m_bench.viewFrom(),
        m_bench.viewTo(),    m_picture->width() - 60};
    for (const ParameterEntry &entry : m_bench.document().parameters) {
        from.parameters[entry.id] = entry.value;
        from.parameterUnits[entry.id] = entry.unit;
    }
    for (const RegionEntry &entry : m_bench.document().regions) from.regions[entry.id] = {entry.start, entry.stop};
    m_sketch.want(from);
}

void FormulaEditor::came()
{
    const std::shared_ptr<const FormulaSketch> sketch = m_sketch.newest();
    if (!sketch || isHidden()) return;
    const Look &look = m_bench.look();
    QPalette quiet = m_state->palette();
    quiet.setColor(QPalette::WindowText, look.quiet);
    m_help->setPalette(quiet);
    if (!sketch->found.empty()) return sayWrong(sketch->formula, sketch->where, sketch->found, sketch->remedy);
    m_state->setText(tr("in %1, at %2")
                         .arg(sketch->unit.empty() ? tr("plain numbers") : fulvex::text(sketch->unit),
                              fulvex::text(quantityText(sketch->rate, "S/s", {}, 4))) +
                     (sketch->byProgram ? tr("; its program runs when it is taken") : QString()));
    m_state->setPalette(quiet);
    m_picture->show(sketch->byProgram ? nullptr : sketch); // what was last shown stays while it is wrong
    m_text->mark(-1, {});
    place();
}

void FormulaEditor::sayWrong(const std::string &formula, const std::string &where, const std::string &found,
                             const std::string &remedy)
{
    const QString mends = fulvex::text(remedy);
    const bool said = mends == m_help->text(); // how the function is called stands below
    m_state->setText(fulvex::text(found) + (mends.isEmpty() || said ? QString() : "; " + mends));
    const Look &look = m_bench.look();
    QPalette palette = m_state->palette();
    palette.setColor(QPalette::WindowText, look.fail);
    m_state->setPalette(palette);
    static const QRegularExpression character("character (\\d+)$");
    const auto at = character.match(fulvex::text(where));
    const QByteArray bytes = QByteArray::fromStdString(formula); // in which characters are counted
    m_text->mark(at.hasMatch() ? int(QString::fromUtf8(bytes.left(at.captured(1).toInt() - 1)).size()) : -1, look.fail);
    place();
}

void FormulaEditor::moved()
{
    const QString words = m_text->toPlainText();
    const int cursor = m_text->textCursor().position();
    const std::string function = openCallAt(words, cursor).function;
    QString help = tr("Ctrl+Space: what may stand here");
    if (const FormulaFunction *known = functionNamed(function)) help = tr(known->help);
    if (const FunctionEntry *own = findEntry(m_bench.document().functions, function)) {
        QStringList arguments;
        for (const std::string &argument : own->arguments) arguments << fulvex::text(argument);
        help = fulvex::text(function) + "(" + arguments.join(", ") +
               "): " + fulvex::text(own->help.empty() ? own->formula : own->help);
    }
    if (const ProgramEntry *own = findEntry(m_bench.document().programs, function)) {
        QStringList arguments;
        for (const auto *list : {&own->arguments, &own->parameters})
            for (const std::string &argument : *list) arguments << fulvex::text(argument);
        help = tr("%1(%2): %3, a program")
                   .arg(fulvex::text(function), arguments.join(", "),
                        fulvex::text(own->help.empty() ? own->file : own->help));
    }
    m_help->setText(help);
    const auto number = numberHere();
    m_parameter->setVisible(number.has_value());
    if (number) m_parameter->setText(tr("Make a parameter of %1 (Ctrl+P)").arg(words.mid(number->at, number->length)));
    place();
}

std::optional<FormulaEditor::NumberHere> FormulaEditor::numberHere() const
{
    const QString words = m_text->toPlainText();
    const int cursor = m_text->textCursor().position();
    static const QRegularExpression numbers(
        "(?<![A-Za-z_0-9.])(\\d+\\.?\\d*(?:[eE][+-]?\\d+)?)(\\s*[A-Za-zµΩ]+)?(?![A-Za-z_0-9(])");
    for (auto all = numbers.globalMatch(words); all.hasNext();) {
        const QRegularExpressionMatch match = all.next();
        if (cursor < match.capturedStart() || cursor > match.capturedEnd()) continue;
        NumberHere here{int(match.capturedStart()), int(match.capturedLength()), 0, {}, "k"};
        try {
            const Formula formula = Formula::parse(match.captured().toStdString());
            here.value = formula.nodes().front().number;
            here.unit = formula.nodes().front().unit;
        } catch (const Error &) {
            return {}; // a unit that is none, as yet
        }
        const OpenCall call = openCallAt(words, here.at);
        if (const FormulaFunction *known = functionNamed(call.function);
            known && call.argument < known->arguments.size() && known->arguments[call.argument].unit) {
            here.name = known->arguments[call.argument].name;
            if (here.unit.empty()) here.unit = known->arguments[call.argument].unit;
        }
        return here;
    }
    return {};
}

void FormulaEditor::makeParameter()
{
    const auto number = numberHere();
    if (!number) return;
    std::string id;
    QString words = m_text->toPlainText();
    const bool taken = m_bench.change(tr("make a parameter"), [&](Document &document) {
        ParameterEntry entry{.id = freeId(document, number->name), .value = number->value};
        entry.unit = number->unit;
        if (entry.value > 0) entry.min = entry.value / 10, entry.max = entry.value * 10;
        id = entry.id;
        document.parameters.push_back(entry);
        words.replace(number->at, number->length, fulvex::text(id));
        // The channel goes by it at once, where the formula is whole.
        Document followed = document;
        ChannelEntry *channel = findEntry(followed.channels, m_channel);
        if (!channel) return;
        channel->formula = words.simplified().toStdString();
        try {
            validate(followed);
            document = followed;
        } catch (const Error &) {
        }
    });
    if (!taken) return;
    m_text->setPlainText(words);
    QTextCursor cursor = m_text->textCursor();
    cursor.setPosition(number->at + int(id.size()));
    m_text->setTextCursor(cursor);
    m_text->setFocus();
}

std::optional<Error> FormulaEditor::refusal(const std::string &formula) const
{
    Document tried = m_bench.document();
    ChannelEntry *channel = findEntry(tried.channels, m_channel);
    if (!channel) {
        channel = &tried.channels.emplace_back();
        channel->id = freeId(tried, "tried");
    }
    channel->formula = formula;
    try {
        validate(tried);
        return {};
    } catch (const Error &error) {
        return error;
    }
}

void FormulaEditor::take()
{
    const std::string words = m_text->toPlainText().simplified().toStdString();
    if (words.empty()) return leave();
    if (const auto wrong = refusal(words)) return sayWrong(words, wrong->where(), wrong->found(), wrong->remedy());
    bool taken = false;
    if (m_channel.empty()) {
        taken = !addFormula(m_bench, words).empty();
    } else {
        taken = m_bench.change(tr("edit channel"), [&](Document &document) {
            if (ChannelEntry *channel = findEntry(document.channels, m_channel)) channel->formula = words;
        });
    }
    if (taken) leave();
}

void FormulaEditor::leave()
{
    if (isHidden()) return;
    hide();
    m_sketch.drop();
    emit done();
}

} // namespace fulvex
