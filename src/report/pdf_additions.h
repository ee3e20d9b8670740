#pragma once

#include <string>
#include <vector>

namespace fulvex {

/// A heading that readers list beside the pages.
struct PdfHeading {
    std::u16string title;
    std::size_t page = 0; ///< from 0 on
};

/// Adds an outline and an attached file to a PDF, as an update behind its end (ISO 32000-1, 7.5.6; outlines 12.3.3;
/// attached files 7.11.4). The PDF is one that Qt wrote: with a table of references, uncompressed catalogue and pages.
/// It is given back as it is where it is none of that kind.
std::string withAdditions(const std::string &pdf, const std::vector<PdfHeading> &outline,
                          const std::string &attachmentName, const std::string &attachment);

} // namespace fulvex
