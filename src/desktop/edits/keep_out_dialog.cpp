#include "keep_out_dialog.h"

#include "axis_painter.h"
#include "quiet_label.h"

#include <QDialogButtonBox>
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>
#include <algorithm>

namespace fulvex {

KeepOutDialog::KeepOutDialog(const Workbench &bench, const std::string &row, std::size_t moments, QWidget *parent)
    : QDialog(parent), m_row(row), m_reason(new QLineEdit), m_all(new QCheckBox)
{
    setWindowTitle(tr("Keep out"));
    const auto &rows = bench.document().measurements;
    if (const MeasurementEntry *own = findEntry(rows, row)) {
        for (const MeasurementEntry &other : rows) {
            if (other.id != row && !own->source.empty() && other.source == own->source) m_others.push_back(other.id);
        }
        m_all->setText(tr("and out of the other %1 rows of %2").arg(m_others.size()).arg(text(own->source)));
    }
    m_all->setObjectName("keepOutOfAll");
    m_all->setVisible(!m_others.empty());
    auto *layout = new QVBoxLayout(this);
    layout->addWidget(new QLabel(moments == 1
                                     ? tr("Why does this moment not count in %1?").arg(text(row))
                                     : tr("Why do these %1 moments not count in %2?").arg(moments).arg(text(row))));
    m_reason->setObjectName("keepOutReason");
    m_reason->setPlaceholderText(tr("for example: relay switched, not the device"));
    m_reason->setMinimumWidth(380);
    layout->addWidget(m_reason);
    layout->addWidget(m_all);
    auto *told = quietLabel(
        tr("It stays in the project, is counted beside the number and listed with its reason in the report."));
    told->setWordWrap(true);
    layout->addWidget(told);
    auto *buttons = new QDialogButtonBox(QDialogButtonBox::Ok | QDialogButtonBox::Cancel);
    QPushButton *out = buttons->button(QDialogButtonBox::Ok);
    out->setText(tr("Keep out"));
    out->setEnabled(false);
    connect(m_reason, &QLineEdit::textChanged, out, [this, out] { out->setEnabled(!reason().empty()); });
    connect(buttons, &QDialogButtonBox::accepted, this, &QDialog::accept);
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
    layout->addWidget(buttons);
}

std::vector<std::string> KeepOutDialog::rows() const
{
    std::vector<std::string> rows{m_row};
    if (m_all->isChecked()) rows.insert(rows.end(), m_others.begin(), m_others.end());
    return rows;
}

void keepOut(Workbench &bench, const std::vector<std::string> &rows, const std::vector<SpanOut> &spans,
             const std::string &reason)
{
    bench.change(QObject::tr("keep out of %1").arg(text(rows.front())), [&](Document &document) {
        std::vector<std::string> there; // rows may have gone while the reason was typed
        for (const std::string &row : rows) {
            if (findEntry(document.measurements, row)) there.push_back(row);
        }
        if (there.empty()) return;
        for (const SpanOut &span : spans)
            document.keptOut.push_back({freeId(document, "out"), there, span.start, span.stop, reason});
    });
}

void letBackIn(Workbench &bench, const std::string &row, const std::vector<std::string> &by)
{
    bench.change(QObject::tr("let back into %1").arg(text(row)), [&](Document &document) {
        for (KeptOutEntry &entry : document.keptOut) {
            if (std::find(by.begin(), by.end(), entry.id) != by.end()) std::erase(entry.of, row);
        }
        std::erase_if(document.keptOut, [](const KeptOutEntry &entry) { return entry.of.empty(); });
    });
}

} // namespace fulvex
