// SPDX-License-Identifier: GPL-3.0-or-later
#include "picture/profile.h"

#include <lcms2.h>

#include <algorithm>
#include <cstdlib>
#include <deque>
#include <mutex>

#include "base/owned.h"

namespace zl {
namespace {

void closeProfile(cmsHPROFILE profile) {
    cmsCloseProfile(profile);
}

// All greys in steps of five, and a lattice of colours.
Straight8 samples() {
    constexpr int step = 51, perSide = 6, greys = 52;
    Straight8 out({perSide * perSide * perSide + greys, 1});
    std::uint32_t* to = out.row(0);
    for (int r = 0; r < perSide; ++r)
        for (int g = 0; g < perSide; ++g)
            for (int b = 0; b < perSide; ++b) *to++ = packed(step * r, step * g, step * b, 255);
    for (int i = 0; i < greys; ++i) *to++ = packed(5 * i, 5 * i, 5 * i, 255);
    return out;
}

bool showsTheSame(ByteView icc) {
    constexpr int allowed = 2;  // code values
    const Straight8 given = samples();
    const auto there = inProfile(given, icc);
    return there &&
           std::ranges::equal(given.pixels(), there->pixels(),
                              [](std::uint32_t one, std::uint32_t other) {
                                  return std::abs(redOf(one) - redOf(other)) <= allowed &&
                                         std::abs(greenOf(one) - greenOf(other)) <= allowed &&
                                         std::abs(blueOf(one) - blueOf(other)) <= allowed;
                              });
}

}  // namespace

// A transform of libvips' goes through a table of Lab on the way, which is off by up to 24 code
// values where a channel is near 0: Little CMS is asked itself.
std::optional<Straight8> inProfile(const Straight8& srgb, ByteView icc) {
    if (srgb.empty() || icc.empty()) return {};
    const Owned<void, closeProfile> from(cmsCreate_sRGBProfile()),
        to(cmsOpenProfileFromMem(icc.data(), static_cast<cmsUInt32Number>(icc.size())));
    if (!from || !to || cmsGetColorSpace(to.get()) != cmsSigRgbData) return {};
    const Owned<void, cmsDeleteTransform> transform(cmsCreateTransform(
        from.get(), TYPE_RGBA_8, to.get(), TYPE_RGBA_8, INTENT_RELATIVE_COLORIMETRIC,
        cmsFLAGS_COPY_ALPHA | cmsFLAGS_NOCACHE | cmsFLAGS_HIGHRESPRECALC));
    if (!transform) return {};
    Straight8 out(srgb.size());
    cmsDoTransform(transform.get(), srgb.bytes(), out.row(0),
                   static_cast<cmsUInt32Number>(srgb.pixels().size()));
    return out;
}

bool actsAsSrgb(ByteView icc) {
    // A folder of photographs has the same one or two profiles.
    struct Known {
        Bytes icc;
        bool same = false;
    };
    constexpr std::size_t most = 8;
    static std::mutex mutex;
    static std::deque<Known> known;
    {
        const std::scoped_lock lock(mutex);
        for (const Known& one : known)
            if (std::ranges::equal(one.icc, icc)) return one.same;
    }
    const bool same = showsTheSame(icc);
    const std::scoped_lock lock(mutex);
    if (known.size() == most) known.pop_front();
    known.push_back({Bytes(icc.begin(), icc.end()), same});
    return same;
}

}  // namespace zl
