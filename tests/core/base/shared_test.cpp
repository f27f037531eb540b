// SPDX-License-Identifier: GPL-3.0-or-later
// Copies share what did not change: an edit of one piece costs one piece.
#include <gtest/gtest.h>

#include "base/shared.h"
#include "support/support.h"

namespace zl {
namespace {

using test::good;

// Counts how often a value was copied.
struct Counted {
    int value = 0;
    static inline int copies = 0;
    Counted() = default;
    explicit Counted(int v) : value(v) {}
    Counted(const Counted& o) : value(o.value) { ++copies; }
    Counted(Counted&&) = default;
    Counted& operator=(const Counted&) = default;
    Counted& operator=(Counted&&) = default;
    bool operator==(const Counted& o) const { return value == o.value; }
};

TEST(SharedList, ACopyIsFreeAndAChangeCostsOneElement) {
    SharedList<Counted> list;
    for (int i = 0; i < 50; ++i) list.push_back(Counted(i));
    Counted::copies = 0;
    SharedList<Counted> copy = list;
    EXPECT_TRUE(copy == list);
    EXPECT_EQ(Counted::copies, 0);
    copy[7].value = 100;
    EXPECT_EQ(Counted::copies, 1);
    EXPECT_EQ(std::as_const(list)[7].value, 7);
    EXPECT_FALSE(copy == list);
    copy[7].value = 101;  // is its own now
    EXPECT_EQ(Counted::copies, 1);
    for (std::size_t i = 0; i < 50; ++i) EXPECT_EQ(copy.shares(list, i), i != 7);
}

TEST(SharedList, BehavesAsAListDoes) {
    SharedList<int> list{1, 2, 3};
    list.insertAt(1, 9);
    list.push_back(4);
    EXPECT_TRUE((list == SharedList<int>{1, 9, 2, 3, 4}));
    list.eraseIf([](int v) { return v > 3; });
    EXPECT_TRUE((list == SharedList<int>{1, 2, 3}));
    const SharedList<int> before = list;
    for (int& v : list) v *= 2;
    EXPECT_TRUE((list == SharedList<int>{2, 4, 6}));
    EXPECT_TRUE((before == SharedList<int>{1, 2, 3}));
    EXPECT_EQ(before.placeOf(&before[2]), 2u);
    EXPECT_EQ(before.placeOf(nullptr), 3u);
    EXPECT_EQ(before.back() - before.front(), 2);
    EXPECT_TRUE(std::is_sorted(before.begin(), before.end()));
    EXPECT_TRUE(SharedList<int>{}.empty());
    EXPECT_FALSE((SharedList<int>{1} == SharedList<int>{1, 2}));
}

TEST(SharedMap, IsCopiedWhenItIsChanged) {
    SharedMap<std::string, int> map;
    map.emplace("a", 1);
    SharedMap<std::string, int> copy = map;
    copy.emplace("b", 2);
    copy.emplace("a", 5);  // is there already
    EXPECT_EQ(map.size(), 1u);
    EXPECT_EQ(copy.size(), 2u);
    EXPECT_EQ(copy.find("a")->second, 1);
    copy.eraseIf([](const auto& one) { return one.first == "b"; });
    EXPECT_TRUE(copy == map);
    copy.own()["a"] = 8;
    EXPECT_EQ(map.find("a")->second, 1);
    copy.clear();
    EXPECT_TRUE(copy.empty());
    EXPECT_EQ(map.size(), 1u);
}

}  // namespace
}  // namespace zl
