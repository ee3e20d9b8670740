// The one place that hands loops to the scheduler. Never built with the thread sanitizer, which cannot look into the
// scheduler's library: it is told instead what a loop promises, that its calls come after what was before it and before
// what is after it.

#include "core_loop.h"

#include <tbb/parallel_for.h>
#include <tbb/task_arena.h>

#ifdef FULVEX_THREAD_SANITIZER
extern "C" {
void __tsan_acquire(void *address);
void __tsan_release(void *address);
}
#endif

namespace fulvex {

namespace {

struct Order {
    char begun = 0, over = 0;
#ifdef FULVEX_THREAD_SANITIZER
    Order()
    {
        __tsan_release(&begun);
    }
    ~Order()
    {
        __tsan_acquire(&over);
    }
    void enter()
    {
        __tsan_acquire(&begun);
    }
    void leave()
    {
        __tsan_release(&over);
    }
#else
    void enter() {}
    void leave() {}
#endif
};

struct Call {
    Order &order;
    explicit Call(Order &all) : order(all) { order.enter(); }
    ~Call() { order.leave(); }
};

} // namespace

void onAllCores(std::int64_t count, const std::function<void(std::int64_t)> &work)
{
    Order order;
    // Of its own: else a loop within a loop would end early, without a word, where another call of the outer one threw.
    tbb::task_group_context context(tbb::task_group_context::isolated);
    const auto call = [&](std::int64_t index) {
        const Call one(order);
        work(index);
    };
    tbb::parallel_for(std::int64_t(0), count, call, context);
}

std::int64_t coreCount()
{
    return tbb::this_task_arena::max_concurrency();
}

} // namespace fulvex
