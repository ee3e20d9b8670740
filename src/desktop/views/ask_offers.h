#pragma once

#include "ask_box.h"
#include "workbench.h"

namespace fulvex {

/// What Ask offers to do with what the project holds: measure, add clocks, eyes and masks, align, go to regions and
/// sheets. Each is found by the names of what it acts on, and of what that stands on: "eye link" is an eye of link's
/// clock.
std::vector<AskBox::Offer> projectOffers(Workbench &bench);
/// Of them, those that measure, and those that align a channel.
std::vector<AskBox::Offer> measurementOffers(Workbench &bench);
std::vector<AskBox::Offer> alignOffers(Workbench &bench, const std::string &channel);

/// A shipped mask and its title.
struct MaskChoice {
    std::string id;
    QString title;
};
/// Read once.
const std::vector<MaskChoice> &maskChoices();

} // namespace fulvex
