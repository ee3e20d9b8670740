#include "first_page.h"

#include "program_folders.h"
#include "quiet_label.h"
#include "recent_projects.h"

#include <QApplication>
#include <QFileInfo>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QPainter>
#include <QVBoxLayout>

namespace fulvex {

namespace {

constexpr QSize pictured(208, 130);

/// A project's picture, or an empty tile, within a hairline.
QPixmap cardOf(const RecentProject &project, const Look &look)
{
    QPixmap card(pictured * 2);
    card.setDevicePixelRatio(2);
    card.fill(look.tile);
    QPainter painter(&card);
    painter.setRenderHint(QPainter::SmoothPixmapTransform);
    if (!project.picture.isNull()) painter.drawImage(QRect(QPoint(0, 0), pictured), project.picture);
    painter.setPen(QPen(look.hairline, 1));
    painter.drawRect(QRectF(QPointF(0.5, 0.5), QSizeF(pictured) - QSizeF(1, 1)));
    return card;
}

} // namespace

QString demoProject()
{
    const auto folder = QFileInfo(QString::fromStdString((shareFolder() / "demo").string())).canonicalFilePath();
    const QString path = folder + "/brackwater.fulvex";
    return QFileInfo(path).isFile() ? path : QString();
}

FirstPage::FirstPage(Workbench &bench, QWidget *parent)
    : QWidget(parent), m_bench(bench), m_lately(new QLabel(tr("Worked on lately"))), m_recent(new QListWidget)
{
    setObjectName("firstPage");
    auto *outer = new QHBoxLayout(this);
    auto *column = new QWidget;
    column->setMaximumWidth(920);
    outer->addStretch(1);
    outer->addWidget(column, 20);
    outer->addStretch(1);
    auto *layout = new QVBoxLayout(column);
    layout->setContentsMargins(0, 48, 0, 24);
    layout->setSpacing(10);
    auto *top = new QHBoxLayout;
    auto *mark = new QLabel;
    mark->setPixmap(QApplication::windowIcon().pixmap(44, 44));
    mark->setVisible(!QApplication::windowIcon().isNull());
    top->addWidget(mark);
    auto *name = new QLabel("Fulvex");
    name->setObjectName("firstTitle");
    top->addWidget(name);
    auto *does = new QLabel(tr("is this signal good, by how much, and if not, where and why?"));
    does->setObjectName("firstAsks");
    top->addSpacing(10);
    top->addWidget(does, 1, Qt::AlignBottom);
    layout->addLayout(top);
    layout->addWidget(dropPlace());
    auto *buttons = new QHBoxLayout;
    const auto button = [&](const QString &words, const char *called, const QString &tip, auto pressed) {
        auto *made = new QPushButton(words);
        made->setObjectName(called);
        made->setToolTip(tip);
        connect(made, &QPushButton::clicked, this, pressed);
        buttons->addWidget(made);
        return made;
    };
    const QString demo = demoProject();
    button(tr("Open…"), "firstOpen", tr("Captures, projects, packs, plans, reports (Ctrl+O)"),
           &FirstPage::openRequested);
    button(tr("Look at the demo"), "firstDemo", tr("The camera link of the Brackwater tide station, invented"),
           [this, demo] { emit projectRequested(demo); })
        ->setVisible(!demo.isEmpty());
    button(tr("Take the tour of it"), "firstTour", tr("Six steps, to be left at any time (Esc)"),
           &FirstPage::tourRequested)
        ->setVisible(!demo.isEmpty());
    button(tr("Read the manual"), "firstManual", tr("In the order of the work (F1)"), &FirstPage::manualRequested);
    buttons->addStretch(1);
    layout->addSpacing(6);
    layout->addLayout(buttons);
    layout->addSpacing(22);
    m_lately->setObjectName("heading");
    layout->addWidget(m_lately);
    m_recent->setObjectName("firstRecent");
    m_recent->setViewMode(QListView::IconMode);
    m_recent->setMovement(QListView::Static);
    m_recent->setResizeMode(QListView::Adjust);
    m_recent->setIconSize(pictured);
    m_recent->setGridSize(pictured + QSize(18, 46));
    m_recent->setWordWrap(true);
    m_recent->setFrameShape(QFrame::NoFrame);
    layout->addWidget(m_recent, 1000);
    layout->addStretch(1); // in its place where there is nothing lately
    const auto take = [this](const QListWidgetItem *item) {
        emit projectRequested(item->data(Qt::UserRole).toString());
    };
    connect(m_recent, &QListWidget::itemClicked, this, take);
    connect(m_recent, &QListWidget::itemActivated, this, take);
    connect(&bench, &Workbench::lookChanged, this, &FirstPage::refresh);
    refresh();
}

/// What may be dropped here.
QWidget *FirstPage::dropPlace()
{
    auto *place = new QFrame;
    place->setObjectName("firstDrop");
    auto *layout = new QVBoxLayout(place);
    layout->setContentsMargins(20, 16, 20, 16);
    auto *drop = new QLabel(tr("Drop captures or a project anywhere here"));
    drop->setObjectName("firstLine");
    layout->addWidget(drop);
    const std::pair<QString, QString> kinds[] = {
        {tr("captures"),
         tr("text tables in any dialect · NPY, NPZ · WAV, W64, FLAC · MAT · HDF5 · SigMF · raw samples: each "
            "column becomes a channel, two legs their difference")},
        {tr("projects"), tr(".fulvex, packed .fulvexpack, and reports that Fulvex wrote: they open as their project")},
        {tr("plans, masks"), tr(".fulvexplan is worked down step by step; .mask.json is laid on the chosen eye")}};
    auto *list = new QGridLayout;
    list->setHorizontalSpacing(18);
    list->setColumnStretch(1, 1);
    for (int row = 0; const auto &[kind, words] : kinds) {
        auto *what = quietLabel(kind);
        auto *which = new QLabel(words);
        which->setWordWrap(true);
        list->addWidget(what, row, 0, Qt::AlignTop);
        list->addWidget(which, row++, 1);
    }
    layout->addLayout(list);
    return place;
}

void FirstPage::refresh()
{
    m_recent->clear();
    for (const RecentProject &project : recentProjects()) {
        auto *item = new QListWidgetItem(QIcon(cardOf(project, m_bench.look())), project.title, m_recent);
        item->setData(Qt::UserRole, project.path);
        item->setToolTip(project.path);
    }
    m_lately->setVisible(m_recent->count() > 0);
    m_recent->setVisible(m_recent->count() > 0);
}

} // namespace fulvex
