// SPDX-License-Identifier: GPL-3.0-or-later
// Finishes against analytic coverage and double-precision convolution, worked out apart from the
// core with NumPy.
#include "finish/finish.h"

#include "picture/decode.h"
#include "python.h"
#include "raster/ink_box.h"

namespace zl {
namespace {

using test::good;

Ink inkIn(const test::Folder& folder, const std::string& name) {
    const Picture picture = good(decode(good(readFile(folder / name)), name));
    Ink ink;
    ink.box = PixelRect::of(picture.pixels->size());
    ink.eight = picture.pixels;
    return ink;
}

// The finished ink as an 8-bit picture of the original's size.
void write(const test::Folder& folder, const std::string& name, const Ink& ink, PixelSize size) {
    Straight8 out = Straight8::cleared(size);
    const PixelRect seen = ink.box.intersected(PixelRect::of(size));
    for (int y = seen.top; y < seen.bottom; ++y)
        for (int x = seen.left; x < seen.right; ++x) {
            const auto code = [&](int c) {
                return (ink.sixteen->row(c, y - ink.box.top)[x - ink.box.left] + 128) / 257;
            };
            out.row(y)[x] = packed(code(0), code(1), code(2), code(3));
        }
    test::put(folder, name, test::png(out));
}

// Shapes whose coverage is known: a disc, and a rectangle turned by 23 degrees. A pixel's share is
// counted over 32 x 32 points; the outline of width w covers what the shape grown by w covers (a
// turned rectangle grown by w has round corners). In the edge the mean error is at most 0.01 and
// none is more than 0.05, on every width.
TEST(Outline, AgreesWithAnalyticCoverage) {
    const test::Folder folder;
    test::python(folder, R"(
n, s = 160, 32
g = (np.arange(n * s) + 0.5) / s
X, Y = np.meshgrid(g, g)
def cover(inside):
    return inside.reshape(n, s, n, s).mean(axis=(1, 3))
def disc():
    return np.hypot(X - 80.3, Y - 79.6) - 41.7
def box():
    a = np.deg2rad(23)
    u, v = np.cos(a) * (X - 80.2) + np.sin(a) * (Y - 80.9), -np.sin(a) * (X
            - 80.2) + np.cos(a) * (Y - 80.9)
    du, dv = np.abs(u) - 47.25, np.abs(v) - 28.5
    return np.hypot(np.maximum(du, 0), np.maximum(dv, 0)) + np.minimum(np.maximum(du, dv), 0)
for name, distance in (('disc', disc()), ('box', box())):
    a = cover(distance <= 0)
    rgba = np.zeros((n, n, 4), np.uint8); rgba[..., 0] = 200; rgba[..., 3] = np.round(a * 255)
    Image.fromarray(rgba, 'RGBA').save(folder + name + '.png')
    for w in (0.5, 1, 2.5, 6, 13):
        np.save(folder + '%s-%g.npy' % (name, w), cover(distance <= w))
print('[]')
)");
    for (const char* shape : {"disc", "box"})
        for (const double w : {0.5, 1.0, 2.5, 6.0, 13.0}) {
            const Ink ink = inkIn(folder, std::string(shape) + ".png");
            const Ink rimmed = finished(ink, std::vector{outlineOf(w, {0, 0, 255, 255})},
                                        PixelRect::of(ink.box.size()));
            write(folder, "ours.png", rimmed, ink.box.size());
            char script[600];
            std::snprintf(script, sizeof script, R"(
want = np.load(folder + '%s-%g.npy'); got = np.asarray(Image.open(folder
        + 'ours.png').convert('RGBA'))[..., 3] / 255
edge = (want > 0.002) & (want < 0.998)
error = np.abs(want - got)
print(json.dumps([float(error[edge].mean()), float(error.max())]))
)",
                          shape, w);
            const auto errors = test::python(folder, script).get<std::array<double, 2>>();
            EXPECT_LE(errors[0], 0.01) << shape << " + " << w;
            EXPECT_LE(errors[1], 0.05) << shape << " + " << w;
        }
}

// CSS Backgrounds and Borders Level 3, 6.2: a blur radius b is a Gaussian of standard deviation b
// / 2. The same shape, moved and convolved in double precision over 6 standard deviations: at most
// one code value apart.
TEST(Shadow, AgreesWithAGaussianInDoublePrecision) {
    const test::Folder folder;
    test::python(folder, R"(
n = 240
Y, X = np.mgrid[0:n, 0:n] + 0.5
a = np.clip(36.5 - np.hypot(X - 110, Y - 118), 0, 1)
a[60:75, 150:200] = 1
rgba = np.zeros((n, n, 4), np.uint8); rgba[..., 3] = np.round(a * 255)
Image.fromarray(rgba, 'RGBA').save(folder + 'in.png')
print('[]')
)");
    for (const double blur : {1.0, 6.0, 24.0, 60.0}) {
        const Ink ink = inkIn(folder, "in.png");
        Finish shadow = makeFinish("shadow");
        shadow.set("dx", 7);
        shadow.set("dy", -4);
        shadow.set("blur", blur);
        shadow.set("opacity", 100);
        shadow.colour = {0, 0, 0, 255};
        write(folder, "ours.png", finished(ink, std::vector{shadow}, PixelRect::of(ink.box.size())),
              ink.box.size());
        char script[900];
        std::snprintf(script, sizeof script, R"(
a = np.asarray(Image.open(folder + 'in.png').convert('RGBA'))[..., 3] / 255.0
sigma = %g / 2; r = int(np.ceil(6 * sigma)) + 1
k = np.exp(-np.arange(-r, r + 1.0) ** 2 / (2 * sigma * sigma)); k /= k.sum()
p = np.pad(a, r + 10)
p = np.apply_along_axis(lambda v: np.convolve(v, k, 'same'), 0, p)
p = np.apply_along_axis(lambda v: np.convolve(v, k, 'same'), 1, p)
p = np.roll(p, (-4, 7), (0, 1))[r + 10:-r - 10, r + 10:-r - 10]
want = a + p * (1 - a)
got = np.asarray(Image.open(folder + 'ours.png').convert('RGBA'))[..., 3] / 255.0
print(json.dumps(float(np.abs(want - got).max() * 255)))
)",
                      blur);
        EXPECT_LE(test::python(folder, script).get<double>(), 1.0) << "blur " << blur;
    }
}

// A disc grown by w is a disc whose radius is larger by w, to a tenth of a px (plane geometry).
TEST(Outline, ReachesAsFarAsItSays) {
    const test::Folder folder;
    test::python(folder, R"(
n, s = 120, 16
g = (np.arange(n * s) + 0.5) / s
X, Y = np.meshgrid(g, g)
a = (np.hypot(X - 60, Y - 60) <= 30.4).reshape(n, s, n, s).mean(axis=(1, 3))
rgba = np.zeros((n, n, 4), np.uint8); rgba[..., 3] = np.round(a * 255)
Image.fromarray(rgba, 'RGBA').save(folder + 'in.png')
print('[]')
)");
    const Ink ink = inkIn(folder, "in.png");
    for (const double w : {3.0, 7.5, 12.25}) {
        const Ink rimmed =
            finished(ink, std::vector{outlineOf(w, {9, 9, 9, 255})}, PixelRect::of(ink.box.size()));
        double area = 0;
        for (int y = 0; y < rimmed.box.height(); ++y)
            for (int x = 0; x < rimmed.box.width(); ++x)
                area += rimmed.sixteen->row(3, y)[x] / 65535.0;
        // The radius of a disc of that area.
        EXPECT_NEAR(std::sqrt(area / std::numbers::pi), 30.4 + w, 0.1) << w;
    }
}

}  // namespace
}  // namespace zl
