#pragma once

#include "evaluation.h"
#include "failure_text.h"

namespace fulvex {

// What each entry of the document comes to: its result, or what kept it from being one. All throw Cancelled.

/// Does `work`; gives what kept it from being done. A cancel goes on up. `lasts` becomes false where the next time may
/// go better.
template <typename Work>
std::string reasonAgainst(Work &&work, bool *lasts = nullptr)
{
    try {
        work();
        return {};
    } catch (const Cancelled &) {
        throw;
    } catch (const Unmeasurable &none) {
        return none.reason;
    } catch (...) {
        if (lasts) *lasts = false;
        return failureText();
    }
}

/// A result that `fill` fills, or the reason why it is none; kept by its entry's definition.
template <typename Result, typename Fill>
Result keptResult(Evaluation &evaluation, const std::string &id, const Fill &fill)
{
    Result found = evaluation.kept<Result>(id, [&](bool &lasts) {
        Result result;
        result.reason = reasonAgainst([&] { fill(result); }, &lasts);
        return result;
    });
    found.id = id;
    return found;
}

/// `whole`: with what takes all of its bytes, hash and check.
CaptureResult captureResult(Evaluation &evaluation, const CaptureEntry &entry, const Engine::Options &options,
                            bool whole);
ChannelResult channelResult(Evaluation &evaluation, const ChannelEntry &entry, bool pyramid, bool sketchWillDo);
/// With its jitter's spectrum where people look at it, as at traces.
ClockResult clockResult(Evaluation &evaluation, const ClockEntry &entry, const Engine::Options &options);

enum class Crossings { none, known, found };
/// `crossings`: with those, which it takes to measure several added up; `known`: where they are in the cache.
EyeResult eyeResult(Evaluation &evaluation, const EyeEntry &entry, Crossings crossings);
/// `first`: an answer that does not last.
SpectrumResult spectrumResult(Evaluation &evaluation, const SpectrumEntry &entry, bool first);

} // namespace fulvex
