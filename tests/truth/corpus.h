// SPDX-License-Identifier: GPL-3.0-or-later
// The real pictures that the truth tests look at (scripts/corpus.sh brings them), and the table of
// what was seen on them.
//
// The pictures are in two halves, told apart by their names alone: thresholds are tuned on one and
// reported on the other. ZL_TRUTH_HALF=tune looks at the first instead; ZL_TRUTH_LIST=1 names each
// picture that is not as it should be; ZL_TRUTH_WRITE=FILE writes the table.
#pragma once

#include <string>
#include <vector>

#include "raster/raster.h"
#include "support/support.h"

namespace zl::truth {

struct Item {
    std::string family, name;
    Path file;
};

// Of "icons", "large", "photos", "faces": those of the half that is looked at, in the order of
// their names. All of "faces".
std::vector<Item> items(const std::string& kind);
Path corpusFolder();
Straight8 pictureOf(const Item& item);

// Calls `each` for all items, on both processors; `each` must only touch its own results.
void forAll(const std::vector<Item>& all, const std::function<void(std::size_t)>& each);

// Names an item that is not as it should be, when asked to.
void list(const std::string& what, const Item& item, const std::string& how = "");

// One row of the table. Percentages are of `of` pictures.
void row(const std::string& what, const std::string& seen, const std::string& goal);

}  // namespace zl::truth
