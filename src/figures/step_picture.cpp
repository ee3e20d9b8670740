#include "step_picture.h"

#include <QImageReader>

namespace fulvex {

StepPicture StepPicture::of(const From &from)
{
    QImageReader reader(QString::fromStdString(from.file));
    const QSize size = reader.size();
    if (size.isValid() && (size.width() > from.largest.width() || size.height() > from.largest.height()))
        reader.setScaledSize(size.scaled(from.largest, Qt::KeepAspectRatio));
    return {from, reader.read()};
}

} // namespace fulvex
