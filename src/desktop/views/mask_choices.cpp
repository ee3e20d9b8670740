#include "mask_choices.h"

#include "axis_painter.h"
#include "error.h"
#include "mask_definition.h"
#include "share_folder.h"

namespace fulvex {

const std::vector<MaskChoice> &maskChoices()
{
    static const std::vector<MaskChoice> choices = [] {
        const auto folder = shareFolder() / "masks";
        std::vector<MaskChoice> found;
        for (const std::string &id : maskIds(folder)) {
            try {
                const MaskDefinition mask = loadMask(id, {}, folder);
                found.push_back({id, text(mask.title.empty() ? id : mask.title)});
            } catch (const Error &) {
                found.push_back({id, text(id)}); // what is wrong with it is told where it is used
            }
        }
        return found;
    }();
    return choices;
}

} // namespace fulvex
