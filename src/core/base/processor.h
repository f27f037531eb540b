// SPDX-License-Identifier: GPL-3.0-or-later
// Loops over pixels, compiled once for every x86-64 processor and once for those with AVX2; which
// of the two runs is chosen when the program starts. Nothing is contracted into one step, so both
// give the same bits (docs/decisions/017).
#pragma once

// The lines of such a loop: they become part of whoever calls them, and wear that one's
// instructions.
#define ZL_INLINE static inline __attribute__((always_inline))

// ZL_FOR_THIS_PROCESSOR(double, sumOf, (const float* from, int count), sumLines(from, count));
// makes `sumOf`, whose body is the call of an inline function.
#if defined(__x86_64__)
#define ZL_FOR_THIS_PROCESSOR(Returns, name, parameters, call)          \
    Returns name##Everywhere parameters {                               \
        return call;                                                    \
    }                                                                   \
    __attribute__((target("avx2"))) Returns name##WithAvx2 parameters { \
        return call;                                                    \
    }                                                                   \
    const auto name = __builtin_cpu_supports("avx2") ? name##WithAvx2 : name##Everywhere
#else
#define ZL_FOR_THIS_PROCESSOR(Returns, name, parameters, call) \
    Returns name parameters {                                  \
        return call;                                           \
    }                                                          \
    static_assert(true)
#endif
