// SPDX-License-Identifier: GPL-3.0-or-later
#include "work/look_shelf.h"

#include "base/data_files.h"
#include "store/shelf.h"

namespace zl::app {
namespace {

Path shelfFile() {
    return personalFolder() / shelfName;
}

}  // namespace

// A shelf that cannot be read is an empty one; adding to it tells why.
void LookShelf::refresh() {
    aside(
        jobs_, this, [file = shelfFile()] { return readShelf(file); },
        [this](Result<std::vector<Look>> looks) {
            looks_ = looks ? std::move(*looks) : std::vector<Look>{};
        });
}

void LookShelf::add(const Look& look, std::function<void(Result<void>)> done) {
    aside(
        jobs_, this, [file = shelfFile(), look] { return addToShelf(file, look); },
        [this, done = std::move(done)](const Result<void>& added) {
            refresh();
            done(added);
        });
}

}  // namespace zl::app
