// A project, a mask or a formula: taken whole or refused with an Error; what is taken can be written and read again.

#include "document_json.h"
#include "error.h"
#include "formula.h"
#include "mask_definition.h"

#include <cstdlib>

using namespace fulvex;

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t *bytes, std::size_t size)
{
    const std::string text(reinterpret_cast<const char *>(bytes), size);
    try {
        const Document document = parseDocument(text, "project");
        if (!(parseDocument(documentText(document), "again") == document)) std::abort();
    } catch (const Error &) {
    }
    try {
        parseMask(text, "mask");
    } catch (const Error &) {
    }
    try {
        Formula::parse(text);
    } catch (const Error &) {
    }
    return 0;
}
