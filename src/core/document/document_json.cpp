#include "document_json.h"

#include "atomic_file.h"
#include "error.h"
#include "field_json.h"
#include "json_text.h"

#include <nlohmann/json.hpp>

namespace fulvex {

using Json = nlohmann::ordered_json;

Document parseDocument(const std::string &text, const std::string &name)
{
    const Json json = parseJson(text, name);
    try {
        JsonReader in(json, "");
        in.readVersion("fulvex", "documents");
        Document document;
        readFields(in, fieldsOf(document));
        in.finish();
        nameTiles(document);
        validate(document);
        return document;
    } catch (const Error &error) {
        throw error.within(name);
    }
}

std::string documentText(const Document &document)
{
    const Document standard;
    Json json = {{"fulvex", 1}};
    json.update(fieldsJson(fieldsOf(document), fieldsOf(standard)));
    return jsonText(json) + "\n";
}

ImportOptions parseImport(const std::string &json)
{
    const Json parsed = parseJson(json, "import");
    JsonReader in(parsed, "import");
    ImportOptions options;
    readFields(in, fieldsOf(options));
    in.finish();
    return options;
}

std::string importText(const ImportOptions &options)
{
    ImportOptions own = options, standard;
    return jsonText(fieldsJson(fieldsOf(own), fieldsOf(standard)), -1);
}

Document loadDocument(const std::filesystem::path &path)
{
    return parseDocument(readTextFile(path), path.string());
}

void saveDocument(const Document &document, const std::filesystem::path &path)
{
    writeFileAtomically(path, documentText(document));
}

} // namespace fulvex
