// SPDX-License-Identifier: GPL-3.0-or-later
#include "encode/ssim.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <cstdint>
#include <cstring>
#include <memory>
#include <numeric>
#include <utility>
#include <vector>

#include "base/parallel.h"
#include "base/processor.h"

namespace zl {
namespace {

constexpr int windowSize = 11;
constexpr double sigma = 1.5;
constexpr float c1 = 0.01f * 255 * 0.01f * 255, c2 = 0.03f * 255 * 0.03f * 255;

// A Gaussian window of `length` taps, at most windowSize, that sums to 1; what is left of it is
// zero.
struct Window {
    explicit Window(int length) : taps(length) {
        std::array<double, windowSize> w{};
        double sum = 0;
        for (int i = 0; i < length; ++i) {
            const double d = i - (length - 1) / 2.0;
            sum += w[static_cast<std::size_t>(i)] = std::exp(-d * d / (2 * sigma * sigma));
        }
        for (std::size_t i = 0; i < weight.size(); ++i) weight[i] = static_cast<float>(w[i] / sum);
    }
    int taps;
    std::array<float, windowSize> weight{};
};

// Several floats worked on at once: 4, 8 or 16. A pixel has four of them, its moments: the mean of
// the one picture, of the other, of their difference squared, of their product.
constexpr int moments = 4;
// (A typedef: the compiler heeds an attribute that depends on n nowhere else.)
template <int n>
struct Many {
    typedef float Floats __attribute__((vector_size(4 * n)));
    typedef std::uint32_t Words __attribute__((vector_size(4 * n)));
    typedef std::int32_t Ints __attribute__((vector_size(4 * n)));
    typedef double Doubles __attribute__((vector_size(4 * n)));  // half as many
    using Places = std::make_integer_sequence<int, n>;
    using Half = std::make_integer_sequence<int, n / 2>;
};

template <class V>
ZL_INLINE V take(const void* p) {
    V v;
    std::memcpy(&v, p, sizeof v);
    return v;
}

template <class V>
ZL_INLINE void put(float* p, const V& v) {
    std::memcpy(p, &v, sizeof v);
}

template <auto rule, class V, int... i>
ZL_INLINE auto pick(const V& one, const V& two, std::integer_sequence<int, i...>) {
    return __builtin_shufflevector(one, two, rule(i)...);
}

// Places in two vectors of n, of each four lanes by themselves.
template <int n>
struct Place {
    static constexpr int of(int i, int a, int b, int c, int d) {
        return i / 4 * 4 + std::array{a, b, c, d}[static_cast<std::size_t>(i % 4)];
    }
    static constexpr int low(int i) { return of(i, 0, n, 1, n + 1); }
    static constexpr int high(int i) { return of(i, 2, n + 2, 3, n + 3); }
    static constexpr int firsts(int i) { return of(i, 0, 1, n, n + 1); }
    static constexpr int seconds(int i) { return of(i, 2, 3, n + 2, n + 3); }
    static constexpr int lower(int i) { return i; }
    static constexpr int upper(int i) { return n / 2 + i; }
    static constexpr int spread(int i) {
        return i % 4 * (n / 4) + i / 4;
    }  // lane k of four q: pixel n / 4 * k + q
};

// Four vectors, each four lanes of them a row of a 4 x 4 table, to its columns.
template <int n, class V>
ZL_INLINE void turn(V& a, V& b, V& c, V& d) {
    constexpr typename Many<n>::Places places;
    const V ab = pick<Place<n>::low>(a, b, places), abNext = pick<Place<n>::high>(a, b, places);
    const V cd = pick<Place<n>::low>(c, d, places), cdNext = pick<Place<n>::high>(c, d, places);
    a = pick<Place<n>::firsts>(ab, cd, places);
    b = pick<Place<n>::seconds>(ab, cd, places);
    c = pick<Place<n>::firsts>(abNext, cdNext, places);
    d = pick<Place<n>::seconds>(abNext, cdNext, places);
}

ZL_INLINE float centred(std::uint32_t word, int shift) {
    return static_cast<float>(static_cast<int>(word >> shift & 255u) - 128);
}

// One channel of one row, centred on 128, so that the squares keep their digits in float.
template <int n>
ZL_INLINE void momentsOf(const std::uint32_t* one, const std::uint32_t* two, int width, int shift,
                         float* out) {
    using Floats = typename Many<n>::Floats;
    using Words = typename Many<n>::Words;
    const auto load = [&](const std::uint32_t* p) __attribute__((always_inline)) {
        const auto words = take<Words>(p);
        const Words spread = pick<Place<n>::spread>(words, words, typename Many<n>::Places());
        return __builtin_convertvector(
            __builtin_convertvector(spread >> shift & 255u, typename Many<n>::Ints) - 128, Floats);
    };
    int x = 0;
    for (; x + n <= width; x += n, out += moments * n) {
        Floats a = load(one + x), b = load(two + x), apart = (a - b) * (a - b), product = a * b;
        turn<n>(a, b, apart, product);
        put(out, a);
        put(out + n, b);
        put(out + 2 * n, apart);
        put(out + 3 * n, product);
    }
    for (; x < width; ++x, out += moments) {
        const float a = centred(one[x], shift), b = centred(two[x], shift);
        out[0] = a;
        out[1] = b;
        out[2] = (a - b) * (a - b);
        out[3] = a * b;
    }
}

constexpr int together = 4;  // sums at once: what is read serves all of them

// For r of 0..3: out(r, the sum over k of weight[k] * in(step * r + k)).
template <int step, class Floats, class In, class Out>
ZL_INLINE void weigh(const Window& window, const In& in, const Out& out) {
    Floats sums[together] = {};
#pragma GCC unroll 32
    for (int j = 0; j < step * (together - 1) + windowSize; ++j) {
        const Floats value = in(j);
#pragma GCC unroll 4
        for (int r = 0; r < together; ++r)
            if (const int k = j - step * r; k >= 0 && k < windowSize)
                sums[r] += window.weight[static_cast<std::size_t>(k)] * value;
    }
#pragma GCC unroll 4
    for (int r = 0; r < together; ++r) out(r, sums[r]);
}

// The paper's formula, its squares written by what sets the two apart: a^2 + b^2 = 2 a b + (a -
// b)^2, and the variances likewise, so that equal windows give 1 and what rounding takes from near
// ones cancels.
template <class V>
ZL_INLINE V indexOf(const V& a, const V& b, const V& apart, const V& product) {
    const V off = a - b, light = 2.0f * (a + 128.0f) * (b + 128.0f) + c1,
            shape = 2.0f * (product - a * b) + c2;
    return light * shape / ((light + off * off) * (shape + (apart - off * off)));
}

// The sum of the indices of `windows` windows side by side; m: their moments.
template <int n>
ZL_INLINE double sumOf(const float* m, int windows) {
    using Floats = typename Many<n>::Floats;
    using Doubles = typename Many<n>::Doubles;
    constexpr typename Many<n>::Half half;
    Doubles sums = {}, others = {};
    int x = 0;
    for (; x + n <= windows; x += n, m += moments * n) {
        auto a = take<Floats>(m), b = take<Floats>(m + n), apart = take<Floats>(m + 2 * n),
             product = take<Floats>(m + 3 * n);
        turn<n>(a, b, apart, product);
        const Floats indices = indexOf(a, b, apart, product);
        sums += __builtin_convertvector(pick<Place<n>::lower>(indices, indices, half), Doubles);
        others += __builtin_convertvector(pick<Place<n>::upper>(indices, indices, half), Doubles);
    }
    sums += others;
    double all = 0;
    for (int i = 0; i < n / 2; ++i) all += sums[i];
    for (; x < windows; ++x, m += moments) all += indexOf(m[0], m[1], m[2], m[3]);
    return all;
}

constexpr int stripWidth = 1280;

// The windows whose first row is in [from, to), in strips; rows, weighed along, go through a ring.
// What lies past a row's end, or in a line of the ring that is not its turn, is a number like any
// other: it is weighed by zero, or makes a sum that nobody reads.
template <int n>
ZL_INLINE void band(const Straight8& one, const Straight8& two, const Window& across,
                    const Window& down, int from, int to, double* sums) {
    using Floats = typename Many<n>::Floats;
    constexpr int reach = together + windowSize - 1,
                  lines = 16;  // rows that are read at once; a power of 2 that holds them
    constexpr int step =
        16;  // floats of a cache line; an odd number of them, or all rows share a few places
    constexpr int line =
        ((moments * (stripWidth + 2 * windowSize) + 2 * together * n) / step | 1) * step;
    std::vector<float> room(static_cast<std::size_t>(line * (lines + together + 1) + step));
    void* start = room.data();
    std::size_t bytes = room.size() * sizeof(float);
    auto* const raw =
        static_cast<float*>(std::align(step * sizeof(float), sizeof(float), start, bytes));
    float *const ring = raw + line, *const whole = ring + lines * line;
    const int all = one.width() - across.taps + 1;
    for (int left = 0; left < all; left += stripWidth) {
        const int windows = std::min(stripWidth, all - left), width = windows + across.taps - 1;
        for (const int shift : {0, 8, 16}) {
            for (int y = from, first = from; first < to; first += together) {
                const int last = std::min(first + together, to);
                for (; y < last + down.taps - 1; ++y) {
                    momentsOf<n>(one.row(y) + left, two.row(y) + left, width, shift, raw);
                    float* const into = ring + y % lines * line;
                    for (int i = 0; i < moments * windows; i += n * together)
                        weigh<n / moments, Floats>(
                            across,
                            [&](int j) __attribute__((always_inline)) {
                                return take<Floats>(raw + i + moments * j);
                            },
                            [&](int r, const Floats& v)
                                __attribute__((always_inline)) { put(into + i + n * r, v); });
                }
                std::array<float*, reach> rows;
                for (int j = 0; j < reach; ++j)
                    rows[static_cast<std::size_t>(j)] = ring + (first + j) % lines * line;
                for (int i = 0; i < moments * windows; i += n)
                    weigh<1, Floats>(
                        down,
                        [&](int j) __attribute__((always_inline)) {
                            return take<Floats>(rows[static_cast<std::size_t>(j)] + i);
                        },
                        [&](int r, const Floats& v)
                            __attribute__((always_inline)) { put(whole + r * line + i, v); });
                for (int r = 0; first + r < last; ++r)
                    sums[first + r] += sumOf<n>(whole + r * line, windows);
            }
        }
    }
}

using Band = void (*)(const Straight8&, const Straight8&, const Window&, const Window&, int, int,
                      double*);

void plainBand(const Straight8& one, const Straight8& two, const Window& across, const Window& down,
               int from, int to, double* sums) {
    band<4>(one, two, across, down, from, to, sums);
}
#if defined(__x86_64__)
__attribute__((target("avx2,fma"))) void avx2Band(const Straight8& one, const Straight8& two,
                                                  const Window& across, const Window& down,
                                                  int from, int to, double* sums) {
    band<8>(one, two, across, down, from, to, sums);
}
__attribute__((target("avx512f,avx512dq,avx512bw,avx512vl,fma"))) void avx512Band(
    const Straight8& one, const Straight8& two, const Window& across, const Window& down, int from,
    int to, double* sums) {
    band<16>(one, two, across, down, from, to, sums);
}
#endif

// Three widths that a test compares: more than base/processor.h chooses from.
Band bandOf(int lanes) {
#if defined(__x86_64__)
    if (lanes == 16) return avx512Band;
    if (lanes == 8) return avx2Band;
#endif
    return plainBand;
}

}  // namespace

int mostLanes() {
#if defined(__x86_64__)
    if (__builtin_cpu_supports("avx512f") && __builtin_cpu_supports("avx512dq") &&
        __builtin_cpu_supports("avx512bw") && __builtin_cpu_supports("avx512vl"))
        return 16;
    if (__builtin_cpu_supports("avx2") && __builtin_cpu_supports("fma")) return 8;
#endif
    return 4;
}

double ssimOf(const Straight8& one, const Straight8& two, int threads, int lanes) {
    if (one.empty()) return 1;
    const Band work = bandOf(std::min(lanes, mostLanes()));
    const Window across(std::min(windowSize, one.width())),
        down(std::min(windowSize, one.height()));
    const int windowsX = one.width() - across.taps + 1, windowsY = one.height() - down.taps + 1;
    std::vector<double> rows(static_cast<std::size_t>(windowsY));
    const int rowsAtOnce =
        threads == 1 ? windowsY : 90;  // each piece works out the rows of its first window again
    overRows(windowsY, rowsAtOnce, threads,
             [&](int from, int to) { work(one, two, across, down, from, to, rows.data()); });
    const double all = std::accumulate(rows.begin(), rows.end(),
                                       0.0);  // in order: the same on any number of threads
    return all / (3.0 * windowsX * windowsY);
}

}  // namespace zl
