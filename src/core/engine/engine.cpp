#include "engine.h"

#include "agenda.h"
#include "error.h"
#include "evaluation.h"
#include "program_log.h"


namespace fulvex {

Engine::Engine(std::filesystem::path masks, std::size_t budget) : m_masks(std::move(masks)), m_cache(budget) {}

Verdict verdictOf(const Row &row, const LimitEntry &limit)
{
    if (!limit.isSet()) return Verdict::none;
    if (!row.measurable() || !row.statistics.mean) return Verdict::fail;
    const double mean = *row.statistics.mean;
    return (limit.min && mean < *limit.min) || (limit.max && mean > *limit.max) ? Verdict::fail : Verdict::pass;
}

namespace {

/// Marks captures that were written to since they were opened; whether there are any.
bool spoilDisturbed(Evaluation &evaluation)
{
    bool any = false;
    for (const CaptureEntry &entry : evaluation.document().captures) {
        const std::string why = evaluation.disturbance(entry);
        if (why.empty()) continue;
        evaluation.spoil(entry, why);
        logLine(LogLevel::warning, "a capture was written to while it was read");
        any = true;
    }
    return any;
}

} // namespace

Results Engine::evaluate(const Document &document, const std::filesystem::path &base, const Options &options,
                         Progress &progress, ResultsBoard *board)
{
    m_cache.beginRun();
    auto own = std::make_shared<const Document>(document);
    Evaluation evaluation(*own, base, m_masks, m_cache, progress);
    ResultsBoard unseen;
    ResultsBoard &on = board ? *board : unseen;
    // What was computed while a capture changed under it is thrown away, and once more without that capture: so each
    // time there is one less that could.
    while (true) {
        on.begin(own, options.older);
        Agenda(evaluation, options, on).run();
        if (spoilDisturbed(evaluation)) continue;
        m_cache.endRun();
        return on.all();
    }
}

} // namespace fulvex
