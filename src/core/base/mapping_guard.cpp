#include "mapping_guard.h"

#include <array>
#include <csignal>
#include <cstdint>
#include <mutex>
#include <sys/mman.h>
#include <sys/syscall.h>
#include <unistd.h>

namespace fulvex {

/// A range, read by the signal handler without a lock; `first` is 0 while the slot is free.
struct MappingGuard::Slot {
    std::atomic<std::uintptr_t> first = 0, last = 0;
    std::atomic<bool> torn = false, taken = false;
};

/// All ranges, in pieces that are never given back, since a handler may be looking at them.
struct MappingGuard::Registry {
    struct Piece {
        std::array<Slot, 256> slots;
        std::atomic<Piece *> next = nullptr;
    };
    Piece head;
    std::mutex taking;
    struct sigaction before {};
    std::uintptr_t page = std::uintptr_t(::sysconf(_SC_PAGESIZE));

    Registry();
    Slot &take()
    {
        const std::lock_guard lock(taking);
        for (Piece *piece = &head;; piece = piece->next) {
            for (Slot &slot : piece->slots) {
                if (!slot.taken.exchange(true)) return slot;
            }
            if (!piece->next) piece->next = new Piece;
        }
    }
    /// Puts zeros where nothing can be read; what lies behind is beyond the file's end as well.
    bool mend(std::uintptr_t at)
    {
        for (Piece *piece = &head; piece; piece = piece->next) {
            for (Slot &slot : piece->slots) {
                const std::uintptr_t first = slot.first.load(std::memory_order_acquire), last = slot.last;
                if (first == 0 || at < first || at >= last) continue;
                slot.torn = true;
                const std::uintptr_t from = at / page * page;
                // The bare call: a signal handler may make it, and no sanitizer takes it for a write into what others
                // read.
                return ::syscall(SYS_mmap, from, last - from, PROT_READ, MAP_FIXED | MAP_PRIVATE | MAP_ANONYMOUS, -1,
                                 0) != -1;
            }
        }
        return false;
    }
};

MappingGuard::Registry &MappingGuard::registry()
{
    static auto *all = new Registry; // for good: a handler may run while the program ends
    return *all;
}

MappingGuard::Registry::Registry()
{
    struct sigaction act {};
    act.sa_flags = SA_SIGINFO;
    ::sigemptyset(&act.sa_mask);
    act.sa_sigaction = [](int number, siginfo_t *facts, void *context) {
        Registry &all = registry();
        if (all.mend(reinterpret_cast<std::uintptr_t>(facts->si_addr))) return;
        // Not ours: whoever was there before sees it, or the next try ends the program as it should.
        if (all.before.sa_flags & SA_SIGINFO && all.before.sa_sigaction)
            all.before.sa_sigaction(number, facts, context);
        else
            ::signal(number, SIG_DFL);
    };
    ::sigaction(SIGBUS, &act, &before);
}

MappingGuard::MappingGuard(const void *data, std::size_t size) : m_slot(&registry().take())
{
    m_slot->torn = false;
    m_slot->last = reinterpret_cast<std::uintptr_t>(data) + size;
    m_slot->first.store(reinterpret_cast<std::uintptr_t>(data), std::memory_order_release);
}

MappingGuard::~MappingGuard()
{
    m_slot->first = 0;
    m_slot->taken = false;
}

bool MappingGuard::torn() const
{
    return m_slot->torn;
}

} // namespace fulvex
