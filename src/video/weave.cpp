// SPDX-License-Identifier: GPL-3.0-or-later
// The adapter of libavfilter: "bwdif" with the frames on both sides of one.
#include <cstdint>

extern "C" {
#include <libavfilter/avfilter.h>
#include <libavfilter/buffersink.h>
#include <libavfilter/buffersrc.h>
}

#include <cstdio>
#include <memory>

#include "fields.h"
#include "held.h"

namespace zl::video {
namespace {

struct FreeFilters {
    void operator()(AVFilterGraph* graph) const { avfilter_graph_free(&graph); }
};

// A copy at a time of its own, told to be interlaced as the wanted one is.
bool feed(AVFilterContext* in, const AVFrame* frame, const AVFrame& like, std::int64_t at) {
    if (!frame || frame->format != like.format || frame->width != like.width ||
        frame->height != like.height)
        return true;
    Frame copy(av_frame_clone(frame));
    if (!copy) return false;
    copy->pts = at;
    copy->interlaced_frame = 1;
    copy->top_field_first = like.top_field_first;
    return av_buffersrc_add_frame(in, copy.get()) >= 0;
}

AVFrame* weave(const AVFrame* before, const AVFrame* frame, const AVFrame* after) {
    const std::unique_ptr<AVFilterGraph, FreeFilters> graph(avfilter_graph_alloc());
    if (!graph) return nullptr;
    graph->nb_threads = 1;
    char kind[160];
    std::snprintf(kind, sizeof kind, "video_size=%dx%d:pix_fmt=%d:time_base=1/25", frame->width,
                  frame->height, frame->format);
    AVFilterContext *in = nullptr, *apart = nullptr, *out = nullptr;
    if (avfilter_graph_create_filter(&in, avfilter_get_by_name("buffer"), "in", kind, nullptr,
                                     graph.get()) < 0 ||
        avfilter_graph_create_filter(&apart, avfilter_get_by_name("bwdif"), "apart",
                                     "mode=send_frame:parity=auto:deint=all", nullptr,
                                     graph.get()) < 0 ||
        avfilter_graph_create_filter(&out, avfilter_get_by_name("buffersink"), "out", nullptr,
                                     nullptr, graph.get()) < 0 ||
        avfilter_link(in, 0, apart, 0) < 0 || avfilter_link(apart, 0, out, 0) < 0 ||
        avfilter_graph_config(graph.get(), nullptr) < 0)
        return nullptr;
    constexpr std::int64_t wanted = 2;
    if (!feed(in, before, *frame, wanted - 1) || !feed(in, frame, *frame, wanted) ||
        !feed(in, after, *frame, wanted + 1) || av_buffersrc_add_frame(in, nullptr) < 0)
        return nullptr;
    const AVRational base = av_buffersink_get_time_base(out);
    for (Frame made(av_frame_alloc()); made; av_frame_unref(made.get())) {
        if (av_buffersink_get_frame(out, made.get()) < 0) return nullptr;
        if (av_rescale_q(made->pts, base, {1, 25}) == wanted) {
            av_frame_copy_props(made.get(), frame);
            made->interlaced_frame = 0;
            return made.release();
        }
    }
    return nullptr;
}

}  // namespace
}  // namespace zl::video

extern "C" __attribute__((visibility("default"))) AVFrame* zl_weave_apart(const AVFrame* before,
                                                                          const AVFrame* frame,
                                                                          const AVFrame* after) {
    return zl::video::weave(before, frame, after);
}
