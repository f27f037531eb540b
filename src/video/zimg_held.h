// SPDX-License-Identifier: GPL-3.0-or-later
// zimg's graphs and the room that they work in.
#pragma once

#include <zimg.h>

#include <cstdlib>
#include <memory>

namespace zl::video {

struct FreeGraph {
    void operator()(zimg_filter_graph* graph) const { zimg_filter_graph_free(graph); }
};
struct FreeRoom {
    void operator()(void* room) const { std::free(room); }
};
using Graph = std::unique_ptr<zimg_filter_graph, FreeGraph>;
using Room = std::unique_ptr<void, FreeRoom>;

}  // namespace zl::video
