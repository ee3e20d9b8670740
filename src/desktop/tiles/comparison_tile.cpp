#include "comparison_tile.h"

#include "difference_scale.h"
#include "plain_table.h"
#include "tile_edits.h"

#include <QHeaderView>
#include <QKeyEvent>
#include <QMenu>
#include <QStyledItemDelegate>
#include <algorithm>

namespace fulvex {

namespace {

/// Paints the scale's column.
class ScaleDelegate final : public QStyledItemDelegate {
public:
    ScaleDelegate(const Workbench &bench, const ComparedNumbersModel &model, const QSortFilterProxyModel &proxy,
                  QObject *parent)
        : QStyledItemDelegate(parent), m_bench(bench), m_model(model), m_proxy(proxy)
    {
    }
    void paint(QPainter *painter, const QStyleOptionViewItem &option, const QModelIndex &index) const override
    {
        QStyledItemDelegate::paint(painter, option, index);
        DifferenceScale::paint(*painter, QRectF(option.rect), m_model.at(m_proxy.mapToSource(index).row()),
                               m_bench.look());
    }

private:
    const Workbench &m_bench;
    const ComparedNumbersModel &m_model;
    const QSortFilterProxyModel &m_proxy;
};

} // namespace

ComparisonTile::ComparisonTile(Workbench &bench, int index, QWidget *parent)
    : TileFrame(bench, index, parent, Selection::Kind::comparison)
{
    for (auto changed : {&Workbench::documentChanged, &Workbench::comparisonsChanged, &Workbench::lookChanged})
        connect(&bench, changed, this, [this] { refresh(); });
}

QString ComparisonTile::otherName() const
{
    return compared() ? text(compared()->file.stem().string()) : tr("the other");
}

QString ComparisonTile::waiting() const
{
    if (!findEntry(bench().document().comparisons, entryId())) return tr("This comparison is no more.");
    const Compared *known = compared();
    if (known && !known->error.empty()) return text(known->error);
    if (!known || !known->other) return tr("Reading %1 and computing it anew…").arg(otherName());
    return tr("Waiting for this project's own numbers…");
}

QString ComparisonTile::whyNoPicture() const
{
    const Compared *known = compared();
    if (!known || !known->found) return waiting();
    if (known->other->results) return {};
    return tr("%1 holds numbers alone: compare with its project to see pictures.").arg(otherName());
}

ComparedSettingsTile::ComparedSettingsTile(Workbench &bench, int index, QWidget *parent)
    : ComparisonTile(bench, index, parent), m_model(new ComparedSettingsModel(bench, this))
{
    setObjectName("comparedSettingsTile");
    m_table = makePlainTable("comparedSettings", m_model);
    m_table->setParent(this);
    m_table->setContextMenuPolicy(Qt::CustomContextMenu);
    m_table->verticalHeader()->setDefaultSectionSize(18);
    m_table->horizontalHeader()->setDefaultAlignment(Qt::AlignLeft | Qt::AlignVCenter);
    m_table->horizontalHeader()->setStretchLastSection(true);
    m_table->setToolTip(tr("What numbers follow from, and is not the same in both · right click: set this one alike"));
    m_alike = new QPushButton(this);
    m_alike->setObjectName("makeAlike");
    connect(m_alike, &QPushButton::clicked, this, [this] {
        if (const auto comparison = found()) this->bench().makeAlike(entryId(), comparison->settings);
    });
    connect(m_table, &QWidget::customContextMenuRequested, this, &ComparedSettingsTile::offer);
    refresh();
}

QString ComparedSettingsTile::factsOf(const Comparison &comparison) const
{
    const bool otherVersion = comparison.firstVersion != comparison.secondVersion;
    const QString version = otherVersion ? tr(" · made by version %1").arg(text(comparison.firstVersion)) : QString();
    if (comparison.settings.empty() || !comparison.settingsKnown) return version.mid(3);
    std::vector<std::string> touched;
    for (const SettingDifference &one : comparison.settings)
        touched.insert(touched.end(), one.rows.begin(), one.rows.end());
    std::ranges::sort(touched);
    touched.erase(std::unique(touched.begin(), touched.end()), touched.end());
    std::vector<std::string> all;
    for (const Comparison::Pair &pair : comparison.pairs)
        if (all.empty() || all.back() != pair.first.id) all.push_back(pair.first.id);
    const std::size_t count = comparison.settings.size();
    return (count == 1 ? tr("1 setting, behind ") : tr("%1 settings, behind ").arg(count)) +
           tr("%1 of %2 numbers").arg(touched.size()).arg(all.size()) + version;
}

void ComparedSettingsTile::refresh()
{
    const auto comparison = found();
    m_model->show(comparison);
    m_summary = comparison ? text(summaryOf(*comparison)) : QString();
    m_facts = comparison ? factsOf(*comparison) : QString();
    const bool any = m_model->rowCount() > 0;
    m_table->setVisible(any);
    m_alike->setVisible(any);
    m_alike->setText(tr("Set these as %1 has them").arg(otherName()));
    m_alike->setToolTip(tr("In one step, which can be undone; the captures and what is shown stay as they are"));
    m_alike->adjustSize();
    if (any) {
        constexpr int widths[] = {230, 150, 150, 200};
        fitColumns(*m_table, widths);
    }
    resizeEvent(nullptr);
    update();
}

void ComparedSettingsTile::paintBody(QPainter &painter, const QRectF &area)
{
    const Look &look = bench().look();
    if (!found()) return paintEmpty(painter, area, waiting(), look);
    constexpr double line = 22;
    painter.setFont(look.font(11));
    painter.setPen(look.ink);
    const QRectF words = m_model->rowCount() > 0
                             ? QRectF(area.left() + 6, area.bottom() - line, area.width() - 12, line)
                             : area.adjusted(12, 8, -12, -8);
    if (m_model->rowCount() > 0) {
        painter.drawText(words, Qt::AlignLeft | Qt::AlignVCenter,
                         painter.fontMetrics().elidedText(m_summary, Qt::ElideRight, int(words.width())));
        if (painter.device() != this) m_table->render(&painter, m_table->pos());
    } else {
        painter.drawText(words, Qt::AlignCenter | Qt::TextWordWrap, m_summary);
    }
}

void ComparedSettingsTile::resizeEvent(QResizeEvent *event)
{
    if (event) ComparisonTile::resizeEvent(event);
    m_table->setGeometry(body().toRect().adjusted(2, 0, -2, -24));
    m_alike->move(width() - m_alike->width() - 8, 3);
}

void ComparedSettingsTile::offer(QPoint at)
{
    const QModelIndex over = m_table->indexAt(at);
    if (!over.isValid()) return;
    const SettingDifference one = m_model->at(over.row());
    QMenu menu(this);
    menu.setObjectName("settingMenu");
    menu.addAction(tr("Set this one as %1 has it").arg(otherName()), this,
                   [this, one] { bench().makeAlike(entryId(), {one}); });
    menu.exec(m_table->viewport()->mapToGlobal(at));
}

ComparedNumbersTile::ComparedNumbersTile(Workbench &bench, int index, QWidget *parent)
    : ComparisonTile(bench, index, parent), m_model(new ComparedNumbersModel(bench, this)),
      m_proxy(new QSortFilterProxyModel(this))
{
    setObjectName("comparedNumbersTile");
    m_proxy->setSourceModel(m_model);
    m_proxy->setSortRole(ComparedNumbersModel::sortRole);
    m_table = makePlainTable("comparedNumbers", m_proxy);
    m_table->setParent(this);
    m_table->setSelectionMode(QAbstractItemView::SingleSelection);
    m_table->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    m_table->setSortingEnabled(true);
    m_table->sortByColumn(-1, Qt::AscendingOrder);
    m_table->horizontalHeader()->setStretchLastSection(true);
    m_table->setItemDelegateForColumn(ComparedNumbersModel::scale,
                                      new ScaleDelegate(bench, *m_model, *m_proxy, m_table));
    m_table->setToolTip(
        tr("In units of u, the uncertainty of the difference; shaded: what chance explains, twice that\n"
           "Hollow: a setting differs, so that it says nothing about the device\n"
           "A click on a heading sorts · ↑ ↓: that row in the other views"));
    connect(m_table->selectionModel(), &QItemSelectionModel::currentRowChanged, this,
            [this](const QModelIndex &current) {
                if (current.isValid()) chooseRow(m_model->at(m_proxy->mapToSource(current).row()));
            });
    refresh();
}

void ComparedNumbersTile::chooseRow(const Comparison::Pair &pair)
{
    using Kind = Selection::Kind;
    const Kind kind = pair.second.kind == EntryKind::mask         ? Kind::mask
                      : pair.second.kind == EntryKind::budget     ? Kind::budget
                      : pair.second.kind == EntryKind::phaseNoise ? Kind::phaseNoise
                                                                  : Kind::measurement;
    bench().select({kind, pair.second.id});
}

QString ComparedNumbersTile::facts() const
{
    const auto comparison = found();
    if (!comparison) return {};
    QString facts = tr("%1 beside this project").arg(otherName());
    if (!comparison->onlyFirst.empty()) facts += tr(" · %1 there alone").arg(comparison->onlyFirst.size());
    if (!comparison->onlySecond.empty()) facts += tr(" · %1 here alone").arg(comparison->onlySecond.size());
    if (const std::size_t out = compared()->other->unread.size())
        facts += tr(" · %1 captures of the other could not be read").arg(out);
    return facts;
}

QString ComparedNumbersTile::aside() const
{
    const auto comparison = found();
    if (!comparison) return {};
    const auto others = std::ranges::count_if(comparison->pairs, &Comparison::Pair::isOther);
    return others == 0 ? tr("all agree") : others == 1 ? tr("1 differs") : tr("%1 differ").arg(others);
}

void ComparedNumbersTile::refresh()
{
    m_model->show(found());
    m_table->setVisible(m_model->rowCount() > 0);
    if (m_model->rowCount() > 0) {
        constexpr int widths[] = {180, 130, 130, 84, 130, 76};
        fitColumns(*m_table, widths);
    }
    update();
}

void ComparedNumbersTile::paintBody(QPainter &painter, const QRectF &area)
{
    if (m_model->rowCount() == 0)
        return paintEmpty(painter, area, found() ? tr("The two have no number in common.") : waiting(), bench().look());
    if (painter.device() != this) m_table->render(&painter, m_table->pos());
}

void ComparedNumbersTile::resizeEvent(QResizeEvent *event)
{
    ComparisonTile::resizeEvent(event);
    m_table->setGeometry(body().toRect().adjusted(2, 0, -2, -8));
}

ComparedEyesTile::ComparedEyesTile(Workbench &bench, int index, QWidget *parent)
    : ComparisonTile(bench, index, parent), m_drawn(bench.figures(), [this] { refresh(); })
{
    setObjectName("comparedEyesTile");
    setToolTip(tr("Both eyes over each other · D: where one of them is passed more often than the other"));
    connect(&bench, &Workbench::sessionBegun, this, [this] { m_drawn.drop(); });
    refresh();
}

void ComparedEyesTile::refresh()
{
    m_figure = {};
    m_figure.empty = whyNoPicture();
    if (m_figure.empty.isEmpty())
        m_figure = comparedEyesFigure(*compared()->other->results, *compared()->own, eyeId(), otherName(),
                                      tr("this project"), entry().difference);
    if (const auto from = m_figure.drawingFrom(bench().look())) {
        m_drawn.want(*from);
        m_figure.drawing = m_drawn.newest();
    }
    update();
}

void ComparedEyesTile::paintBody(QPainter &painter, const QRectF &area)
{
    paintComparedEyes(painter, area, m_figure, bench().look());
}

void ComparedEyesTile::keyPressEvent(QKeyEvent *event)
{
    if (event->key() != Qt::Key_D) return ComparisonTile::keyPressEvent(event);
    editTile(bench(), id(), tr("difference"), [](TileEntry &tile) { tile.difference = !tile.difference; }, {});
}

void ComparedEyesTile::mousePressEvent(QMouseEvent *)
{
    setFocus(Qt::MouseFocusReason);
    bench().select({Selection::Kind::eye, eyeId()});
}

ComparedCurvesTile::ComparedCurvesTile(Workbench &bench, int index, QWidget *parent)
    : ComparisonTile(bench, index, parent), m_drawn(bench.figures(), [this] { refresh(); })
{
    setObjectName("comparedCurvesTile");
    setToolTip(tr("Both over each other, and beneath how far this project's lies above the other's"));
    connect(&bench, &Workbench::sessionBegun, this, [this] { m_drawn.drop(); });
    refresh();
}

void ComparedCurvesTile::refresh()
{
    m_figure = {};
    m_figure.empty = whyNoPicture();
    if (m_figure.empty.isEmpty())
        m_figure = comparedCurvesFigure(*compared()->other->results, *compared()->own, entry(),
                                        entry().of.size() > 1 ? entry().of[1] : std::string(), otherName(),
                                        tr("this project"));
    if (const auto from = m_figure.drawingFrom(FunctionPlot().plotRect(body()).width())) {
        m_drawn.want(*from);
        m_figure.drawing = m_drawn.newest();
    }
    update();
}

void ComparedCurvesTile::paintBody(QPainter &painter, const QRectF &area)
{
    if (const auto from = m_figure.drawingFrom(FunctionPlot().plotRect(area).width())) m_drawn.want(*from);
    paintComparedCurves(painter, area, m_figure, bench().look());
}

void ComparedCurvesTile::mousePressEvent(QMouseEvent *)
{
    setFocus(Qt::MouseFocusReason);
    choose();
}

} // namespace fulvex
