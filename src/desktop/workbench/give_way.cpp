#include "give_way.h"

#include <sys/resource.h>
#include <unistd.h>

namespace fulvex {

void giveWay()
{
    constexpr int nice = 10;
    ::setpriority(PRIO_PROCESS, id_t(::gettid()), nice); // of the thread alone; where it fails all is as it was
}

} // namespace fulvex
