#include "report_logo.h"

#include <QBuffer>
#include <QImageReader>

namespace fulvex {

constexpr QSize largest(640, 240); // pixels: 80 x 30 mm at 200 an inch

QImage logoOf(const ReportEntry &entry)
{
    if (entry.logo.empty()) return {};
    QByteArray bytes = QByteArray::fromBase64(QByteArray::fromStdString(entry.logo));
    if (!bytes.startsWith("\x89"
                          "PNG\r\n"))
        return {};
    QBuffer buffer(&bytes);
    QImageReader reader(&buffer, "png"); // and nothing else, whatever a file from elsewhere holds
    const QSize size = reader.size();
    constexpr int most = 4096;
    if (!size.isValid() || size.width() > most || size.height() > most) return {};
    return reader.read();
}

std::string logoText(const QImage &picture)
{
    const bool small = picture.width() <= largest.width() && picture.height() <= largest.height();
    const QImage fitting = small ? picture : picture.scaled(largest, Qt::KeepAspectRatio, Qt::SmoothTransformation);
    QByteArray bytes;
    QBuffer buffer(&bytes);
    buffer.open(QIODevice::WriteOnly);
    fitting.save(&buffer, "PNG");
    return bytes.toBase64().toStdString();
}

} // namespace fulvex
