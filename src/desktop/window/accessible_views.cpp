#include "accessible_views.h"

#include "chain_view.h"
#include "strip_view.h"
#include "tile_frame.h"

#include <QAccessibleWidget>

namespace fulvex {

static QAccessibleInterface *roleOf(const QString &, QObject *object)
{
    if (auto *tile = qobject_cast<TileFrame *>(object)) return new QAccessibleWidget(tile, QAccessible::Graphic);
    if (auto *strip = qobject_cast<StripView *>(object)) return new QAccessibleWidget(strip, QAccessible::Graphic);
    if (auto *rails = qobject_cast<ChainRails *>(object)) return new QAccessibleWidget(rails, QAccessible::List);
    return nullptr;
}

void installAccessibleViews()
{
    QAccessible::installFactory(roleOf); // one that is known already is not added again
}

} // namespace fulvex
