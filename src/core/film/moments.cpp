// SPDX-License-Identifier: GPL-3.0-or-later
#include "film/moments.h"

#include <algorithm>

namespace zl {

Result<std::shared_ptr<const VideoMoments>> momentsOf(Video& video, const std::string& name,
                                                      const std::function<void(double)>& progress,
                                                      const std::stop_token& stop) {
    auto out = std::make_shared<VideoMoments>();
    out->name = name;
    const double length = video.facts().duration;
    auto looked = video.pictures(
        std::max(glimpseStep, length / static_cast<double>(mostMoments)), momentWidth,
        [&](Straight8 picture, double time) {
            if (progress && length > 0) progress(std::min(1.0, time / length));
            out->all.push_back({time, std::make_shared<const Straight8>(std::move(picture))});
            return true;
        },
        stop);
    if (!looked) return passOn(looked.error());
    return out;
}

std::shared_ptr<const VideoMoments> momentsOf(const Strip& strip, const std::string& name) {
    const auto looked = strip.looked();
    if (!looked || looked->glimpses.empty()) return nullptr;
    auto out = std::make_shared<VideoMoments>();
    out->name = name;
    const std::size_t all = looked->glimpses.size(), count = std::min(all, mostMoments);
    for (std::size_t i = 0; i < count; ++i) {
        auto picture = strip.nearest(looked->glimpses[i * all / count].glance.time);
        if (picture)
            out->all.push_back(
                {picture->time, std::make_shared<const Straight8>(std::move(picture->pixels))});
    }
    return out;
}

}  // namespace zl
