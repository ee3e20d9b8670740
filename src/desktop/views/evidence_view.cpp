#include "evidence_view.h"

#include "failure_text.h"
#include "give_way.h"
#include "plain_table.h"

#include <QInputDialog>
#include <QThreadPool>

namespace fulvex {

EvidenceView::EvidenceView(Workbench &bench, QWidget *parent)
    : QWidget(parent), m_bench(bench), m_model(new EvidenceModel(this)),
      m_table(makePlainTable("evidenceTable", m_model)), m_heading(new QLabel), m_empty(new QLabel), m_hint(new QLabel)
{
    auto *layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 6, 0, 4);
    layout->setSpacing(2);
    auto *head = new QHBoxLayout;
    head->setContentsMargins(14, 0, 10, 0);
    auto *title = new QLabel(tr("Evidence"));
    title->setObjectName("heading");
    head->addWidget(title);
    m_heading->setObjectName("quiet");
    m_heading->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
    head->addWidget(m_heading, 1);
    layout->addLayout(head);
    m_table->setSelectionMode(QAbstractItemView::SingleSelection);
    m_table->horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
    m_table->installEventFilter(this);
    layout->addWidget(m_table, 1);
    m_empty->setObjectName("quiet");
    m_empty->setWordWrap(true);
    m_empty->setAlignment(Qt::AlignCenter);
    m_empty->setContentsMargins(24, 4, 24, 4);
    layout->addWidget(m_empty, 1);
    m_hint->setText(tr("↑ ↓ step through · N note it"));
    m_hint->setObjectName("quiet");
    m_hint->setContentsMargins(14, 0, 0, 0);
    layout->addWidget(m_hint);
    connect(m_table->selectionModel(), &QItemSelectionModel::currentRowChanged, this,
            [this](const QModelIndex &current) {
                if (!current.isValid()) return;
                const RecordSpan &place = m_model->list().items[std::size_t(current.row())].place;
                if (place.to > place.from) m_bench.goTo(place);
            });
    connect(&bench, &Workbench::resultsChanged, this, &EvidenceView::refresh);
    connect(&bench, &Workbench::selectionChanged, this, &EvidenceView::refresh);
    refresh();
}

EvidenceView::~EvidenceView()
{
    m_progress->cancel();
}

void EvidenceView::refresh()
{
    if (m_bench.results() && isPending(*m_bench.results(), m_bench.question()) && m_shown == m_bench.question())
        return; // what is shown will do until there is better
    const int request = ++m_request;
    m_shown = m_bench.question();
    m_progress->cancel();
    m_progress = std::make_shared<Progress>();
    if (!m_bench.results()) {
        EvidenceList none;
        none.empty = tr("Moments appear here when something is measured.");
        show(none);
        return;
    }
    QThreadPool::globalInstance()->start([this, request, progress = m_progress, results = m_bench.sharedResults(),
                                          question = m_shown, alive = QPointer<EvidenceView>(this)] {
        giveWay();
        auto list = std::make_shared<EvidenceList>();
        try {
            *list = evidenceList(*results, question, *progress);
        } catch (const Cancelled &) {
            return; // somebody asked for something else
        } catch (...) {
            list->empty = QString::fromStdString(failureText());
        }
        QMetaObject::invokeMethod(qApp, [this, request, list, alive] {
            if (!alive || request != m_request) return;
            m_answered = request;
            show(std::move(*list));
        });
    });
    constexpr int soon = 300; // ms
    QTimer::singleShot(soon, this, [this, request] {
        if (request == m_request && m_answered != request) m_heading->setText(tr("  looking through the record …"));
    });
}

void EvidenceView::show(EvidenceList list)
{
    m_heading->setText("  " + list.heading);
    m_heading->setToolTip(list.heading); // it may be longer than there is room
    const bool any = !list.items.empty();
    m_empty->setText(list.empty);
    m_empty->setVisible(!any);
    m_table->setVisible(any);
    m_hint->setVisible(any);
    const bool sentences = list.columns.size() == 1; // findings, which are to be read whole
    m_model->show(std::move(list));
    m_table->setWordWrap(sentences);
    m_table->verticalHeader()->setSectionResizeMode(sentences ? QHeaderView::ResizeToContents : QHeaderView::Fixed);
    m_table->horizontalHeader()->setVisible(!sentences);
    if (m_model->columnCount() > 1) // a moment is read to its last digit
        m_table->horizontalHeader()->setSectionResizeMode(0, QHeaderView::ResizeToContents);
    else
        m_table->horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
}

void EvidenceView::note()
{
    const QModelIndex current = m_table->currentIndex();
    if (!current.isValid()) return;
    const EvidenceList::Item item = m_model->list().items[std::size_t(current.row())];
    bool given = false;
    const QString words = QInputDialog::getText(this, tr("Note"), tr("Pinned to this moment:"), QLineEdit::Normal,
                                                item.cells.mid(1).join(", "), &given);
    if (!given || words.isEmpty()) return;
    const double time = (item.place.from + item.place.to) / 2;
    double level = 0;
    const Results *results = m_bench.results(); // another one than before the dialog, or none
    const ChannelResult *channel = results ? findEntry(results->channels, item.place.channel) : nullptr;
    if (channel && channel->source && channel->source->axis().count > 0) {
        const TimeAxis &axis = channel->source->axis();
        const auto at = std::clamp<std::int64_t>(std::llround(axis.positionOf(time)), 0, axis.count - 1);
        channel->source->read(at, std::span(&level, 1));
    }
    m_bench.change(tr("add note"), [&](Document &document) {
        document.notes.push_back(
            {freeId(document, "note"), item.place.channel, words.toStdString(), time, level == level ? level : 0});
    });
}

bool EvidenceView::eventFilter(QObject *watched, QEvent *event)
{
    if (watched == m_table && event->type() == QEvent::KeyPress &&
        static_cast<QKeyEvent *>(event)->key() == Qt::Key_N) {
        note();
        return true;
    }
    return QWidget::eventFilter(watched, event);
}

} // namespace fulvex
