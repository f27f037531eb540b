// SPDX-License-Identifier: GPL-3.0-or-later
// The looks that a person keeps for all their kits, as they were read last; files are read and
// written aside.
#pragma once

#include <QObject>
#include <functional>
#include <vector>

#include "kit/kit.h"
#include "work/jobs.h"

namespace zl::app {

class LookShelf : public QObject {
    Q_OBJECT
  public:
    explicit LookShelf(Jobs& jobs) : jobs_(jobs) { refresh(); }

    const std::vector<Look>& looks() const { return looks_; }
    void refresh();
    // One of the same name is replaced.
    void add(const Look& look, std::function<void(Result<void>)> done);

  private:
    Jobs& jobs_;
    std::vector<Look> looks_;
};

}  // namespace zl::app
