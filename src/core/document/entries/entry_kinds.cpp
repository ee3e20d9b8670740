#include "entry_kinds.h"

namespace fulvex {

constexpr std::pair<EntryKind, const char *> kindWords[] = {{EntryKind::capture, "capture"},
                                                            {EntryKind::channel, "channel"},
                                                            {EntryKind::region, "region"},
                                                            {EntryKind::levels, "levels"},
                                                            {EntryKind::clock, "clock"},
                                                            {EntryKind::eye, "eye"},
                                                            {EntryKind::mask, "mask"},
                                                            {EntryKind::measurement, "measurement"},
                                                            {EntryKind::spectrum, "spectrum"},
                                                            {EntryKind::budget, "budget"},
                                                            {EntryKind::phaseNoise, "phase_noise"},
                                                            {EntryKind::comparison, "comparison"},
                                                            {EntryKind::plan, "plan"},
                                                            {EntryKind::tile, "tile"}};

std::string kindWord(EntryKind kind)
{
    for (const auto &[known, word] : kindWords)
        if (known == kind) return word;
    return {};
}

EntryKind kindCalled(const std::string &word)
{
    for (const auto &[kind, known] : kindWords)
        if (known == word) return kind;
    return EntryKind::none;
}

} // namespace fulvex
