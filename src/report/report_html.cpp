#include "core_loop.h"
#include "plain_text.h"
#include "report.h"
#include "report_seal.h"
#include "svg_picture.h"

#include <QBuffer>

namespace fulvex {

namespace {

constexpr const char *style = R"(
body{font:13px/1.45 Inter,system-ui,sans-serif;font-variant-numeric:tabular-nums;color:#23282D;background:#F6F3EC;margin:0}
main{max-width:980px;margin:0 auto;padding:28px 32px 60px}.logo{float:right;max-height:72px;max-width:40%}
h1{font-size:24px;font-weight:600;margin:0 0 4px}h2{font-size:18px;font-weight:600;margin:38px 0 8px}h3{font-size:14px;font-weight:600;margin:20px 0 6px}
h1,h2,h3,p,figcaption{overflow-wrap:anywhere}.facts{color:#6F6A61;margin:0}.quiet{color:#6F6A61}
.verdict{display:flex;gap:24px;align-items:center;margin:16px 0;padding:12px 16px;border:1.5px solid;border-radius:4px}
.verdict b{font-size:20px;font-weight:600;white-space:nowrap}.verdict span{color:#23282D}
.pass{color:#4F7132}.fail{color:#A8452F}.undecided{color:#8A6812}.none{color:#6F6A61}
table{border-collapse:collapse;width:100%;font-size:12px;margin-bottom:10px}th{color:#6F6A61;font-weight:400;text-align:left;border-bottom:1px solid #D9D3C7;padding:3px 10px 3px 0}
td{padding:3px 10px 3px 0;border-bottom:1px solid #E7E2D7;vertical-align:top;overflow-wrap:break-word}
thead th{cursor:pointer}th[aria-sort=ascending]::after{content:" ↑"}th[aria-sort=descending]::after{content:" ↓"}
.group th{color:#23282D;font-weight:600;padding-top:9px}
table.from1 td:nth-child(n+2),table.from1 thead th:nth-child(n+2),table.from2 td:nth-child(n+3),table.from2 thead th:nth-child(n+3){text-align:right}
table.from1 td:nth-child(n+2):nth-last-child(n+2),table.from2 td:nth-child(n+3):nth-last-child(n+2){white-space:nowrap}
td svg{width:120px;height:18px;display:inline-block;vertical-align:middle}nav a{color:inherit}nav{color:#6F6A61;margin-top:18px}
figure{margin:0 0 14px;background:#FBF9F4;border:1px solid #D9D3C7;border-radius:4px;padding:8px;display:grid;grid-template-columns:minmax(0,640px) minmax(160px,1fr);gap:4px 16px}
figcaption{grid-column:1/3;padding:0 4px 4px}figcaption b{font-weight:600}.picture:last-child{grid-column:1/3}.picture svg{width:100%;display:block}
dl{margin:0;font-size:11px;border-left:1px solid #D9D3C7;padding-left:10px}dt{font-weight:600}dd{margin:0 0 4px;color:#6F6A61;overflow-wrap:anywhere}
@media print{body{background:#fff}main{padding:0;max-width:none}tr,figure{break-inside:avoid}h2,h3{break-after:avoid}nav{display:none}}
@media(max-width:720px){figure{display:block}}
)";

/// A click on a heading sorts its table by what stands there, numbers by their size; nothing is fetched.
constexpr const char *sorting = R"js(
document.querySelectorAll("table").forEach(table=>table.querySelectorAll("thead th").forEach((head,column)=>{
head.tabIndex=0;const sort=()=>{const up=head.getAttribute("aria-sort")!=="ascending";
table.querySelectorAll("th").forEach(one=>one.removeAttribute("aria-sort"));
head.setAttribute("aria-sort",up?"ascending":"descending");
const scale={f:1e-15,p:1e-12,n:1e-9,"µ":1e-6,u:1e-6,m:1e-3,k:1e3,M:1e6,G:1e9};
const key=row=>{const words=row.cells[column].textContent.replace(/[\u2009\u202f]/g,"").replace("−","-");
const found=words.match(/^[^\d-]*(-?[\d.]+(?:e-?\d+)?)(?: ?± ?[\d.]+)?(?: ?([fpnµumkMG])?[A-Za-zΩ°%])?/);
return found?[0,parseFloat(found[1])*(scale[found[2]]||1),words]:[1,0,words];};
for(const body of table.tBodies)[...body.rows].filter(row=>row.className!=="group").map(row=>[key(row),row]).sort(([a],[b])=>
(a[0]-b[0]||a[1]-b[1]||a[2].localeCompare(b[2]))*(up?1:-1)).forEach(([,row])=>body.append(row));};
head.addEventListener("click",sort);head.addEventListener("keydown",e=>{if(e.key==="Enter")sort();});}));
)js";

QString escaped(const QString &plain)
{
    return QString::fromStdString(shownText(plain.toStdString(), true)).toHtmlEscaped();
}

using Mark = ReportContent::Mark;

const char *className(Mark mark)
{
    switch (mark) {
    case Mark::pass:
        return "pass";
    case Mark::fail:
        return "fail";
    case Mark::undecided:
        return "undecided";
    case Mark::none:
        break;
    }
    return "none";
}

/// A part of the report as HTML: what is painted is made beforehand, see painted().
class Writer {
public:
    explicit Writer(std::vector<QString> pictures) : m_pictures(std::move(pictures)) {}
    void operator()(const ReportContent::Paragraph &paragraph)
    {
        using As = ReportContent::Paragraph::As;
        const char *tag = paragraph.as == As::heading ? "h3" : "p";
        html += QString("<%1%2>%3</%1>\n")
                    .arg(tag, paragraph.as == As::quiet ? " class=\"quiet\"" : "", escaped(paragraph.words));
    }
    void operator()(const ReportContent::Table &table)
    {
        if (table.rows.empty()) return;
        if (!table.heading.isEmpty()) html += "<h3>" + escaped(table.heading) + "</h3>\n";
        html += QString("<table class=\"%1\"><thead><tr>")
                    .arg(table.numbersFrom < 0 ? QString("plain") : QString("numbers from%1").arg(table.numbersFrom));
        for (const QString &column : table.columns) html += "<th>" + escaped(column) + "</th>";
        html += "</tr></thead><tbody>\n";
        for (const ReportContent::Row &row : table.rows) addRow(table, row);
        html += "</tbody></table>\n";
    }
    void operator()(const ReportContent::Figure &figure)
    {
        html += "<figure><figcaption><b>" + escaped(figure.title) + "</b> " + escaped(figure.see) +
                "</figcaption><div class=\"picture\">" + next() + "</div>";
        if (!figure.making.empty()) {
            html += "<dl>";
            for (const auto &[what, how] : figure.making)
                html += "<dt>" + escaped(what) + "</dt><dd>" + escaped(how) + "</dd>";
            html += "</dl>";
        }
        html += "</figure>\n";
    }
    QString html;

private:
    QString next() { return m_pictures[m_next++]; }
    void addRow(const ReportContent::Table &table, const ReportContent::Row &row)
    {
        if (row.heading) { // which begins a part of its own, sorted by itself
            html += QString("</tbody><tbody><tr class=\"group\"><th colspan=\"%1\" scope=\"rowgroup\">%2</th></tr>\n")
                        .arg(row.cells.size())
                        .arg(escaped(row.cells[0]));
            return;
        }
        html += "<tr>";
        for (qsizetype c = 0; c < row.cells.size(); ++c) {
            const bool last = c + 1 == row.cells.size();
            html += last && row.mark != Mark::none
                        ? QString("<td class=\"%1\">%2").arg(className(row.mark), ReportContent::shapeOf(row.mark))
                        : QString("<td>");
            html += (c == table.scales && row.scale ? next() : escaped(row.cells[c])) + "</td>";
        }
        html += "</tr>\n";
    }
    std::vector<QString> m_pictures;
    std::size_t m_next = 0;
};

using Painted = std::pair<QSizeF, std::function<void(QPainter &, const QRectF &)>>;

/// All that is painted, in the order in which the writer comes to it.
class Pictures {
public:
    void operator()(const ReportContent::Paragraph &) {}
    void operator()(const ReportContent::Table &table)
    {
        for (const ReportContent::Row &row : table.rows)
            if (row.scale) all.emplace_back(QSizeF(120, 18), row.scale);
    }
    void operator()(const ReportContent::Figure &figure) { all.emplace_back(figure.size, figure.paint); }
    std::vector<Painted> all;
};

/// What takes the time, on all cores.
std::vector<QString> painted(const ReportContent &content, Progress &progress)
{
    Pictures pictures;
    for (const ReportContent::Table &table : content.glance) pictures(table);
    for (const ReportContent::Chapter &chapter : content.chapters)
        for (const ReportContent::Block &block : chapter.blocks) std::visit(pictures, block);
    std::vector<QString> made(pictures.all.size());
    progress.expect(double(made.size()));
    onAllCores(std::int64_t(made.size()), [&](std::int64_t index) {
        progress.advance(1);
        const auto &[size, paint] = pictures.all[std::size_t(index)];
        made[std::size_t(index)] = svgPicture(size, "p" + QString::number(index), paint);
    });
    return made;
}

QString logoTag(const QImage &logo)
{
    if (logo.isNull()) return {};
    QByteArray png;
    QBuffer buffer(&png);
    buffer.open(QIODevice::WriteOnly);
    logo.save(&buffer, "PNG");
    return "<img class=\"logo\" alt=\"\" src=\"data:image/png;base64," + QString::fromLatin1(png.toBase64()) + "\">\n";
}

} // namespace

std::string reportHtml(const ReportContent &content, Progress &progress)
{
    Writer writer(painted(content, progress));
    QString &html = writer.html;
    html = "<!doctype html>\n<html lang=\"en\"><head><meta charset=\"utf-8\"><title>" + escaped(content.title) +
           "</title><style>" + style + "@page{size:" + (content.paper == "letter" ? "letter" : "A4") +
           "}</style></head><body><main>\n" + logoTag(content.logo);
    html += "<h1>" + escaped(content.title) + "</h1>\n";
    for (const QString &fact : content.facts) html += "<p class=\"facts\">" + escaped(fact) + "</p>\n";
    html += QString("<div class=\"verdict %1\"><b>%2%3</b><span>%4</span></div>\n")
                .arg(className(content.verdict), ReportContent::shapeOf(content.verdict), escaped(content.word),
                     escaped(content.summary));
    for (const ReportContent::Table &table : content.glance) writer(table);
    QStringList places;
    for (std::size_t i = 0; i < content.chapters.size(); ++i)
        places << QString("<a href=\"#part%1\">%2</a>").arg(i + 1).arg(escaped(content.chapters[i].title));
    html += "<nav>" + places.join(" · ") + "</nav>\n";
    for (std::size_t i = 0; i < content.chapters.size(); ++i) {
        html += QString("<h2 id=\"part%1\">%2</h2>\n").arg(i + 1).arg(escaped(content.chapters[i].title));
        for (const ReportContent::Block &block : content.chapters[i].blocks) std::visit(writer, block);
    }
    html += "</main><script id=\"sorting\">" + QString(sorting) + "</script>\n" +
            QString::fromStdString(resultsForHtml(content.resultsJson)) + "\n<!-- " +
            QString::fromStdString(sealRoom()) + " -->";
    html += "</body></html>\n";
    return sealed(html.toStdString());
}

} // namespace fulvex
