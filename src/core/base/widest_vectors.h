#pragma once

/// Before a function of plain loops: compiled for several instruction sets, the widest that the machine has is called.
/// With g++, which the product is built with. Compiled once by clang, for the fuzzers, and for the thread sanitizer,
/// which would be called by the choice before it is ready.
#if defined(__clang__) || defined(__SANITIZE_THREAD__)
#define FULVEX_WIDEST_VECTORS
#else
#define FULVEX_WIDEST_VECTORS __attribute__((target_clones("avx512f", "avx2", "default")))
#endif
