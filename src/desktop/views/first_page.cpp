#include "first_page.h"

#include "program_folders.h"
#include "recent_projects.h"

#include <QFileInfo>
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
    auto *name = new QLabel("Fulvex");
    name->setObjectName("firstTitle");
    layout->addWidget(name);
    auto *drop = new QLabel(tr("Drop captures or a project here, or press Ctrl+O."));
    drop->setObjectName("firstLine");
    layout->addWidget(drop);
    auto *formats = new QLabel(tr("Text tables, NPY and NPZ, WAV, W64 and FLAC, MAT, HDF5, SigMF, raw samples: each "
                                  "column becomes a channel. Then Ctrl+Space, and say what you want to know."));
    formats->setObjectName("quiet");
    formats->setWordWrap(true);
    layout->addWidget(formats);
    auto *buttons = new QHBoxLayout;
    auto *open = new QPushButton(tr("Open…"));
    open->setObjectName("firstOpen");
    connect(open, &QPushButton::clicked, this, &FirstPage::openRequested);
    buttons->addWidget(open);
    const QString demo = demoProject();
    auto *show = new QPushButton(tr("Look at the demo: the camera link of the Brackwater tide station"));
    show->setObjectName("firstDemo");
    show->setVisible(!demo.isEmpty());
    connect(show, &QPushButton::clicked, this, [this, demo] { emit projectRequested(demo); });
    buttons->addWidget(show);
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
    layout->addWidget(m_recent, 1);
    const auto take = [this](const QListWidgetItem *item) {
        emit projectRequested(item->data(Qt::UserRole).toString());
    };
    connect(m_recent, &QListWidget::itemClicked, this, take);
    connect(m_recent, &QListWidget::itemActivated, this, take);
    connect(&bench, &Workbench::lookChanged, this, &FirstPage::refresh);
    refresh();
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
