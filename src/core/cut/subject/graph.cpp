// SPDX-License-Identifier: GPL-3.0-or-later
#include "cut/subject/graph.h"

#include <algorithm>
#include <mutex>

#include "base/module.h"

namespace zl {
namespace {

using MinCut = int (*)(int, const float*, int, const int*, const float*, std::uint8_t*);
using GrabCut = int (*)(const std::uint8_t*, int, int, std::uint8_t*, int);

template <class Function>
Function functionNamed(const char* name) {
    return reinterpret_cast<Function>(functionOfModule("zl_graph.so", name));
}

tl::unexpected<Error> missing() {
    return fail(Code::unreadable, "The part that cuts subjects out is missing.",
                "Install the application again.");
}

}  // namespace

Result<Labels> minimumCut(const Labels& known, const std::function<float(int, int)>& pull,
                          const std::function<float(int, int, int, int)>& link) {
    static const auto cut = functionNamed<MinCut>("zl_min_cut");
    if (!cut) return missing();
    Cells<int> nodes(known.size(), -1);
    std::vector<float> pulls;
    for (int y = 0; y < known.height(); ++y)
        for (int x = 0; x < known.width(); ++x)
            if (known.at(x, y) == undecided) {
                nodes.at(x, y) = static_cast<int>(pulls.size());
                pulls.push_back(pull(x, y));
            }
    std::vector<int> ends;
    std::vector<float> weights;
    ends.reserve(8 * pulls.size());
    weights.reserve(4 * pulls.size());
    constexpr int steps[4][2] = {{1, 0}, {1, 1}, {0, 1}, {-1, 1}};
    // An edge to a pixel that is known draws the other to its side.
    const auto join = [&](int x, int y, int u, int v, float weight) {
        const int one = nodes.at(x, y), other = nodes.at(u, v);
        if (one >= 0 && other >= 0) {
            ends.push_back(one);
            ends.push_back(other);
            weights.push_back(weight);
        } else if (one >= 0) {
            pulls[static_cast<std::size_t>(one)] += known.at(u, v) == ofSubject ? weight : -weight;
        } else {
            pulls[static_cast<std::size_t>(other)] +=
                known.at(x, y) == ofSubject ? weight : -weight;
        }
    };
    for (int y = 0; y < known.height(); ++y)
        for (int x = 0; x < known.width(); ++x)
            for (const auto& [dx, dy] : steps)
                if (known.holds(x + dx, y + dy) &&
                    (nodes.at(x, y) >= 0 || nodes.at(x + dx, y + dy) >= 0))
                    join(x, y, x + dx, y + dy, link(x, y, dx, dy));
    Labels out = known;
    if (pulls.empty()) return out;
    std::vector<std::uint8_t> sides(pulls.size());
    if (cut(static_cast<int>(pulls.size()), pulls.data(), static_cast<int>(weights.size()),
            ends.data(), weights.data(), sides.data()) != 0)
        return fail(Code::limitNotMet, "The subject could not be told from its ground.");
    for (std::size_t i = 0; i < out.all().size(); ++i)
        if (nodes.all()[i] >= 0) out.all()[i] = sides[static_cast<std::size_t>(nodes.all()[i])];
    return out;
}

Result<Labels> grabbed(const Straight8& picture, const Labels& start, const Labels& sure,
                       int iterations) {
    static const auto grab = functionNamed<GrabCut>("zl_grab_cut");
    if (!grab) return missing();
    std::vector<std::uint8_t> bgr, mask;
    bgr.reserve(3 * picture.pixels().size());
    bool kinds[2] = {false, false};
    for (std::size_t i = 0; i < picture.pixels().size(); ++i) {
        const std::uint32_t p = picture.pixels()[i];
        for (const int v : {blueOf(p), greenOf(p), redOf(p)})
            bgr.push_back(static_cast<std::uint8_t>(v));
        const bool subject = start.all()[i] == ofSubject;
        kinds[subject ? 1 : 0] = true;
        mask.push_back(
            static_cast<std::uint8_t>((subject ? 1 : 0) + (sure.all()[i] == undecided ? 2 : 0)));
    }
    if (!kinds[0] || !kinds[1]) return start;
    {
        // One at a time: OpenCV's random numbers are seeded for the thread, its threads for all.
        static std::mutex one;
        const std::lock_guard lock(one);
        if (grab(bgr.data(), picture.width(), picture.height(), mask.data(), iterations) != 0)
            return start;
    }
    Labels out(start.size());
    for (std::size_t i = 0; i < mask.size(); ++i) out.all()[i] = mask[i] & 1;
    return out;
}

}  // namespace zl
