#include "svg_picture.h"

#include "plain_text.h"

#include <QBuffer>
#include <QPaintEngine>
#include <QPainterPath>
#include <cmath>

namespace fulvex {

namespace {

QString number(double value)
{
    QString digits = QString::number(std::isfinite(value) ? value : 0.0, 'f', 2);
    while (digits.endsWith('0')) digits.chop(1);
    if (digits.endsWith('.')) digits.chop(1);
    return digits == "-0" ? QString("0") : digits;
}

QString pathData(const QPainterPath &path)
{
    QString data;
    for (int i = 0; i < path.elementCount(); ++i) {
        const QPainterPath::Element e = path.elementAt(i);
        switch (e.type) {
        case QPainterPath::MoveToElement:
            data += 'M';
            break;
        case QPainterPath::LineToElement:
            data += 'L';
            break;
        case QPainterPath::CurveToElement:
            data += 'C';
            break;
        case QPainterPath::CurveToDataElement:
            data += ' ';
            break;
        }
        data += number(e.x) + ' ' + number(e.y);
    }
    return data;
}

/// Everything is written in the picture's own coordinates.
class SvgEngine final : public QPaintEngine {
public:
    explicit SvgEngine(const QString &id)
        : QPaintEngine(AllFeatures & ~(PatternTransform | PerspectiveTransform | ConicalGradientFill | PorterDuff |
                                       RasterOpModes | BlendModes | ObjectBoundingModeGradients)),
          m_id(id)
    {
    }
    bool begin(QPaintDevice *) override { return true; }
    bool end() override
    {
        closeClip();
        return true;
    }
    Type type() const override { return User; }
    void updateState(const QPaintEngineState &now) override
    {
        constexpr DirtyFlags clipping = DirtyClipPath | DirtyClipRegion | DirtyClipEnabled | DirtyTransform;
        if (now.state() & clipping) m_clipKnown = false;
    }
    void drawPath(const QPainterPath &path) override
    {
        shape("<path d=\"" + pathData(transform().map(path)) + "\"" +
                  (path.fillRule() == Qt::OddEvenFill ? " fill-rule=\"evenodd\"" : ""),
              true);
    }
    using QPaintEngine::drawPolygon;
    void drawPolygon(const QPointF *points, int count, PolygonDrawMode mode) override
    {
        QString list;
        for (int i = 0; i < count; ++i) {
            const QPointF at = transform().map(points[i]);
            list += (i ? " " : "") + number(at.x()) + ',' + number(at.y());
        }
        const bool open = mode == PolylineMode;
        shape((open ? "<polyline points=\"" : "<polygon points=\"") + list + "\"" +
                  (mode == OddEvenMode ? " fill-rule=\"evenodd\"" : ""),
              !open);
    }
    void drawTextItem(const QPointF &at, const QTextItem &item) override
    {
        openClip();
        const QFont font = item.font();
        const QTransform to = transform();
        const double pixels = font.pixelSize() > 0 ? font.pixelSize() : font.pointSizeF() * 96 / 72;
        const QString words = QString::fromStdString(shownText(item.text().toStdString(), true)).toHtmlEscaped();
        const bool moved = to.type() <= QTransform::TxTranslate; // and nothing else
        m_text += "<text";
        if (!moved) {
            constexpr int digits = 8;
            m_text += " transform=\"matrix(";
            for (const double one : {to.m11(), to.m12(), to.m21(), to.m22(), to.dx(), to.dy()})
                m_text += QString::number(one, 'g', digits) + ' ';
            m_text += ")\"";
        }
        const QPointF from = moved ? to.map(at) : at;
        m_text +=
            QString(" x=\"%1\" y=\"%2\" font-size=\"%3\"").arg(number(from.x()), number(from.y()), number(pixels));
        if (font.weight() >= QFont::DemiBold) m_text += " font-weight=\"600\"";
        m_text += QString(" textLength=\"%1\" lengthAdjust=\"spacingAndGlyphs\" fill=\"%2\"%3>%4</text>\n")
                      .arg(number(item.width()), painter()->pen().color().name(),
                           opacity("fill", painter()->pen().color()), words);
    }
    void drawPixmap(const QRectF &to, const QPixmap &pixmap, const QRectF &from) override
    {
        drawImage(to, pixmap.toImage(), from, Qt::AutoColor);
    }
    void drawImage(const QRectF &to, const QImage &image, const QRectF &from, Qt::ImageConversionFlags) override
    {
        openClip();
        QByteArray png;
        QBuffer buffer(&png);
        constexpr int quick = 65; // a seventh more bytes than the smallest, in a third of the time
        buffer.open(QIODevice::WriteOnly);
        (from == QRectF(image.rect()) ? image : image.copy(from.toAlignedRect())).save(&buffer, "PNG", quick);
        const QRectF area = transform().mapRect(to);
        m_text += QString("<image x=\"%1\" y=\"%2\" width=\"%3\" height=\"%4\" preserveAspectRatio=\"none\" "
                          "href=\"data:image/png;base64,%5\"/>\n")
                      .arg(number(area.x()), number(area.y()), number(area.width()), number(area.height()),
                           QString::fromLatin1(png.toBase64()));
    }
    const QString &written() const { return m_text; }

private:
    QTransform transform() const { return painter()->combinedTransform(); }
    /// How much of a patterned area is inked.
    static double shareOf(Qt::BrushStyle style)
    {
        constexpr double shares[] = {0.94, 0.88, 0.63, 0.5, 0.37, 0.12, 0.06};
        return style >= Qt::Dense1Pattern && style <= Qt::Dense7Pattern ? shares[style - Qt::Dense1Pattern] : 1;
    }
    QString opacity(const char *what, const QColor &colour, double share = 1) const
    {
        const double is = colour.alphaF() * painter()->opacity() * share;
        return is < 1 ? QString(" %1-opacity=\"%2\"").arg(what, number(is)) : QString();
    }
    void shape(const QString &begin, bool filled)
    {
        const QPen pen = painter()->pen();
        const QBrush brush = painter()->brush();
        filled = filled && brush.style() != Qt::NoBrush;
        const bool stroked = pen.style() != Qt::NoPen;
        const double share = shareOf(brush.style());
        if (!filled && !stroked) return;
        openClip();
        m_text += begin;
        m_text += filled ? QString(" fill=\"%1\"%2").arg(brush.color().name(), opacity("fill", brush.color(), share))
                         : QString(" fill=\"none\"");
        if (stroked) stroke(pen);
        if (!painter()->testRenderHint(QPainter::Antialiasing)) m_text += " shape-rendering=\"crispEdges\"";
        m_text += "/>\n";
    }
    void stroke(const QPen &pen)
    {
        const double scale = pen.isCosmetic() ? 1 : std::sqrt(std::abs(transform().determinant())),
                     width = std::max(pen.widthF(), 1e-3) * scale;
        m_text += QString(" stroke=\"%1\"%2 stroke-width=\"%3\"")
                      .arg(pen.color().name(), opacity("stroke", pen.color()), number(pen.widthF() > 0 ? width : 1.0));
        QString dashes;
        for (const double dash : pen.dashPattern()) dashes += (dashes.isEmpty() ? "" : " ") + number(dash * width);
        if (pen.style() != Qt::SolidLine && !dashes.isEmpty()) m_text += " stroke-dasharray=\"" + dashes + "\"";
        if (pen.capStyle() == Qt::RoundCap) m_text += " stroke-linecap=\"round\"";
        if (pen.joinStyle() == Qt::RoundJoin) m_text += " stroke-linejoin=\"round\"";
    }
    /// What follows is clipped as the painter is now.
    void openClip()
    {
        if (m_clipKnown) return;
        m_clipKnown = true;
        const QString clip = painter()->hasClipping() ? pathData(transform().map(painter()->clipPath())) : QString();
        if (clip == m_clip) return;
        closeClip();
        m_clip = clip;
        if (clip.isEmpty()) return;
        const QString name = m_id + "c" + QString::number(++m_clips);
        m_text +=
            "<clipPath id=\"" + name + "\"><path d=\"" + clip + "\"/></clipPath><g clip-path=\"url(#" + name + ")\">\n";
    }
    void closeClip()
    {
        if (!m_clip.isEmpty()) m_text += "</g>\n";
        m_clip.clear();
    }
    QString m_id, m_text, m_clip;
    bool m_clipKnown = false;
    int m_clips = 0;
};

class SvgDevice final : public QPaintDevice {
public:
    SvgDevice(QSizeF size, const QString &id) : m_size(size), m_engine(id) {}
    QPaintEngine *paintEngine() const override { return &m_engine; }
    const QString &written() const { return m_engine.written(); }

protected:
    int metric(PaintDeviceMetric metric) const override
    {
        constexpr int dotsPerInch = 96;
        switch (metric) {
        case PdmWidth:
            return int(std::ceil(m_size.width()));
        case PdmHeight:
            return int(std::ceil(m_size.height()));
        case PdmWidthMM:
            return int(m_size.width() * 25.4 / dotsPerInch);
        case PdmHeightMM:
            return int(m_size.height() * 25.4 / dotsPerInch);
        case PdmNumColors:
            return 1 << 24;
        case PdmDepth:
            return 32;
        case PdmDevicePixelRatio:
            return 1;
        case PdmDevicePixelRatioScaled:
            return int(devicePixelRatioFScale());
        case PdmDpiX:
        case PdmDpiY:
        case PdmPhysicalDpiX:
        case PdmPhysicalDpiY:
            return dotsPerInch;
        default:
            return QPaintDevice::metric(metric);
        }
    }

private:
    QSizeF m_size;
    mutable SvgEngine m_engine;
};

} // namespace

QString svgPicture(QSizeF size, const QString &id, const std::function<void(QPainter &, const QRectF &)> &paint)
{
    SvgDevice device(size, id);
    QPainter painter(&device);
    paint(painter, QRectF(QPointF(0, 0), size));
    painter.end();
    return QString("<svg viewBox=\"0 0 %1 %2\" font-family=\"Inter,system-ui,sans-serif\" role=\"img\">\n%3</svg>")
        .arg(number(size.width()), number(size.height()), device.written());
}

} // namespace fulvex
