#include "parameter_panel.h"

#include "axis_painter.h"
#include "formula_edits.h"
#include "number_text.h"
#include "parameter_scale.h"
#include "retire.h"

#include <QGridLayout>
#include <QLabel>
#include <QLineEdit>
#include <QScrollArea>
#include <QSlider>
#include <QToolButton>
#include <QVBoxLayout>
#include <cmath>

namespace fulvex {

namespace {

constexpr int stepsOfSlider = 1000;

} // namespace

ParameterPanel::ParameterPanel(Workbench &bench, QWidget *parent) : QWidget(parent), m_bench(bench)
{
    setObjectName("parameterPanel");
    auto *layout = new QVBoxLayout(this);
    layout->setContentsMargins(14, 4, 8, 6);
    layout->setSpacing(2);
    auto *heading = new QLabel(tr("Parameters"));
    heading->setObjectName("heading");
    layout->addWidget(heading);
    for (auto changed : {&Workbench::documentChanged, &Workbench::selectionChanged})
        connect(&bench, changed, this, &ParameterPanel::follow);
    follow();
}

void ParameterPanel::follow()
{
    std::vector<std::string> ids;
    for (const ParameterEntry &entry : m_bench.document().parameters) ids.push_back(entry.id);
    if (ids != m_shown || !m_rows) {
        m_shown = std::move(ids);
        rebuild();
    }
    setVisible(!m_shown.empty());
    for (const auto &refresh : m_refreshers) refresh();
}

void ParameterPanel::rebuild()
{
    m_refreshers.clear();
    retire(m_rows);
    auto *scroll = new QScrollArea;
    scroll->setWidgetResizable(true);
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    auto *rows = new QWidget;
    auto *grid = new QGridLayout(rows);
    grid->setContentsMargins(0, 0, 0, 0);
    grid->setVerticalSpacing(1);
    grid->setColumnStretch(1, 1);
    for (std::size_t i = 0; i < m_shown.size(); ++i) {
        const std::string id = m_shown[i];
        const auto entry = [this, id] { return findEntry(m_bench.document().parameters, id); };
        auto *name = new QToolButton;
        name->setText(text(id));
        name->setObjectName("parameter_" + text(id));
        name->setCheckable(true);
        name->setAutoRaise(true);
        name->setToolTip(tr("Select %1: its span, unit and slider are set in the Inspector").arg(text(id)));
        connect(name, &QToolButton::clicked, this, [this, id] { m_bench.select({Selection::Kind::parameter, id}); });
        auto *value = new QLineEdit;
        value->setObjectName("value_" + text(id));
        value->setAlignment(Qt::AlignRight);
        value->setToolTip(tr("Value of %1, with or without an SI prefix").arg(text(id)));
        const auto shown = [entry] {
            const ParameterEntry *now = entry();
            return now ? text(quantityText(now->value, now->unit, {}, 5)) : QString();
        };
        connect(value, &QLineEdit::editingFinished, this, [this, value, entry, shown, id] {
            const ParameterEntry *now = entry();
            if (!now || value->text() == shown()) return;
            if (const auto typed = parseQuantity(value->text().trimmed().toStdString(), now->unit))
                setParameter(m_bench, id, *typed);
            else
                emit m_bench.failed(tr("\"%1\" is not a number in %2; write for example 1.5M")
                                        .arg(value->text(), now->unit.empty() ? tr("plain digits") : text(now->unit)));
            value->setText(shown());
        });
        auto *slider = new QSlider(Qt::Horizontal);
        slider->setObjectName("slider_" + text(id));
        slider->setRange(0, stepsOfSlider);
        slider->setSingleStep(5);
        slider->setPageStep(50);
        connect(slider, &QSlider::valueChanged, this, [this, entry, id](int at) {
            const ParameterEntry *now = entry();
            if (now) setParameter(m_bench, id, ParameterScale(*now).valueAt(double(at) / stepsOfSlider));
        });
        m_refreshers.push_back([this, name, value, slider, entry, shown, id] {
            const ParameterEntry *now = entry();
            if (!now) return;
            name->setChecked(m_bench.selection() == Selection{Selection::Kind::parameter, id});
            if (!value->hasFocus() || !value->isModified()) value->setText(shown());
            const QSignalBlocker quiet(slider);
            const ParameterScale scale(*now);
            // One that is held stays under the hand, whatever its value was rounded to.
            if (!slider->isSliderDown()) slider->setValue(int(std::lround(scale.shareOf(now->value) * stepsOfSlider)));
            slider->setToolTip(tr("%1 … %2%3")
                                   .arg(text(quantityText(scale.low, now->unit, {}, 3)),
                                        text(quantityText(scale.high, now->unit, {}, 3)),
                                        scale.logarithmic ? tr(", logarithmic") : QString()));
        });
        const int row = 2 * int(i);
        grid->addWidget(name, row, 0, Qt::AlignLeft);
        grid->addWidget(value, row, 1);
        grid->addWidget(slider, row + 1, 0, 1, 2);
    }
    scroll->setWidget(rows);
    constexpr int most = 5; // more are scrolled to
    rows->adjustSize();
    const int each = m_shown.empty() ? 0 : rows->sizeHint().height() / int(m_shown.size());
    scroll->setFixedHeight(each * std::min(most, int(m_shown.size())) + 2);
    layout()->addWidget(scroll);
    m_rows = scroll;
}

} // namespace fulvex
