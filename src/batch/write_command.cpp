#include "write_command.h"

#include "capture_writer.h"
#include "engine.h"
#include "error.h"
#include "number_text.h"
#include "plain_text.h"
#include "program_folders.h"
#include "project_file.h"
#include "references.h"

#include <cstdio>
#include <span>

namespace fulvex {

int write(const WriteCommand &command)
{
    Progress progress;
    const OpenedProject project = openProject(command.project, progress);
    const Document &document = project.document;
    const ChannelEntry *channel = findEntry(document.channels, command.channel);
    if (!channel)
        throw Error("--channel " + command.channel, "the project has no such channel",
                    "see \"channels\" in " + command.project);
    const RegionEntry *region = findEntry(document.regions, command.region);
    if (!command.region.empty() && !region)
        throw Error("--region " + command.region, "the project has no such region",
                    "see \"regions\" in " + command.project);
    // Only its samples are wanted.
    const std::string asked[] = {command.channel, command.region};
    const Document alone = onlyBehind(document, std::span(asked).first(region ? 2 : 1));
    Engine engine(shareFolder() / "masks", 0);
    const Results results = engine.evaluate(alone, project.base, {}, progress);
    const ChannelResult &found = *findEntry(results.channels, command.channel);
    if (!found.error.empty()) throw Error("channel \"" + command.channel + "\"", found.error);
    const SampleSource &source = *found.source;
    const SampleRange range =
        region ? samplesWithin(source.axis(), region->start, region->stop) : SampleRange{0, source.axis().count};
    if (range.size() == 0)
        throw Error("--region " + command.region, "no sample of the channel lies in it", "choose another");
    const auto check = [&] {
        for (const CaptureResult &capture : results.captures) {
            if (const std::string why = capture.disturbance(); !why.empty())
                throw Error("", why, "wait until it is written, and write it again");
        }
    };
    check();
    const WrittenChannel written{channel->shownName(), found.unit, found.source};
    writeCapture(command.to, std::span(&written, 1), range, progress);
    check();
    if (!command.quiet)
        std::printf("%s: %lld samples of %s from %s on, %s apart\n", shownText(command.to).c_str(),
                    static_cast<long long>(range.size()), shownText(command.channel).c_str(),
                    quantityText(source.axis().timeOf(double(range.first)), "s").c_str(),
                    quantityText(source.axis().interval, "s").c_str());
    return 0;
}

} // namespace fulvex
