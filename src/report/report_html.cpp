#include "core_loop.h"
#include "look.h"
#include "plain_text.h"
#include "report.h"
#include "report_seal.h"

#include <QBuffer>
#include <QImage>

namespace fulvex {

namespace {

constexpr const char *style = R"(
body{font:13px/1.45 Inter,system-ui,sans-serif;font-variant-numeric:tabular-nums;color:#23282D;background:#F6F3EC;margin:0}
main{max-width:980px;margin:0 auto;padding:28px 32px 60px}
h1{font-size:22px;font-weight:600;margin:0 0 4px}h2{font-size:15px;font-weight:600;margin:30px 0 8px}
.facts{color:#6F6A61;margin:0}.verdict{display:inline-block;margin:14px 0 0;padding:6px 14px;border:1.5px solid;border-radius:4px;font-weight:600}
.pass{color:#4F7132}.fail{color:#A8452F}.none{color:#6F6A61}
table{border-collapse:collapse;width:100%;font-size:12px}th{color:#6F6A61;font-weight:400;text-align:left;border-bottom:1px solid #D9D3C7;padding:3px 10px 3px 0}
td{padding:3px 10px 3px 0;border-bottom:1px solid #E7E2D7;vertical-align:top;overflow-wrap:break-word}
th{cursor:pointer}th[aria-sort=ascending]::after{content:" ↑"}th[aria-sort=descending]::after{content:" ↓"}
table.numbers td:nth-child(n+3):nth-child(-n+8){white-space:nowrap}nav a{color:inherit}nav{color:#6F6A61;margin-top:18px}
table.numbers td:nth-child(n+3):nth-child(-n+7),table.numbers th:nth-child(n+3):nth-child(-n+7){text-align:right}
figure{margin:0;background:#FBF9F4;border:1px solid #D9D3C7;border-radius:4px;padding:8px}figcaption{color:#6F6A61;padding:0 4px 4px}
.figures{display:grid;grid-template-columns:repeat(auto-fill,minmax(440px,1fr));gap:14px}img{width:100%;display:block}
@media print{body{background:#fff}main{padding:0}tr,figure{break-inside:avoid}h2{break-after:avoid}nav{display:none}}
)";

/// A click on a heading sorts its table by what stands there, numbers by their size; nothing is fetched.
constexpr const char *sorting = R"js(
document.querySelectorAll("table").forEach(table=>table.querySelectorAll("th").forEach((head,column)=>{
head.tabIndex=0;const sort=()=>{const up=head.getAttribute("aria-sort")!=="ascending";
table.querySelectorAll("th").forEach(one=>one.removeAttribute("aria-sort"));
head.setAttribute("aria-sort",up?"ascending":"descending");
const scale={f:1e-15,p:1e-12,n:1e-9,"µ":1e-6,u:1e-6,m:1e-3,k:1e3,M:1e6,G:1e9};
const key=row=>{const words=row.cells[column].textContent.replace(/[\u2009\u202f]/g,"").replace("−","-");
const found=words.match(/^[^\d-]*(-?[\d.]+(?:e-?\d+)?)(?: ?± ?[\d.]+)?(?: ?([fpnµumkMG])?[A-Za-zΩ°%])?/);
return found?[0,parseFloat(found[1])*(scale[found[2]]||1),words]:[1,0,words];};
const body=table.tBodies[0];[...body.rows].map(row=>[key(row),row]).sort(([a],[b])=>
(a[0]-b[0]||a[1]-b[1]||a[2].localeCompare(b[2]))*(up?1:-1)).forEach(([,row])=>body.append(row));};
head.addEventListener("click",sort);head.addEventListener("keydown",e=>{if(e.key==="Enter")sort();});}));
)js";

QString escaped(const QString &plain)
{
    return QString::fromStdString(shownText(plain.toStdString(), true)).toHtmlEscaped();
}

const char *shape(Verdict verdict)
{
    return verdict == Verdict::pass ? "✓ " : verdict == Verdict::fail ? "✕ " : "";
}

QString anchorOf(const QString &heading)
{
    QString anchor;
    for (const QChar c : heading.toLower()) anchor += c.isLetterOrNumber() ? c : QChar('-');
    return escaped(anchor);
}

void addTable(QString &html, const ReportContent::Table &table, const char *kind)
{
    if (table.rows.empty()) return;
    html += "<h2 id=\"" + anchorOf(table.heading) + "\">" + escaped(table.heading) + "</h2>\n<table class=\"" + kind +
            "\"><thead><tr>";
    for (const QString &column : table.columns) html += "<th>" + escaped(column) + "</th>";
    html += "</tr></thead><tbody>\n";
    for (std::size_t i = 0; i < table.rows.size(); ++i) {
        html += "<tr>";
        for (qsizetype c = 0; c < table.rows[i].size(); ++c) {
            const bool verdict = !table.verdicts.empty() && c + 1 == table.rows[i].size();
            const Verdict is = verdict ? table.verdicts[i] : Verdict::none;
            html += verdict ? QString("<td class=\"%1\">%2").arg(verdictName(is), shape(is)) : QString("<td>");
            html += escaped(table.rows[i][c]) + "</td>";
        }
        html += "</tr>\n";
    }
    html += "</tbody></table>\n";
}

QString embedded(const ReportContent::Figure &figure)
{
    constexpr double scale = 2;
    QImage image((figure.size * 1.15 * scale).toSize(), QImage::Format_RGB32);
    image.fill(Look::light().tile);
    QPainter painter(&image);
    painter.scale(scale, scale);
    figure.paint(painter, QRectF(QPointF(0, 0), figure.size * 1.15));
    painter.end();
    QByteArray png;
    QBuffer buffer(&png);
    image.save(&buffer, "PNG");
    return "data:image/png;base64," + QString::fromLatin1(png.toBase64());
}

/// What takes the time, on all cores.
std::vector<QString> embedded(const std::vector<ReportContent::Figure> &figures, Progress &progress)
{
    std::vector<QString> all(figures.size());
    progress.expect(double(figures.size()));
    onAllCores(std::int64_t(figures.size()), [&](std::int64_t index) {
        progress.advance(1);
        all[std::size_t(index)] = embedded(figures[std::size_t(index)]);
    });
    return all;
}

} // namespace

std::string reportHtml(const ReportContent &content, Progress &progress)
{
    QString html = "<!doctype html>\n<html lang=\"en\"><head><meta charset=\"utf-8\"><title>" + escaped(content.title) +
                   "</title><style>" + style + "</style></head><body><main>\n";
    html += "<h1>" + escaped(content.title) + "</h1>\n";
    for (const QString &fact : content.facts) html += "<p class=\"facts\">" + escaped(fact) + "</p>\n";
    html += QString("<p class=\"verdict %1\">%2%3</p> <span class=\"facts\">%4</span>\n")
                .arg(content.failed              ? "fail"
                     : content.verdict == "pass" ? "pass"
                                                 : "none",
                     content.failed              ? "✕ "
                     : content.verdict == "pass" ? "✓ "
                                                 : "",
                     content.verdict, escaped(content.summary));
    const std::vector<const ReportContent::Table *> tables{&content.failures, &content.keptOut,  &content.provenance,
                                                           &content.clocks,   &content.captures, &content.stated};
    addTable(html, content.ledger, "numbers");
    QStringList places;
    const auto place = [&](const QString &heading) {
        places << "<a href=\"#" + anchorOf(heading) + "\">" + escaped(heading) + "</a>";
    };
    for (std::size_t i = 0; i < content.sections.size(); ++i)
        if (content.figuresOf(i).first < content.figuresOf(i).second) place(content.sections[i].title);
    for (const ReportContent::Table *table : tables)
        if (!table->rows.empty()) place(table->heading);
    html += "<nav>" + places.join(" · ") + "</nav>\n";
    const std::vector<QString> pictures = embedded(content.figures, progress);
    for (std::size_t i = 0; i < content.sections.size(); ++i) {
        const auto [from, to] = content.figuresOf(i);
        if (from == to) continue;
        const QString &title = content.sections[i].title;
        html += "<h2 id=\"" + anchorOf(title) + "\">" + escaped(title) + "</h2><div class=\"figures\">\n";
        for (std::size_t k = from; k < to; ++k) {
            const QString caption = escaped(content.figures[k].caption);
            html += "<figure><figcaption>" + caption + "</figcaption><img alt=\"" + caption + "\" src=\"" +
                    pictures[k] + "\"></figure>\n";
        }
        html += "</div>\n";
    }
    for (const ReportContent::Table *table : tables) addTable(html, *table, "plain");
    html += "</main><script id=\"sorting\">" + QString(sorting) + "</script>\n" +
            QString::fromStdString(resultsForHtml(content.resultsJson)) + "\n<!-- " +
            QString::fromStdString(sealRoom()) + " -->";
    html += "</body></html>\n";
    return sealed(html.toStdString());
}

} // namespace fulvex
