#include "inspector_form.h"

#include "axis_painter.h"
#include "number_text.h"
#include "quiet_label.h"
#include "terms.h"
#include "wrapped_button.h"

#include <QCheckBox>
#include <QComboBox>
#include <QStyleOption>
#include <QStylePainter>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

namespace fulvex {

namespace {

/// As wide as six letters at least, whatever it holds, which ends in … where it has no room: the panel is narrow. Its
/// list is made when somebody opens it, not with a size policy or a change of style or font: the lists of all boxes
/// take a third of the time of a form.
class NarrowBox final : public QComboBox {
public:
    QSize sizeHint() const override
    {
        QStyleOptionComboBox option;
        initStyleOption(&option);
        const QSize letters(6 * fontMetrics().horizontalAdvance('X'), fontMetrics().height());
        return style()->sizeFromContents(QStyle::CT_ComboBox, &option, letters, this);
    }
    QSize minimumSizeHint() const override { return sizeHint(); }
    void showPopup() override
    {
        m_opened = true;
        QComboBox::showPopup();
    }

protected:
    void paintEvent(QPaintEvent *) override
    {
        QStylePainter painter(this);
        QStyleOptionComboBox option;
        initStyleOption(&option);
        painter.drawComplexControl(QStyle::CC_ComboBox, option);
        const int room =
            style()->subControlRect(QStyle::CC_ComboBox, &option, QStyle::SC_ComboBoxEditField, this).width();
        option.currentText = fontMetrics().elidedText(option.currentText, Qt::ElideRight, room);
        painter.drawControl(QStyle::CE_ComboBoxLabel, option);
    }
    void changeEvent(QEvent *event) override
    {
        const bool ofList = event->type() == QEvent::StyleChange || event->type() == QEvent::FontChange;
        ofList && !m_opened ? QWidget::changeEvent(event) : QComboBox::changeEvent(event);
    }

private:
    bool m_opened = false;
};

} // namespace

InspectorForm::InspectorForm(Workbench &bench, QWidget *parent)
    : QWidget(parent), m_bench(bench), m_layout(new QFormLayout)
{
    auto *all = new QVBoxLayout(this);
    all->setContentsMargins(0, 0, 0, 0);
    all->addLayout(m_layout);
    all->addStretch(1); // not between the fields
    m_layout->setContentsMargins(14, 4, 14, 8);
    m_layout->setHorizontalSpacing(10);
    m_layout->setVerticalSpacing(5);
    m_layout->setFieldGrowthPolicy(QFormLayout::AllNonFixedFieldsGrow);
}

void InspectorForm::addRow(const QString &label, QWidget *field)
{
    auto *words = quietLabel(label);
    words->setBuddy(field);
    field->setAccessibleName(label);
    m_label = label;
    if (const std::string key = m_kind + "." + field->objectName().toStdString(); const Term *term = termOf(key)) {
        words->setToolTip(explained(key) + tr("<br>F1: more"));
        words->setProperty(manualProperty, term->place());
    }
    m_layout->addRow(words, field);
}

void InspectorForm::heading(const QString &words)
{
    auto *label = new QLabel(words);
    label->setObjectName("heading");
    label->setContentsMargins(0, m_layout->rowCount() ? 8 : 0, 0, 0);
    m_layout->addRow(label);
}

void InspectorForm::textField(const QString &label, const QString &name, std::function<QString(const Document &)> get,
                              std::function<void(Document &, const QString &)> set, const QString &none)
{
    auto *edit = new QLineEdit;
    edit->setObjectName(name);
    edit->setPlaceholderText(none);
    addRow(label, edit);
    m_refreshers.push_back([=, this] {
        if (edit->hasFocus()) return;
        edit->setText(get(m_bench.document()));
        edit->setCursorPosition(0); // what is longer than the field is seen from its beginning
    });
    connect(edit, &QLineEdit::editingFinished, this, [=, this] {
        if (edit->text() != get(m_bench.document()))
            m_bench.change(label, [&](Document &document) { set(document, edit->text()); });
        edit->setText(get(m_bench.document()));
    });
}

void InspectorForm::quantityField(const QString &label, const QString &name, std::function<std::string()> unit,
                                  const std::optional<QString> &none,
                                  std::function<std::optional<double>(const Document &)> get,
                                  std::function<void(Document &, std::optional<double>)> set)
{
    auto *edit = new QLineEdit;
    edit->setObjectName(name);
    edit->setAlignment(Qt::AlignRight);
    if (none) edit->setPlaceholderText(*none);
    addRow(label, edit);
    const auto shown = [=, this] {
        const auto value = get(m_bench.document());
        if (!value) return QString();
        if (unit().empty() && *value != 0 && std::abs(*value) < 1e-3)
            return QString::number(*value, 'g', 7).replace('.', QChar(numberManner().decimalMark));
        return text(withoutIdleZeros(quantityText(*value, unit(), {}, 7)));
    };
    m_refreshers.push_back([=] {
        edit->setToolTip(
            tr("A number with or without SI prefix and unit, for example 20M or 1.5 p%1").arg(text(unit())));
        if (!edit->hasFocus()) edit->setText(shown());
    });
    connect(edit, &QLineEdit::editingFinished, this, [=, this] {
        if (edit->text() == shown()) return;
        const auto typed = parseQuantity(edit->text().toStdString(), unit());
        if (typed)
            m_bench.change(label, [&](Document &document) { set(document, typed); });
        else if (none && edit->text().trimmed().isEmpty())
            m_bench.change(label, [&](Document &document) { set(document, {}); });
        else
            emit m_bench.failed(tr("\"%1\" is not a number in %2; write for example 1.5M")
                                    .arg(edit->text(), unit().empty() ? tr("plain digits") : text(unit())));
        edit->setText(shown());
    });
}

void InspectorForm::decadeSlider(const QString &name, const std::string &entry, double low, double high,
                                 std::function<double(const Document &)> get,
                                 std::function<void(Document &, double)> set)
{
    auto *slider = new QSlider(Qt::Horizontal);
    slider->setObjectName(name);
    slider->setAccessibleName(m_label); // it stands below its number
    slider->setRange(0, 1000);
    slider->setPageStep(50);
    m_layout->addRow(slider);
    m_refreshers.push_back([=, this] {
        const QSignalBlocker quiet(slider);
        slider->setValue(int(std::lround(
            std::clamp(1000 * std::log(get(m_bench.document()) / low) / std::log(high / low), 0.0, 1000.0))));
    });
    connect(slider, &QSlider::valueChanged, this, [=, this](int value) {
        const double exact = low * std::pow(high / low, value / 1000.0);
        const double digit = std::pow(10, std::floor(std::log10(exact)) - 2); // three digits are enough for a corner
        m_bench.change(
            tr("drag %1").arg(name), [&](Document &document) { set(document, std::round(exact / digit) * digit); },
            name + " " + text(entry));
    });
}

void InspectorForm::choiceField(const QString &label, const QString &name, const Choices &choices,
                                std::function<std::string(const Document &)> get,
                                std::function<void(Document &, const std::string &)> set)
{
    auto *box = new NarrowBox;
    box->setObjectName(name);
    for (const auto &[words, value] : choices) box->addItem(words, QString::fromStdString(value));
    addRow(label, box);
    m_refreshers.push_back([=, this] {
        const QSignalBlocker quiet(box);
        box->setCurrentIndex(box->findData(QString::fromStdString(get(m_bench.document()))));
    });
    connect(box, &QComboBox::currentIndexChanged, this, [=, this] {
        m_bench.change(label, [&](Document &document) { set(document, box->currentData().toString().toStdString()); });
    });
}

void InspectorForm::toggleField(const QString &label, const QString &name, std::function<bool(const Document &)> get,
                                std::function<void(Document &, bool)> set)
{
    auto *box = new QCheckBox;
    box->setObjectName(name);
    addRow(label, box);
    m_refreshers.push_back([=, this] {
        const QSignalBlocker quiet(box);
        box->setChecked(get(m_bench.document()));
    });
    connect(box, &QCheckBox::clicked, this,
            [=, this](bool on) { m_bench.change(label, [&](Document &document) { set(document, on); }); });
}

void InspectorForm::fact(const QString &label, std::function<QString()> get)
{
    auto *words = new QLabel;
    words->setWordWrap(true);
    words->setTextInteractionFlags(Qt::TextSelectableByMouse);
    if (label.isEmpty())
        m_layout->addRow(words);
    else
        addRow(label, words);
    m_refreshers.push_back([=] {
        const QString now = get();
        if (now == words->text()) return;
        words->setText(now);
        // Laid out once, a label that grows is given the height of fewer lines.
        if (words->isVisible()) words->setMinimumHeight(words->heightForWidth(words->width()));
    });
}

void InspectorForm::widget(QWidget *widget)
{
    m_layout->addRow(widget);
}

void InspectorForm::button(const QString &words, const QString &name, std::function<void()> pressed,
                           std::function<bool()> possible)
{
    auto *button = new WrappedButton(words);
    button->setObjectName(name);
    m_layout->addRow(button);
    connect(button, &QPushButton::clicked, this, [pressed] { pressed(); });
    if (possible) m_refreshers.push_back([=] { button->setEnabled(possible()); });
}

void InspectorForm::refresh()
{
    for (const auto &refresher : m_refreshers) refresher();
}

} // namespace fulvex
