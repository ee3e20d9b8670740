#include "logo_choice.h"

#include "report_logo.h"

#include <QFileDialog>
#include <QImageReader>

namespace fulvex {

std::string chosenLogo(Workbench &bench, QWidget *window)
{
    const QString file = QFileDialog::getOpenFileName(window, QObject::tr("Picture for the first page"), {},
                                                      QObject::tr("Pictures (*.png *.jpg *.jpeg *.bmp)"));
    if (file.isEmpty()) return {};
    QImageReader reader(file);
    const QImage picture = reader.read();
    if (!picture.isNull()) return logoText(picture);
    emit bench.failed(
        QObject::tr("%1: cannot be read as a picture (%2); give a PNG or JPEG file").arg(file, reader.errorString()));
    return {};
}

} // namespace fulvex
