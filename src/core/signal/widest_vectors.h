#pragma once

/// Before a function of plain loops: compiled for several instruction sets, the widest that the machine has is called.
/// With g++, which the product is built with; clang, for the fuzzers, compiles it once.
#ifdef __clang__
#define FULVEX_WIDEST_VECTORS
#else
#define FULVEX_WIDEST_VECTORS __attribute__((target_clones("avx512f", "avx2", "default")))
#endif
