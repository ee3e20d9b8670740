#include "run_keeper.h"

#include "capture_reader.h"
#include "error.h"
#include "eye_picture.h"
#include "fading_eye.h"
#include "failure_text.h"
#include "give_way.h"
#include "program_folders.h"
#include "program_log.h"

#include <algorithm>
#include <deque>
#include <set>

namespace fulvex {

namespace {

constexpr std::size_t mostRecent = 8, mostTraces = 64;
constexpr std::int64_t mostTracedSamples = 256'000'000; ///< of the captures whose traces are kept
constexpr int jobs = 2;                                 ///< captures computed side by side
constexpr std::chrono::milliseconds oftenEnough(250), lookAgain(500);

/// The eye that a run is overlooked by: the first with a mask, or the first.
std::string eyeOf(const Document &document)
{
    for (const EyeEntry &eye : document.eyes)
        if (maskOn(document, eye.id)) return eye.id;
    return document.eyes.empty() ? std::string() : document.eyes.front().id;
}

QImage smallPicture(const Results &results)
{
    const EyeResult *eye = findEntry(results.eyes, eyeOf(*results.document));
    if (!eye || !eye->fold || eye->fold->picture.counts.empty()) return {};
    const auto fold = std::make_shared<const EyeFold>(EyeFold::merged({eye->fold.get()}));
    EyePicture::From from{fold, 0, fold->picture.rows.count, &Look::light()};
    from.rule = eye->rule;
    constexpr QSize size(72, 44);
    return EyePicture::of(from).image.scaled(size, Qt::IgnoreAspectRatio, Qt::SmoothTransformation);
}

} // namespace

struct RunKeeper::Work {
    RunGathering gathering{shareFolder() / "masks", {.forReports = false, .jobs = jobs}};
    std::uint64_t session = 0;
    bool isRun = false, fading = false;
    std::map<std::string, QImage> pictures;
    std::map<std::string, std::deque<std::shared_ptr<const EyeFold>>> recent;
    std::chrono::steady_clock::time_point told{};
    std::chrono::steady_clock::duration cost{}; ///< of telling: of many captures it is not told as often
    bool isTimeToTell() const
    {
        constexpr int share = 8;
        return std::chrono::steady_clock::now() - told >
               std::max<std::chrono::steady_clock::duration>(oftenEnough, share * cost);
    }
    std::shared_ptr<const Document> document;
    std::filesystem::path base;
    std::set<std::string> written; ///< files that the live source wrote since the project was opened: no others go
    /// Those of them that were counted and may have to go: by capture, the oldest first.
    std::map<std::string, std::deque<std::string>> kept;
    std::set<std::string> traced; ///< channels of which tiles show traces of more than one capture
    std::deque<RunTrace> traces;  ///< the newest first
    void keepTraces(const RunMember &member, const Results &results)
    {
        RunTrace trace{member.name, {}};
        for (const ChannelResult &channel : results.channels)
            if (traced.contains(channel.id) && channel.pyramid) trace.channels.push_back(channel);
        traces.push_front(std::move(trace));
        std::int64_t samples = 0;
        for (std::size_t i = 0; i < traces.size(); ++i) {
            for (const ChannelResult &channel : traces[i].channels) samples += channel.source->axis().count;
            if (i < mostTraces && (i == 0 || samples <= mostTracedSamples)) continue;
            traces.resize(i);
        }
    }
    std::shared_ptr<const Results> fadingOf(const Results &all) const
    {
        auto faded = std::make_shared<Results>(all);
        for (EyeResult &eye : faded->eyes) {
            const auto folds = recent.find(eye.id);
            if (folds == recent.end()) continue;
            const std::vector<std::shared_ptr<const EyeFold>> newestFirst(folds->second.begin(), folds->second.end());
            eye.fold = std::make_shared<const EyeFold>(fadingEye(newestFirst));
        }
        return faded;
    }
};

/// Lets go of files of live captures that are not to be kept.
void RunKeeper::tidy(Work &work, const RunMember &member, bool failed)
{
    std::vector<std::string> shown;
    {
        const std::lock_guard lock(m_mutex);
        shown = m_shown;
    }
    const auto remove = [&](const std::string &file) {
        std::error_code failure;
        for (const auto &one : captureFiles(work.base / file)) std::filesystem::remove(one, failure);
    };
    for (std::size_t i = 0; i < member.files.size(); ++i) {
        const CaptureEntry &entry = work.document->captures[i];
        const bool stays = entry.live.keep == "all" || (entry.live.keep == "failed" && failed);
        if (entry.live.address.empty() || stays || !work.written.contains(member.files[i])) continue;
        std::deque<std::string> &kept = work.kept[entry.id];
        kept.push_back(member.files[i]);
        const std::size_t most = entry.live.keep == "last" ? std::size_t(entry.live.last) : 1;
        for (std::size_t more = kept.size(); more > most; --more) {
            const std::string oldest = std::move(kept.front());
            kept.pop_front();
            if (std::ranges::find(shown, oldest) != shown.end())
                kept.push_back(oldest); // it is looked at: another time
            else
                remove(oldest);
        }
    }
}

RunKeeper::RunKeeper(QObject *parent) : QObject(parent), m_thread([this](std::stop_token stop) { work(stop); }) {}

RunKeeper::~RunKeeper()
{
    m_thread.request_stop();
    stop(true);
    m_thread.join();
}

void RunKeeper::follow(const Document &document, const std::filesystem::path &base, std::uint64_t session)
{
    const std::lock_guard lock(m_mutex);
    if (m_session != session) { // what came is of another project
        m_arrived.clear();
        m_waiting = 0;
        m_stopped = false;
    }
    m_session = session;
    m_failed = false;
    m_wanted = Wanted{document, base, session};
    if (m_progress) m_progress->cancel(); // one that is wanted still is the next one again
    m_wake.notify_all();
}

void RunKeeper::countAnew()
{
    const std::lock_guard lock(m_mutex);
    m_anew = true;
    m_stopped = m_failed = false;
    if (m_progress) m_progress->cancel();
    m_wake.notify_all();
}

void RunKeeper::arrive(const std::string &capture, const std::string &file)
{
    const std::lock_guard lock(m_mutex);
    m_arrived.emplace_back(capture, file);
    ++m_waiting;
    m_wake.notify_all();
}

void RunKeeper::setShown(std::vector<std::string> files)
{
    const std::lock_guard lock(m_mutex);
    m_shown = std::move(files);
}

void RunKeeper::hold(bool held)
{
    const std::lock_guard lock(m_mutex);
    m_held = held;
    m_wake.notify_all();
}

void RunKeeper::stop(bool stopped)
{
    const std::lock_guard lock(m_mutex);
    m_stopped = stopped;
    if (stopped && m_progress) m_progress->cancel();
    m_wake.notify_all();
}

bool RunKeeper::isStopped() const
{
    const std::lock_guard lock(m_mutex);
    return m_stopped;
}

void RunKeeper::tell(Work &work, bool working, const std::string &error)
{
    const auto begun = std::chrono::steady_clock::now();
    auto snapshot = std::make_shared<RunSnapshot>();
    const RunGathering &run = work.gathering;
    snapshot->session = work.session;
    snapshot->error = error;
    if (work.isRun) {
        snapshot->members = run.members();
        if (auto all = run.all()) snapshot->all = std::make_shared<const Results>(std::move(*all));
        if (snapshot->all) snapshot->lines = overviewOf(*snapshot->all);
        std::sort(snapshot->lines.begin(), snapshot->lines.end(), isWorse);
        snapshot->counted = run.counted().size();
        snapshot->unread = run.unread().size();
        snapshot->failed = run.failed();
        snapshot->ended = run.ended();
        snapshot->working = working;
        snapshot->pictures = work.pictures;
        if (snapshot->all && work.fading) snapshot->recent = work.fadingOf(*snapshot->all);
        snapshot->traces = work.traces;
    }
    work.told = std::chrono::steady_clock::now();
    work.cost = work.told - begun;
    m_mail.post([this, snapshot = std::move(snapshot)] { emit told(snapshot); });
}

void RunKeeper::adopt(Work &work, Wanted wanted, bool anew)
{
    const bool isRun = hasRun(wanted.document);
    if (!isRun && !work.isRun && wanted.session == work.session) return; // as before: nothing to be told
    if (wanted.session != work.session) {
        anew = true;
        work.written.clear();
    }
    work.session = wanted.session;
    work.isRun = isRun;
    work.document = std::make_shared<const Document>(wanted.document);
    work.base = wanted.base;
    const bool faded = work.fading;
    const std::set<std::string> before = work.traced;
    work.fading = false;
    work.traced.clear();
    for (const SheetEntry &sheet : wanted.document.sheets) {
        for (const TileEntry &tile : sheet.tiles) {
            work.fading |= tile.kind == "eye" && tile.captures == "recent";
            if (tile.kind == "traces" && tile.captures != "one") work.traced.insert(tile.of.begin(), tile.of.end());
        }
    }
    if (!work.fading) work.recent.clear();
    if (work.traced.empty()) work.traces.clear();
    work.gathering.trace(work.traced);
    // The last ones were not kept, and are counted again; but where files may be gone since: what was counted stays,
    // and those that come are kept.
    const bool unkept = (work.fading && !faded) || !std::ranges::includes(before, work.traced);
    const bool mayBeGone = std::ranges::any_of(wanted.document.captures,
                                               [](const CaptureEntry &entry) { return !entry.live.address.empty(); });
    anew = anew || (unkept && !mayBeGone);
    std::string error;
    if (isRun) {
        work.gathering.follow(wanted.document, wanted.base);
        if (anew) work.gathering.begin();
        try {
            work.gathering.look();
        } catch (const Error &failure) {
            error = failure.what();
        }
    } else {
        work.gathering.begin(); // lets go of what was counted
    }
    if (work.gathering.counted().empty()) { // all are counted, and may have to go, once more
        work.pictures.clear();
        work.recent.clear();
        work.traces.clear();
        work.kept.clear();
    }
    tell(work, work.gathering.hasNext(), error);
}

void RunKeeper::takeNext(Work &work)
{
    std::shared_ptr<Progress> progress;
    {
        const std::lock_guard lock(m_mutex);
        if (m_wanted || m_anew || m_stopped) return;
        progress = m_progress = std::make_shared<Progress>();
    }
    std::vector<std::pair<RunMember, bool>> counted; // and whether it failed
    try {
        work.gathering.takeNext(*progress, [&](const RunMember &member, const Results &results) {
            counted.emplace_back(member, captureFailed(results));
            work.pictures[member.name] = smallPicture(results);
            if (!work.traced.empty()) work.keepTraces(member, results);
            for (const EyeResult &eye : results.eyes) {
                if (!eye.fold || !work.fading) continue;
                auto &recent = work.recent[eye.id];
                recent.push_front(eye.fold);
                if (recent.size() > mostRecent) recent.pop_back();
            }
        });
    } catch (const Cancelled &) {
        // it is the next one still
    }
    for (const auto &[member, failed] : counted) tidy(work, member, failed);
    const std::lock_guard lock(m_mutex);
    m_progress.reset();
}

void RunKeeper::takeArrived(Work &work, const std::vector<std::pair<std::string, std::string>> &arrived)
{
    for (const auto &[capture, file] : arrived) {
        work.written.insert(file);
        work.gathering.arrive(capture, file);
    }
    sayWaiting(work);
}

void RunKeeper::sayWaiting(const Work &work)
{
    const std::lock_guard lock(m_mutex);
    m_waiting = work.gathering.waiting() + m_arrived.size();
}

void RunKeeper::goOn(Work &work)
{
    RunGathering &run = work.gathering;
    if (run.hasNext()) {
        takeNext(work);
        sayWaiting(work);
        if (!run.hasNext() || work.isTimeToTell()) tell(work, run.hasNext());
    } else if (run.mayGrow()) {
        const std::size_t before = run.members().size();
        run.look();
        if (run.members().size() != before) tell(work, run.hasNext());
    }
}

void RunKeeper::work(std::stop_token stop)
{
    giveWay();
    Work work;
    std::optional<Wanted> last;
    while (!stop.stop_requested()) {
        std::optional<Wanted> wanted;
        bool anew = false, goesOn = false;
        std::vector<std::pair<std::string, std::string>> arrived;
        {
            std::unique_lock lock(m_mutex);
            const auto isCalled = [&] { return m_wanted || m_anew || !m_arrived.empty(); };
            const auto mayWork = [&] { return !m_held && !m_stopped && !m_failed && work.isRun; };
            const auto isReady = [&] { return isCalled() || (mayWork() && work.gathering.hasNext()); };
            if (work.isRun && work.gathering.mayGrow() && !m_stopped && !m_failed)
                m_wake.wait_for(lock, stop, lookAgain, isReady);
            else
                m_wake.wait(lock, stop, isReady);
            if (stop.stop_requested()) return;
            wanted = std::exchange(m_wanted, std::nullopt);
            anew = std::exchange(m_anew, false);
            arrived = std::exchange(m_arrived, {});
            goesOn = mayWork();
        }
        if (wanted) last = wanted;
        try {
            if ((wanted || anew) && last) adopt(work, *last, anew);
            if (!arrived.empty()) takeArrived(work, arrived);
            if (goesOn && !wanted && !anew) goOn(work);
        } catch (...) {
            logLine(LogLevel::error, "a run failed: " + failureForLog());
            tell(work, false, failureText());
            const std::lock_guard lock(m_mutex);
            m_failed = true;
            m_progress.reset();
        }
    }
}

} // namespace fulvex
