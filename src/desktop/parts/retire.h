#pragma once

#include <QLayout>
#include <QWidget>

namespace fulvex {

/// Takes a widget out of sight for good; it is deleted once it is nobody's sender any more. It keeps its parent: one
/// without becomes a window of its own where a layout was still about to show it, and outlives what it looks at.
inline void retire(QWidget *widget)
{
    if (!widget) return;
    if (QWidget *parent = widget->parentWidget(); parent && parent->layout()) parent->layout()->removeWidget(widget);
    widget->hide();
    widget->setObjectName({});
    for (QObject *within : widget->findChildren<QObject *>()) within->setObjectName({}); // nobody finds them any more
    widget->deleteLater();
}

} // namespace fulvex
