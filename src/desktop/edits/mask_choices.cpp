#include "mask_choices.h"

#include "axis_painter.h"
#include "error.h"
#include "program_folders.h"

namespace fulvex {

const std::vector<MaskChoice> &maskChoices()
{
    static const std::vector<MaskChoice> choices = [] {
        const auto folder = shareFolder() / "masks";
        std::vector<MaskChoice> found;
        for (const std::string &id : maskIds(folder)) {
            try {
                MaskDefinition mask = loadMask(id, {}, folder);
                const QString title = text(mask.title.empty() ? id : mask.title);
                found.push_back({id, title, std::move(mask)});
            } catch (const Error &) {
                found.push_back({id, text(id), {}}); // what is wrong with it is told where it is used
            }
        }
        return found;
    }();
    return choices;
}

} // namespace fulvex
