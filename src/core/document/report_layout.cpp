#include "report_layout.h"

#include "field_json.h"
#include "fields_check.h"

#include <algorithm>

namespace fulvex {

static std::vector<Field> fieldsOf(ReportLayout &layout)
{
    std::vector<Field> fields{{.key = "title", .always = true, .value = &layout.title}};
    for (const Field &field : fieldsOf(layout.entry))
        if (field.refers == EntryKind::none) fields.push_back(field); // entries are one project's
    return fields;
}

std::string reportLayoutText(const ReportLayout &layout)
{
    ReportLayout own = layout, standard;
    return fieldsText("fulvex_report", fieldsOf(own), fieldsOf(standard));
}

ReportLayout parseReportLayout(const std::string &text, const std::string &name)
{
    ReportLayout layout;
    readFieldsText(text, name, "fulvex_report", "layouts of reports", fieldsOf(layout));
    checkFields(fieldsOf(layout));
    return layout;
}

void layOut(ReportEntry &entry, const ReportLayout &layout)
{
    std::vector<std::string> without = std::move(entry.without);
    entry = layout.entry;
    entry.without = std::move(without);
}

} // namespace fulvex
