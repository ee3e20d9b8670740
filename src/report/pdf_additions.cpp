#include "pdf_additions.h"

#include "report_seal.h"

#include <cstdio>
#include <cstdlib>

namespace fulvex {

namespace {

std::string reference(std::size_t number)
{
    return std::to_string(number) + " 0 R";
}

/// The number that stands behind a key of a dictionary; 0: there is none.
std::size_t numberAfter(const std::string &text, const char *key, std::size_t from)
{
    const std::size_t at = text.find(key, from);
    return at == std::string::npos ? 0 : std::strtoull(text.c_str() + at + std::string(key).size(), nullptr, 10);
}

/// The inside of an object, between "obj" and "endobj".
std::string objectIn(const std::string &pdf, std::size_t number)
{
    const std::string head = "\n" + std::to_string(number) + " 0 obj\n";
    const std::size_t at = pdf.find(head);
    const std::size_t end = at == std::string::npos ? at : pdf.find("endobj", at);
    return end == std::string::npos ? std::string() : pdf.substr(at + head.size(), end - at - head.size());
}

std::string utf16(const std::u16string &words)
{
    std::string hex = "<FEFF";
    char four[8];
    for (const char16_t c : words) {
        std::snprintf(four, sizeof four, "%04X", unsigned(c));
        hex += four;
    }
    return hex + ">";
}

/// Objects that come behind those of a file.
class Update {
public:
    Update(const std::string &pdf, std::size_t next) : m_pdf(pdf), m_next(next) {}
    std::size_t reserve() { return m_next++; }
    void write(std::size_t number, const std::string &content)
    {
        m_places.emplace_back(number, m_pdf.size() + m_text.size());
        m_text += std::to_string(number) + " 0 obj\n" + content + "\nendobj\n";
    }
    std::string finished(std::size_t root, std::size_t info, std::size_t before)
    {
        const std::size_t table = m_pdf.size() + m_text.size();
        m_text += "xref\n";
        char line[32];
        for (const auto &[number, place] : m_places) {
            std::snprintf(line, sizeof line, "%010zu 00000 n \n", place);
            m_text += std::to_string(number) + " 1\n" + line;
        }
        m_text += "trailer\n<< /Size " + std::to_string(m_next) + " /Root " + reference(root);
        if (info) m_text += " /Info " + reference(info);
        m_text += " /Prev " + std::to_string(before) + " >>\nstartxref\n" + std::to_string(table) + "\n%%EOF\n%" +
                  sealRoom() + "\n";
        return m_pdf + m_text;
    }

private:
    const std::string &m_pdf;
    std::size_t m_next;
    std::string m_text;
    std::vector<std::pair<std::size_t, std::size_t>> m_places;
};

} // namespace

std::string withAdditions(const std::string &pdf, const std::vector<PdfHeading> &outline,
                          const std::string &attachmentName, const std::string &attachment)
{
    const std::size_t trailer = pdf.rfind("trailer"), start = pdf.rfind("startxref\n");
    if (trailer == std::string::npos || start == std::string::npos) return pdf;
    const std::size_t root = numberAfter(pdf, "/Root ", trailer), size = numberAfter(pdf, "/Size ", trailer),
                      info = numberAfter(pdf, "/Info ", trailer),
                      before = std::strtoull(pdf.c_str() + start + 10, nullptr, 10);
    std::string catalogue = objectIn(pdf, root);
    const std::size_t close = catalogue.rfind(">>");
    const std::string pages = objectIn(pdf, numberAfter(catalogue, "/Pages ", 0));
    if (!root || !size || close == std::string::npos || pages.empty()) return pdf;
    std::vector<std::size_t> kids;
    const std::size_t list = pages.find('['), listEnd = pages.find(']');
    for (std::size_t at = list + 1; list != std::string::npos && at < listEnd;) {
        char *end = nullptr;
        const std::size_t kid = std::strtoull(pages.c_str() + at, &end, 10);
        if (kid == 0) break;
        kids.push_back(kid);
        at = pages.find('R', std::size_t(end - pages.c_str())) + 1;
    }

    Update update(pdf, size);
    const std::size_t file = update.reserve(), named = update.reserve();
    update.write(file, std::string("<< /Type /EmbeddedFile /Subtype /application#2Fjson ") + resultsKey +
                           " true /Length " + std::to_string(attachment.size()) + " >>\nstream\n" + attachment +
                           "\nendstream");
    update.write(named, "<< /Type /Filespec /F (" + attachmentName + ") /UF (" + attachmentName + ") /EF << /F " +
                            reference(file) + " >> >>");
    std::string additions =
        " /Names << /EmbeddedFiles << /Names [(" + attachmentName + ") " + reference(named) + "] >> >>";
    if (!outline.empty() && !kids.empty()) {
        const std::size_t top = update.reserve();
        std::vector<std::size_t> items;
        for (std::size_t i = 0; i < outline.size(); ++i) items.push_back(update.reserve());
        update.write(top, "<< /Type /Outlines /First " + reference(items.front()) + " /Last " +
                              reference(items.back()) + " /Count " + std::to_string(items.size()) + " >>");
        for (std::size_t i = 0; i < items.size(); ++i) {
            std::string item = "<< /Title " + utf16(outline[i].title) + " /Parent " + reference(top);
            if (i > 0) item += " /Prev " + reference(items[i - 1]);
            if (i + 1 < items.size()) item += " /Next " + reference(items[i + 1]);
            const std::size_t page = kids[std::min(outline[i].page, kids.size() - 1)];
            update.write(items[i], item + " /Dest [" + reference(page) + " /Fit] >>");
        }
        additions += " /Outlines " + reference(top) + " /PageMode /UseOutlines";
    }
    update.write(root, catalogue.substr(0, close) + additions + " >>");
    return update.finished(root, info, before);
}

} // namespace fulvex
