// SPDX-License-Identifier: GPL-3.0-or-later
#include <gtest/gtest.h>
#include <thread>

#include "base/cache.h"
#include "base/parallel.h"
#include "render/ink_store.h"
#include "render/render.h"
#include "support/support.h"

namespace zl {
namespace {

using Numbers = Cache<int, int>;
const auto unit = [](int) { return std::size_t{1}; };

bool alike(const Straight8& a, const Straight8& b) {
    for (int y = 0; y < a.height(); ++y)
        if (!std::equal(a.row(y), a.row(y) + a.width(), b.row(y))) return false;
    return a.size() == b.size();
}

// Eight threads on one store: the frame is that of one thread alone.
TEST(InkStore, EightThreadsRenderWhatOneDoes) {
    Kit kit = test::withPicture(test::kitWith("free-frame", {160, 90}), test::textured({64, 36}),
                                {3.5, 2.25, 120.5, 70});
    kit = test::withLetters(kit, "Words", 30, {10.5, 20});
    kit.pieces[0].layers[0].picture()->tone.contrast = 20;
    kit.pieces[0].layers[0].turn.degrees = 90;
    InkStore alone;
    const Straight8 expected = test::good(render({kit.pieces[0], kit}, alone));
    InkStore shared;
    std::vector<std::jthread> threads;
    std::atomic<int> wrong = 0;
    for (int t = 0; t < 8; ++t)
        threads.emplace_back([&, t] {
            for (int i = 0; i < 6; ++i) {
                if (t == 7 && i == 3) shared.clear();
                const auto frame = render({kit.pieces[0], kit}, shared);
                if (!frame || !alike(*frame, expected)) ++wrong;
            }
        });
    threads.clear();
    EXPECT_EQ(wrong, 0);
}

TEST(InkStore, EveryFieldOfAPictureIsPartOfItsKey) {
    const PictureKey key{"a"};
    std::vector<PictureKey> others(8, key);
    others[0].sha256 = "b";
    others[1].cuts = {Cut{KeyCut{}}};
    others[2].veils = {Veil{}};
    others[3].tone.clarity = 1;
    others[4].quarters = 1;
    others[5].flipX = true;
    others[6].flipY = true;
    others[7].tone.tint = 1;
    for (const PictureKey& other : others) EXPECT_NE(other, key);
    EXPECT_EQ(StoreHash()(key), StoreHash()(PictureKey{"a"}));
}

}  // namespace
}  // namespace zl
