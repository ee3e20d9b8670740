#include "evidence_view.h"

#include "elided_label.h"
#include "failure_text.h"
#include "give_way.h"
#include "keep_out_dialog.h"
#include "mailbox.h"
#include "plain_table.h"
#include "quiet_label.h"
#include "region_edits.h"

#include <QInputDialog>
#include <QThreadPool>

namespace fulvex {

EvidenceView::EvidenceView(Workbench &bench, QWidget *parent)
    : QWidget(parent), m_bench(bench), m_model(new EvidenceModel(this)),
      m_table(makePlainTable("evidenceTable", m_model)), m_heading(new ElidedLabel), m_empty(new QLabel),
      m_order(new QPushButton), m_note(new QPushButton), m_region(new QPushButton), m_out(new QPushButton),
      m_which(new QPushButton), m_doing(new QWidget)
{
    auto *layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 6, 0, 4);
    layout->setSpacing(2);
    auto *head = new QHBoxLayout;
    head->setContentsMargins(14, 0, 10, 0);
    auto *title = new QLabel(tr("Evidence"));
    m_table->setAccessibleName(tr("Evidence"));
    title->setObjectName("heading");
    head->addWidget(title);
    m_heading->setObjectName("quiet");
    head->addWidget(m_heading, 1);
    m_which->setObjectName("evidenceWhich");
    m_which->setProperty("small", true);
    m_which->setFocusPolicy(Qt::NoFocus);
    m_which->setToolTip(tr("Of the capture that is shown, or of all of the run (A)"));
    head->addWidget(m_which);
    connect(m_which, &QPushButton::clicked, this, [this] {
        m_ofRun = !m_ofRun;
        refresh();
    });
    m_order->setObjectName("evidenceOrder");
    m_order->setToolTip(tr("In which order moments are listed (T)"));
    head->addWidget(m_order);
    layout->addLayout(head);
    m_table->setSelectionMode(QAbstractItemView::ExtendedSelection);
    m_table->horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
    m_table->installEventFilter(this);
    layout->addWidget(m_table, 1);
    m_empty->setObjectName("quiet");
    m_empty->setWordWrap(true);
    m_empty->setAlignment(Qt::AlignCenter);
    m_empty->setContentsMargins(24, 4, 24, 4);
    layout->addWidget(m_empty, 1);
    auto *doing = new QHBoxLayout(m_doing);
    doing->setContentsMargins(14, 0, 10, 0);
    doing->setSpacing(4);
    doing->addWidget(quietLabel(tr("↑ ↓ step")));
    doing->addStretch();
    const auto add = [&](QPushButton *button, const QString &words, const char *name, void (EvidenceView::*act)()) {
        button->setText(words);
        button->setObjectName(name);
        button->setProperty("small", true);
        button->setFocusPolicy(Qt::NoFocus); // the keys do the same
        doing->addWidget(button);
        connect(button, &QPushButton::clicked, this, act);
    };
    add(m_note, tr("N  note it"), "evidenceNote", &EvidenceView::note);
    add(m_region, tr("R  as a region"), "evidenceRegion", &EvidenceView::nameRegion);
    add(m_out, {}, "evidenceOut", &EvidenceView::keepOutOrIn);
    layout->addWidget(m_doing);
    m_order->setProperty("small", true);
    m_order->setFocusPolicy(Qt::NoFocus);
    connect(m_order, &QPushButton::clicked, this, [this] {
        m_byTime = !m_byTime;
        m_around.reset();
        if (const QModelIndex current = m_table->currentIndex(); m_byTime && current.isValid())
            m_around = m_model->list().items[std::size_t(current.row())].place.from;
        refresh();
    });
    connect(m_table->selectionModel(), &QItemSelectionModel::selectionChanged, this, &EvidenceView::sayWhatCanBeDone);
    connect(m_table->selectionModel(), &QItemSelectionModel::currentRowChanged, this,
            [this](const QModelIndex &current) {
                if (!current.isValid() || m_following) return;
                const RecordSpan &place = m_model->list().items[std::size_t(current.row())].place;
                if (place.to > place.from)
                    m_bench.goTo(place);
                else if (!place.capture.empty())
                    m_bench.showMember(place.capture);
            });
    connect(&bench, &Workbench::viewChanged, this, &EvidenceView::followMoment);
    connect(&bench, &Workbench::resultsChanged, this, &EvidenceView::refresh);
    connect(&bench, &Workbench::selectionChanged, this, [this] {
        if (m_bench.question().ofRun) m_ofRun = true; // a tile of all captures was asked
        m_around.reset();
        refresh();
    });
    connect(&bench, &Workbench::runChanged, this, [this] {
        sayWhich();
        if (m_ofRun) refresh();
    });
    refresh();
}

EvidenceView::~EvidenceView()
{
    m_progress->cancel();
}

void EvidenceView::sayWhich()
{
    m_which->setVisible(hasRun(m_bench.document()));
    m_which->setText(m_ofRun ? tr("all captures") : tr("this capture"));
}

void EvidenceView::refresh()
{
    Question asked = m_bench.question();
    asked.byTime = m_byTime;
    asked.around = m_around;
    const auto all = m_ofRun && m_bench.run() ? m_bench.run()->all : nullptr;
    asked.ofRun = all != nullptr;
    sayWhich();
    m_order->setText(m_byTime ? tr("by time") : tr("worst first"));
    if (!all && m_bench.results() && isPending(*m_bench.results(), asked) && m_shown == asked)
        return; // what is shown will do until there is better
    const int request = ++m_request;
    m_shown = asked;
    m_progress->cancel();
    m_progress = std::make_shared<Progress>();
    const std::shared_ptr<const Results> asks = all ? all : m_bench.sharedResults();
    if (!asks) {
        EvidenceList none;
        none.empty = tr("Moments appear here when something is measured.");
        show(none);
        emit outliersFound({});
        return;
    }
    QThreadPool::globalInstance()->start([this, request, progress = m_progress, results = asks, question = m_shown,
                                          alive = QPointer<EvidenceView>(this)] {
        giveWay();
        auto list = std::make_shared<EvidenceList>();
        auto outliers = std::make_shared<std::vector<double>>();
        const auto deliver = [this, request, alive](std::function<void()> what) {
            callOnInterface([this, request, alive, what = std::move(what)] {
                if (alive && request == m_request) what();
            });
        };
        try {
            *list = evidenceList(*results, question, *progress);
        } catch (const Cancelled &) {
            return; // somebody asked for something else
        } catch (...) {
            list->empty = QString::fromStdString(failureText());
        }
        deliver([this, request, list] {
            m_answered = request;
            show(std::move(*list));
        });
        try { // of the whole row, whatever was asked about it: behind the answer
            *outliers = outliersOf(*results, question.id, EvidenceList::kept, *progress);
        } catch (...) {
            return;
        }
        deliver([this, outliers] { emit outliersFound(*outliers); });
    });
    constexpr int soon = 300; // ms
    QTimer::singleShot(soon, this, [this, request] {
        if (request == m_request && m_answered != request) m_heading->setText(tr("  looking through the record …"));
    });
}

void EvidenceView::show(EvidenceList list)
{
    std::optional<RecordSpan> at;
    if (const QModelIndex current = m_table->currentIndex(); current.isValid())
        at = m_model->list().items[std::size_t(current.row())].place;
    m_heading->setText("  " + list.heading);
    m_heading->setToolTip(list.heading); // it may be longer than there is room
    std::vector<Workbench::Moment> moments;
    for (std::size_t i = 0; list.ofUnitIntervals && i < list.items.size(); ++i)
        moments.push_back({(list.items[i].place.from + list.items[i].place.to) / 2, list.items[i].unitInterval});
    const std::string of = moments.empty() ? std::string() : m_shown.id;
    m_bench.listMoments(of, std::move(moments));
    const bool any = !list.items.empty();
    m_empty->setText(list.empty);
    m_empty->setVisible(!any);
    m_table->setVisible(any);
    m_doing->setVisible(any);
    m_order->setVisible(any && !list.row.empty());
    m_out->setVisible(!list.row.empty());
    const bool sentences = list.columns.size() == 1; // findings, which are to be read whole
    m_model->show(std::move(list), m_bench.look().quiet);
    m_table->clearSpans();
    for (int i = 0; i < m_model->rowCount() && !m_model->list().items[std::size_t(i)].keptOutBy.empty(); ++i)
        m_table->setSpan(i, 2, 1, 2); // the reason
    stay(at);
    followMoment();
    sayWhatCanBeDone();
    m_table->setWordWrap(sentences);
    m_table->verticalHeader()->setSectionResizeMode(sentences ? QHeaderView::ResizeToContents : QHeaderView::Fixed);
    m_table->horizontalHeader()->setVisible(!sentences);
    if (m_model->columnCount() > 1) // a moment is read to its last digit
        m_table->horizontalHeader()->setSectionResizeMode(0, QHeaderView::ResizeToContents);
    else
        m_table->horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
    if (m_model->list().ofUnitIntervals) // and symbols to the last one
        m_table->horizontalHeader()->setSectionResizeMode(2, QHeaderView::ResizeToContents);
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

/// On the same moment in another list, or on the next one where that is kept out now.
void EvidenceView::stay(const std::optional<RecordSpan> &at)
{
    const auto next = std::exchange(m_next, {});
    const std::optional<RecordSpan> &wanted = next ? next : at;
    if (!wanted) return;
    const auto &items = m_model->list().items;
    const auto found = std::find_if(items.begin(), items.end(), [&](const EvidenceList::Item &item) {
        return item.place.from == wanted->from && item.place.to == wanted->to &&
               item.place.channel == wanted->channel && item.place.capture == wanted->capture;
    });
    if (found == items.end()) return;
    m_following = !next; // the view is where it is
    m_table->setCurrentIndex(m_model->index(int(found - items.begin()), 0));
    m_following = false;
}

/// To the moment that another view went to, as a click on a trend does, where it is listed.
void EvidenceView::followMoment()
{
    const auto &moment = m_bench.moment();
    if (!moment || moment->instants.empty()) return;
    const auto &items = m_model->list().items;
    const auto found = std::find_if(items.begin(), items.end(), [&](const EvidenceList::Item &item) {
        return !item.place.instants.empty() && item.place.instants.front() == moment->instants.front() &&
               item.place.channel == moment->channel && item.place.capture == moment->capture;
    });
    if (found == items.end() || m_table->currentIndex().row() == int(found - items.begin())) return;
    m_following = true;
    m_table->setCurrentIndex(m_model->index(int(found - items.begin()), 0));
    m_following = false;
}

std::vector<EvidenceList::Item> EvidenceView::chosenItems() const
{
    std::vector<EvidenceList::Item> chosen;
    for (const QModelIndex &at : m_table->selectionModel()->selectedRows())
        chosen.push_back(m_model->list().items[std::size_t(at.row())]);
    return chosen;
}

void EvidenceView::nameRegion()
{
    const QModelIndex current = m_table->currentIndex();
    if (!current.isValid()) return;
    const RecordSpan place = m_model->list().items[std::size_t(current.row())].place;
    if (place.to > place.from) addRegion(m_bench, place.from, place.to);
}

void EvidenceView::sayWhatCanBeDone()
{
    const std::vector<EvidenceList::Item> chosen = chosenItems();
    const bool out = !chosen.empty() && !chosen.front().keptOutBy.empty();
    m_out->setText(out ? tr("K  let back in") : tr("K  keep out …"));
    for (QPushButton *button : {m_note, m_region, m_out}) button->setEnabled(!chosen.empty());
}

void EvidenceView::keepOutOrIn()
{
    const std::string row = m_model->list().row;
    const std::vector<EvidenceList::Item> chosen = chosenItems();
    if (row.empty() || chosen.empty()) return;
    const std::uint64_t session = m_bench.session();
    if (!chosen.front().keptOutBy.empty()) {
        std::vector<std::string> by;
        for (const EvidenceList::Item &item : chosen) by.push_back(item.keptOutBy);
        letBackIn(m_bench, row, by);
        return;
    }
    KeepOutDialog dialog(m_bench, row, chosen.size(), this);
    if (dialog.exec() != QDialog::Accepted || session != m_bench.session()) return; // another project was opened
    std::vector<SpanOut> spans;
    for (const EvidenceList::Item &item : chosen) {
        const auto &instants = item.place.instants;
        if (item.keptOutBy.empty() && !instants.empty()) spans.push_back({instants.front(), instants.back()});
    }
    const int behind = m_table->currentIndex().row() + 1;
    if (behind < m_model->rowCount()) m_next = m_model->list().items[std::size_t(behind)].place;
    keepOut(m_bench, dialog.rows(), spans, dialog.reason());
}

bool EvidenceView::eventFilter(QObject *watched, QEvent *event)
{
    if (watched != m_table || event->type() != QEvent::KeyPress) return QWidget::eventFilter(watched, event);
    switch (static_cast<QKeyEvent *>(event)->key()) {
    case Qt::Key_N:
        note();
        return true;
    case Qt::Key_R:
        nameRegion();
        return true;
    case Qt::Key_K:
    case Qt::Key_Delete:
        keepOutOrIn();
        return true;
    case Qt::Key_T:
        m_order->click();
        return true;
    case Qt::Key_A:
        if (hasRun(m_bench.document())) m_which->click();
        return true;
    default:
        return QWidget::eventFilter(watched, event);
    }
}

} // namespace fulvex
