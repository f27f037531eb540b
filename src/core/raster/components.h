// SPDX-License-Identifier: GPL-3.0-or-later
// Connected components of the pixels that a rule picks, as runs of rows (Rosenfeld and Pfaltz,
// Sequential operations in digital picture processing, Journal of the ACM 13, 1966; joined by
// union-find).
#pragma once

#include <algorithm>
#include <vector>

#include "base/geometry.h"

namespace zl {

enum class Neighbours { four, eight };

class Components {
  public:
    struct Run {
        int y = 0, from = 0, to = 0;  // [from, to)
        int component = 0;            // index into all()
    };
    struct Component {
        long long pixels = 0;
        PixelRect box;
        bool touchesRim = false;
    };

    // `inside(x, y)` says which pixels count.
    template <class Inside>
    Components(PixelSize size, Neighbours neighbours, const Inside& inside) {
        const int slack = neighbours == Neighbours::eight ? 1 : 0;
        std::size_t above = 0, aboveEnd = 0;  // runs of the row before
        for (int y = 0; y < size.height; ++y) {
            const std::size_t first = runs_.size();
            for (int x = 0; x < size.width;) {
                if (!inside(x, y)) {
                    ++x;
                    continue;
                }
                const int from = x;
                while (x < size.width && inside(x, y)) ++x;
                runs_.push_back({y, from, x, static_cast<int>(parent_.size())});
                parent_.push_back(static_cast<int>(parent_.size()));
            }
            std::size_t up = above;
            for (std::size_t i = first; i < runs_.size(); ++i) {
                while (up < aboveEnd && runs_[up].to + slack <= runs_[i].from) ++up;
                for (std::size_t j = up; j < aboveEnd && runs_[j].from < runs_[i].to + slack; ++j)
                    join(runs_[i].component, runs_[j].component);
            }
            above = first;
            aboveEnd = runs_.size();
        }
        number(size);
    }

    const std::vector<Run>& runs() const { return runs_; }  // row by row, left to right
    const std::vector<Component>& all() const { return all_; }
    const Component& of(const Run& run) const {
        return all_[static_cast<std::size_t>(run.component)];
    }

  private:
    int root(int i) {
        while (parent_[static_cast<std::size_t>(i)] != i) {
            int& p = parent_[static_cast<std::size_t>(i)];
            p = parent_[static_cast<std::size_t>(p)];
            i = p;
        }
        return i;
    }
    void join(int a, int b) {
        a = root(a);
        b = root(b);
        if (a != b) parent_[static_cast<std::size_t>(std::max(a, b))] = std::min(a, b);
    }
    void number(PixelSize size) {
        std::vector<int> numbers(parent_.size(), -1);
        for (Run& run : runs_) {
            int& number = numbers[static_cast<std::size_t>(root(run.component))];
            if (number < 0) {
                number = static_cast<int>(all_.size());
                all_.push_back({});
            }
            run.component = number;
            Component& component = all_[static_cast<std::size_t>(number)];
            component.pixels += run.to - run.from;
            component.box = component.box.united({run.from, run.y, run.to, run.y + 1});
            component.touchesRim |=
                run.from == 0 || run.to == size.width || run.y == 0 || run.y == size.height - 1;
        }
        parent_.clear();
    }
    std::vector<Run> runs_;
    std::vector<int> parent_;
    std::vector<Component> all_;
};

}  // namespace zl
