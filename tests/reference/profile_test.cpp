// SPDX-License-Identifier: GPL-3.0-or-later
// Profiles (ICC.1) against their own numbers.
#include <gtest/gtest.h>

#include <cmath>

#include "differences.h"
#include "picture/decode.h"
#include "picture/profile.h"
#include "python.h"
#include "wide_profile.h"

namespace zl {
namespace {

using test::good;

// A profile is judged by what it does. All three call themselves sRGB: the library's own; the same
// with a tone curve that is straight (ICC.1:2010, 10.16: function 3), as renderers write it; and
// one of another name, which does nothing else than sRGB does.
TEST(ProfileReference, IsWhatItDoes) {
    const test::Folder folder;
    test::python(folder, R"(
from PIL import ImageCms
import struct
picture = Image.fromarray(np.tile(np.arange(256, dtype=np.uint8)[None, :, None], (4, 1, 3)))
own = ImageCms.ImageCmsProfile(ImageCms.createProfile('sRGB')).tobytes()
assert b'para' in own
curve = b'para\0\0\0\0\0\x03\0\0'
straight, at = own, own.find(curve)
while at >= 0:
    at += len(curve)
    straight = straight[:at] + struct.pack('>5i', 65536, 65536, 0, 65536, 0) + straight[at + 20:]
    at = straight.find(curve, at)
assert straight != own
renamed = own.replace('sRGB'.encode('utf-16-be'), 'qQQQ'.encode('utf-16-be'))
assert renamed != own
for name, icc in (('own', own), ('straight', straight), ('renamed', renamed)):
    picture.save(folder + name + '.png', icc_profile=icc)
print('[]')
)");
    for (const std::string name : {"own", "straight", "renamed"}) {
        const Picture read = good(decode(good(readFile(folder / (name + ".png"))), name));
        const bool same = name != "straight";
        EXPECT_EQ(read.facts.profileIsSrgb, same) << name;
        for (int v = 0; v < 256; ++v) {
            // IEC 61966-2-1.
            const double light = v / 255.0, shown = light <= 0.0031308
                                                        ? 12.92 * light
                                                        : 1.055 * std::pow(light, 1 / 2.4) - 0.055;
            EXPECT_NEAR(greenOf(read.pixels->row(1)[v]), same ? v : 255 * shown, same ? 0 : 1.01)
                << name << ' ' << v;
        }
    }
}

// Of a profile of three colorants and a gamma, in double precision: sRGB's light (IEC 61966-2-1),
// its primaries brought to D50 by Bradford's matrix (ICC.1:2010, annex E), the profile's colorants
// taken out, its gamma.
TEST(ProfileReference, ColoursAreBroughtIntoItAsItsNumbersSay) {
    const test::Folder folder;
    test::python(folder, test::wideProfile + std::string(R"(
open(folder + 'wide.icc', 'wb').write(icc)
steps = np.arange(0, 256, 15)
given = np.stack(np.meshgrid(steps, steps, steps), -1).reshape(len(steps) ** 2, len(steps), 3)
c = given / 255.0
light = np.where(c <= 0.04045, c / 12.92, ((c + 0.055) / 1.055) ** 2.4)
corners = np.array([[0.64, 0.33], [0.30, 0.60], [0.15, 0.06], [0.3127, 0.3290]])
xyz = np.stack([corners[:, 0] / corners[:, 1], np.ones(4), (1 - corners.sum(1)) / corners[:, 1]], 1)
srgb = xyz[:3].T * np.linalg.solve(xyz[:3].T, xyz[3])
bradford = np.array([[0.8951, 0.2664, -0.1614], [-0.7502, 1.7135, 0.0367],
                     [0.0389, -0.0685, 1.0296]])
scale = (bradford @ [0.9642, 1, 0.8249]) / (bradford @ xyz[3])
adapted = np.linalg.inv(bradford) @ np.diag(scale) @ bradford @ srgb
there = light @ (np.linalg.inv(np.array(colorants).T) @ adapted).T
exact = np.clip(there, 0, 1) ** (256 / int(2.2 * 256)) * 255
Image.fromarray(given.astype(np.uint8)).save(folder + 'given.png')
Image.fromarray(np.rint(exact).astype(np.uint8)).save(folder + 'exact.png')
print('[]')
)"));
    const auto read = [&](const char* name) {
        return good(decode(good(readFile(folder / name)), name)).pixels;
    };
    const auto ours = inProfile(*read("given.png"), good(readFile(folder / "wide.icc")));
    ASSERT_TRUE(ours);
    // Where a channel is nearly 0 a gamma is so steep that the last digits of the numbers above
    // count: twenty of 5,832 colours are off by 2.
    EXPECT_LE(test::worstDifference(*ours, *read("exact.png")), 2);
    EXPECT_FALSE(actsAsSrgb(good(readFile(folder / "wide.icc"))));
    EXPECT_FALSE(inProfile(*ours, test::bytesOf("no profile")));
}

}  // namespace
}  // namespace zl
