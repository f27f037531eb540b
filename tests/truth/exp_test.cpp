#include <fmt/core.h>
#include "corpus.h"
#include "cut/edge_scan.h"
namespace zl::truth {
TEST(Exp, Fringe) {
    for (const Item& item : items("icons")) {
        const Straight8 clean = pictureOf(item);
        for (int kind = 0; kind < 4; ++kind) {
            const std::array<std::array<int,3>,4> grounds{{{0,0,0},{255,255,255},{0,0,0},{0,177,64}}};
            const auto g = grounds[kind];
            const Straight8 m = kind == 0 ? clean.clone() : test::painted(clean.size(), [&](int x, int y) {
                const std::uint32_t p = clean.row(y)[x]; const int a = alphaOf(p); if (a == 0) return 0u;
                const auto mix = [&](int v, int b) { return (v * a + b * (255 - a) + 127) / 255; };
                return packed(mix(redOf(p), g[0]), mix(greenOf(p), g[1]), mix(blueOf(p), g[2]), a); });
            std::fprintf(stderr, "ITEM %d %s/%s\n", kind, item.family.c_str(), item.name.c_str());
            fringeOf(m, edgePixelsOf(m));
        }
    }
}
}
