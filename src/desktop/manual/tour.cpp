#include "tour.h"

#include <QPainter>
#include <QScrollArea>
#include <QShortcut>
#include <QTimer>
#include <QVBoxLayout>
#include <algorithm>

namespace fulvex {

namespace {

using Kind = Selection::Kind;

struct Step {
    const char *title, *words;
    const char *sheet;  ///< that it is on, by id
    Selection chosen;   ///< by then
    const char *target; ///< object name of what it points at
};

/// Of the demo's project.
const std::vector<Step> &allSteps()
{
    static const std::vector<Step> steps{
        {QT_TRANSLATE_NOOP("Tour", "What happened at the station"),
         QT_TRANSLATE_NOOP("Tour", "Three eyes of one link: smeared by the wrong clock, opened by the right one, and "
                                   "after the board was changed. Blue words lead to the sheets that tell why."),
         "story",
         {},
         "wordsTile"},
        {QT_TRANSLATE_NOOP("Tour", "The whole record, and what is in view"),
         QT_TRANSLATE_NOOP("Tour", "The Strip is all of the record. Drag its frame and the traces below follow; in the "
                                   "traces, drag a span to come closer, F for all of it. The band between them on the "
                                   "left, the Chain, says how one channel is made of others."),
         "bring_up",
         {},
         "strip"},
        {QT_TRANSLATE_NOOP("Tour", "The eye is the proof of the clock"),
         QT_TRANSLATE_NOOP("Tour", "This is the loop's bandwidth. Drag the slider far to the left: the loop stops "
                                   "following the oscillator's wander, and the eye closes. Ctrl+Z takes it back."),
         "link_eye",
         {Kind::clock, "loop"},
         "bandwidthSlider"},
        {QT_TRANSLATE_NOOP("Tour", "Every number leads to its samples"),
         QT_TRANSLATE_NOOP("Tour",
                           "The mask found one unit interval of 78 719. It is listed here: press Down, or click "
                           "it, and the traces show that bit. Rows, bars of histograms and lines of spectra are "
                           "asked in the same way."),
         "link_eye",
         {Kind::mask, "mask"},
         "evidenceTable"},
        {QT_TRANSLATE_NOOP("Tour", "Numbers, limits, and how they were made"),
         QT_TRANSLATE_NOOP("Tour",
                           "Select a row: it is drawn where it was measured, and the Inspector says by which "
                           "levels and clock, and what its uncertainty is made of. F2 in the limit's column types a "
                           "limit, < 350 ps, and the verdict follows."),
         "link_eye",
         {Kind::measurement, "tr"},
         "ledgerTable"},
        {QT_TRANSLATE_NOOP("Tour", "Ask, and write it down"),
         QT_TRANSLATE_NOOP("Tour",
                           "Ctrl+Space, then what you want: \"fall link\", \"spectrum\", \"how do I count bit "
                           "errors\". Ctrl+Shift+P lays the report out, Ctrl+R writes it. On the sheet Acceptance "
                           "the third step still waits for its capture: captures/acceptance/warm.npy."),
         "acceptance",
         {},
         "ask"}};
    return steps;
}

QWidget *seen(QMainWindow *window, const char *name)
{
    for (QWidget *widget : window->findChildren<QWidget *>(name))
        if (widget->isVisible()) return widget;
    return nullptr;
}

} // namespace

/// A line around what is pointed at; whatever is done with the mouse goes through it.
class Tour::Ring final : public QWidget {
public:
    Ring(QWidget *window, const Workbench &bench) : QWidget(window), m_bench(bench)
    {
        setAttribute(Qt::WA_TransparentForMouseEvents);
        setFocusPolicy(Qt::NoFocus);
    }
    void paintEvent(QPaintEvent *) override
    {
        QPainter painter(this);
        painter.setRenderHint(QPainter::Antialiasing);
        painter.setPen(QPen(m_bench.look().accent, 2.5));
        painter.drawRoundedRect(QRectF(rect()).adjusted(2, 2, -2, -2), 6, 6);
    }

private:
    const Workbench &m_bench;
};

int Tour::steps()
{
    return int(allSteps().size());
}

Tour::Tour(QMainWindow *window, Workbench &bench)
    : QFrame(window), m_window(window), m_bench(bench), m_ring(new Ring(window, bench)), m_count(new QLabel),
      m_title(new QLabel), m_words(new QLabel), m_back(new QPushButton(tr("Back"))), m_next(new QPushButton)
{
    setObjectName("tour");
    setAccessibleName(tr("Tour of the demo"));
    setFixedWidth(350);
    auto *layout = new QVBoxLayout(this);
    layout->setContentsMargins(16, 12, 16, 12);
    m_count->setObjectName("quiet");
    m_title->setObjectName("heading");
    m_title->setWordWrap(true);
    m_words->setObjectName("tourWords");
    m_words->setWordWrap(true);
    layout->addWidget(m_count);
    layout->addWidget(m_title);
    layout->addWidget(m_words);
    auto *buttons = new QHBoxLayout;
    auto *leaves = new QPushButton(tr("Leave"));
    leaves->setObjectName("tourLeave");
    leaves->setToolTip(tr("Help > Tour of the demo begins it again (Esc)"));
    m_back->setObjectName("tourBack");
    m_back->setToolTip(tr("The step before (Left)"));
    m_next->setObjectName("tourNext");
    m_next->setToolTip(tr("The next step (Right)"));
    buttons->addWidget(leaves);
    buttons->addStretch(1);
    buttons->addWidget(m_back);
    buttons->addWidget(m_next);
    layout->addLayout(buttons);
    connect(leaves, &QPushButton::clicked, this, &Tour::leave);
    connect(m_back, &QPushButton::clicked, this, [this] { go(m_step - 1); });
    connect(m_next, &QPushButton::clicked, this, [this] { m_step + 1 == steps() ? leave() : go(m_step + 1); });
    const std::pair<Qt::Key, QPushButton *> keys[] = {
        {Qt::Key_Escape, leaves}, {Qt::Key_Left, m_back}, {Qt::Key_Right, m_next}};
    for (const auto &[key, button] : keys)
        connect(new QShortcut(key, this, nullptr, nullptr, Qt::WidgetWithChildrenShortcut), &QShortcut::activated,
                button, &QPushButton::click);
    connect(&bench, &Workbench::sessionBegun, this, &Tour::leave);
    auto *follow = new QTimer(this); // what it points at may be made anew at any time
    connect(follow, &QTimer::timeout, this, &Tour::place);
    follow->start(150);
    window->installEventFilter(this);
    show();
    go(0);
}

Tour::~Tour()
{
    delete m_ring;
}

QWidget *Tour::target() const
{
    return seen(m_window, allSteps()[std::size_t(m_step)].target);
}

void Tour::go(int to)
{
    m_step = std::clamp(to, 0, steps() - 1);
    const Step &step = allSteps()[std::size_t(m_step)];
    const auto &sheets = m_bench.document().sheets;
    const auto sheet = std::ranges::find(sheets, std::string(step.sheet), &SheetEntry::id);
    if (sheet != sheets.end()) m_bench.showSheet(int(sheet - sheets.begin()));
    if (step.chosen.kind != Kind::nothing) m_bench.select(step.chosen);
    m_count->setText(tr("%1 of %2").arg(m_step + 1).arg(steps()));
    m_title->setText(tr(step.title));
    m_words->setText(tr(step.words));
    m_back->setEnabled(m_step > 0);
    m_next->setText(m_step + 1 == steps() ? tr("Done") : tr("Next"));
    m_next->setFocus();
    place();
}

void Tour::place()
{
    QWidget *to = target();
    if (!m_ring) return;
    m_ring->setVisible(to != nullptr);
    adjustSize();
    const QRect room = m_window->rect().adjusted(8, 8, -8, -8);
    QRect by(room.center(), QSize(1, 1));
    if (to) {
        for (QWidget *above = to->parentWidget(); above; above = above->parentWidget())
            if (auto *area = qobject_cast<QScrollArea *>(above)) area->ensureWidgetVisible(to, 0, 40);
        by = QRect(to->mapTo(m_window, QPoint(0, 0)), to->size()).adjusted(-5, -5, 5, 5) & m_window->rect();
        m_ring->setGeometry(by);
        m_ring->raise();
    }
    // Beside it where there is room, else in its lower right corner.
    const int gap = 10;
    QPoint corner(by.left(), by.bottom() + gap);
    if (corner.y() + height() > room.bottom()) corner.setY(by.top() - gap - height());
    if (corner.y() < room.top()) {
        corner = {by.left() - gap - width(), std::min(by.top(), room.bottom() - height())};
        if (corner.x() < room.left()) corner.setX(by.right() + gap);
        if (corner.x() + width() > room.right())
            corner = {by.right() - width() - 16, std::min(by.bottom(), room.bottom()) - height() - 16};
    }
    corner.setX(std::clamp(corner.x(), room.left(), std::max(room.left(), room.right() - width())));
    move(corner);
    raise();
}

void Tour::leave()
{
    hide();
    if (m_ring) m_ring->hide();
    m_window->removeEventFilter(this);
    deleteLater();
}

bool Tour::eventFilter(QObject *watched, QEvent *event)
{
    if (event->type() == QEvent::Resize) place();
    return QFrame::eventFilter(watched, event);
}

} // namespace fulvex
