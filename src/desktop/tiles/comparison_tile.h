#pragma once

#include "compared_curves_figure.h"
#include "compared_eyes_figure.h"
#include "comparison_model.h"
#include "figure_worker.h"
#include "tile_frame.h"

#include <QPushButton>
#include <QSortFilterProxyModel>
#include <QTableView>

namespace fulvex {

/// A tile of a comparison: of the entry that it names first.
class ComparisonTile : public TileFrame {
    Q_OBJECT
public:
    ComparisonTile(Workbench &bench, int index, QWidget *parent);

protected:
    const Compared *compared() const { return bench().comparedWith(entryId()); }
    std::shared_ptr<const Comparison> found() const { return compared() ? compared()->found : nullptr; }
    QString otherName() const; ///< of the other result, short
    QString waiting() const;   ///< why there is nothing to be seen yet
    /// Why there is no picture of both: nothing is known yet, or numbers alone are; empty: there may be one.
    QString whyNoPicture() const;
    virtual void refresh() = 0;
};

/// What is set differently, first of all: what moves by it, and the way to set it alike.
class ComparedSettingsTile final : public ComparisonTile {
    Q_OBJECT
public:
    ComparedSettingsTile(Workbench &bench, int index, QWidget *parent);

protected:
    QString title() const override { return tr("Set differently"); }
    QString facts() const override { return m_facts; }
    void paintBody(QPainter &painter, const QRectF &area) override;
    void resizeEvent(QResizeEvent *event) override;
    void refresh() override;

private:
    QString factsOf(const Comparison &comparison) const;
    void offer(QPoint at);
    ComparedSettingsModel *m_model;
    QTableView *m_table;
    QPushButton *m_alike;
    QString m_summary, m_facts; ///< of what is shown
};

/// Numbers side by side, with their differences on a scale.
class ComparedNumbersTile final : public ComparisonTile {
    Q_OBJECT
public:
    ComparedNumbersTile(Workbench &bench, int index, QWidget *parent);

protected:
    QString title() const override { return tr("Side by side"); }
    QString facts() const override;
    QString aside() const override;
    void paintBody(QPainter &painter, const QRectF &area) override;
    void resizeEvent(QResizeEvent *event) override;
    void refresh() override;

private:
    void chooseRow(const Comparison::Pair &pair);
    ComparedNumbersModel *m_model;
    QSortFilterProxyModel *m_proxy;
    QTableView *m_table;
};

/// Two eyes over each other. D: where one is passed more often than the other.
class ComparedEyesTile final : public ComparisonTile {
    Q_OBJECT
public:
    ComparedEyesTile(Workbench &bench, int index, QWidget *parent);

protected:
    QString title() const override { return entry().difference ? tr("Eyes, difference") : tr("Eyes"); }
    QString facts() const override { return m_figure.title + (m_figure.facts.isEmpty() ? "" : " · " + m_figure.facts); }
    QString aside() const override { return m_figure.aside; }
    void paintBody(QPainter &painter, const QRectF &area) override;
    void keyPressEvent(QKeyEvent *event) override;
    void mousePressEvent(QMouseEvent *event) override;
    void refresh() override;

private:
    std::string eyeId() const { return entry().of.size() > 1 ? entry().of[1] : std::string(); }
    ComparedEyesFigure m_figure;
    Drawn<ComparedEyesDrawing> m_drawn;
};

/// Two spectra, or curves of phase noise, over each other, and their difference.
class ComparedCurvesTile final : public ComparisonTile {
    Q_OBJECT
public:
    ComparedCurvesTile(Workbench &bench, int index, QWidget *parent);

protected:
    QString title() const override { return m_figure.second.noise ? tr("Phase noise") : tr("Spectra"); }
    QString facts() const override { return m_figure.title + tr(" · beneath: the difference"); }
    QString aside() const override { return m_figure.aside(); }
    void paintBody(QPainter &painter, const QRectF &area) override;
    void mousePressEvent(QMouseEvent *event) override;
    void refresh() override;

private:
    ComparedCurvesFigure m_figure;
    Drawn<ComparedCurvesDrawing> m_drawn;
};

} // namespace fulvex
