// SPDX-License-Identifier: GPL-3.0-or-later
// What a piece is made of, worked out again by NumPy, SciPy and Pillow: tone, veils, turns, bars,
// gradients, blend modes.
#include "bar/bar.h"
#include "edit/edits.h"
#include "picture/decode.h"
#include "python.h"
#include "render/render.h"
#include "tone/tone.h"

namespace zl {
namespace {

using test::good;

Straight8 read(const test::Folder& folder, const std::string& name) {
    return good(decode(good(readFile(folder / name)), name)).pixels->clone();
}

Straight8 drawn(const Kit& kit) {
    InkStore store;
    return good(render({kit.pieces[0], kit}, store));
}

// A smooth picture with detail, 240 x 180, as photo.png.
constexpr const char* photo = R"(
y, x = np.mgrid[0:180, 0:240].astype(float)
r = np.random.default_rng(3)
px = np.dstack([120 + 90 * np.sin(x / 17) + 30 * np.cos(y / 9), 110 + 80 * np.sin((x + y) / 23),
        100 + 90 * np.cos(y / 31 + x / 50)])
px = np.clip(px + r.normal(0, 6, px.shape), 0, 255).round().astype(np.uint8)
Image.fromarray(px, 'RGB').save(folder + 'photo.png')
print('[]')
)";

// The formulas of tone/tone.h in double precision; each setting alone, on both sides.
TEST(ToneReference, FollowsItsFormulasInDoublePrecision) {
    const test::Folder folder;
    test::python(folder, photo);
    const Straight8 picture = read(folder, "photo.png");
    const std::pair<const char*, double Tone::*> settings[] = {{"warmth", &Tone::warmth},
                                                               {"tint", &Tone::tint},
                                                               {"brightness", &Tone::brightness},
                                                               {"contrast", &Tone::contrast},
                                                               {"saturation", &Tone::saturation}};
    for (const auto& [name, setting] : settings)
        for (const double value : {-80.0, 35.0}) {
            Tone tone;
            tone.*setting = value;
            test::put(folder, std::string(name) + (value < 0 ? "-low.png" : "-high.png"),
                      test::png(toned(picture, tone)));
        }
    const Json json = test::python(folder, R"(
v = np.array(Image.open(folder + 'photo.png')).astype(float) / 255
linear = lambda e: np.where(e <= 0.04045, e / 12.92, ((e + 0.055) / 1.055) ** 2.4)
encoded = lambda l: np.where(l <= 0.0031308, l * 12.92, 1.055 * np.clip(l, 0, None) ** (1 / 2.4)
        - 0.055)
def warmth(v, s): return np.clip(encoded(linear(v) * [2 ** (0.35 * s), 1, 2 ** (-0.35 * s)]), 0, 1)
def tint(v, s): return np.clip(encoded(linear(v) * [1, 2 ** (-0.3 * s), 1]), 0, 1)
def brightness(v, s): return v ** (2 ** -s)
def contrast(v, s): return np.where(v < 0.5, (2 * v) ** (2 ** s) / 2, 1 - (2 - 2 * v) ** (2 ** s)
        / 2)
def saturation(v, s):
    luma = (v @ [0.2126, 0.7152, 0.0722])[..., None]
    return np.clip(luma + (v - luma) * (1 + s), 0, 1)
out = {}
for f in (warmth, tint, brightness, contrast, saturation):
    for side, s in (('low', -0.8), ('high', 0.35)):
        ours = np.array(Image.open(folder + f.__name__ + '-' + side
                + '.png').convert('RGB')).astype(float)
        out[f.__name__ + ' ' + side] = float(np.abs(ours - f(v, s) * 255).max())
print(json.dumps(out))
)");
    ASSERT_EQ(json.size(), 10u);
    for (const auto& [name, worst] : json.items()) EXPECT_LE(worst.get<double>(), 1.0) << name;
}

TEST(VeilReference, CoarsePixelsAreMeansAndABlurIsAGaussian) {
    const test::Folder folder;
    test::python(folder, photo);
    const Straight8 picture = read(folder, "photo.png");
    const Veil coarse{Veil::Kind::coarse, {40, 30, 96, 64}, 16},
        blur{Veil::Kind::blur, {60, 40, 120, 100}, 12};
    test::put(folder, "coarse.png", test::png(veiled(picture, {{coarse}})));
    test::put(folder, "blur.png", test::png(veiled(picture, {{blur}})));
    const Json json = test::python(folder, R"(
from scipy.ndimage import gaussian_filter
src = np.array(Image.open(folder + 'photo.png')).astype(float)
coarse = np.array(Image.open(folder + 'coarse.png').convert('RGB')).astype(float)
part = src[30:94, 40:136].reshape(4, 16, 6, 16, 3).mean(axis=(1, 3))
means = np.abs(coarse[30:94, 40:136] - part.repeat(16, 0).repeat(16, 1)).max()
rest = src.copy(); rest[30:94, 40:136] = coarse[30:94, 40:136]
blur = np.array(Image.open(folder + 'blur.png').convert('RGB')).astype(float)
soft = np.dstack([gaussian_filter(src[..., c], 6, mode='nearest') for c in range(3)])
outside = src.copy(); outside[40:140, 60:180] = blur[40:140, 60:180]
print(json.dumps({'means': float(means), 'beside': float(np.abs(coarse - rest).max()),
        'blur': float(np.abs(blur - soft)[80:100, 100:140].max()),
                  'beside the blur': float(np.abs(blur - outside).max())}))
)");
    EXPECT_LE(json["means"].get<double>(), 0.51);
    EXPECT_EQ(json["beside"].get<double>(), 0) << "what is not hidden is untouched";
    EXPECT_LE(json["blur"].get<double>(), 1.5)
        << "CSS: the standard deviation is half of the radius";
    EXPECT_EQ(json["beside the blur"].get<double>(), 0);
}

TEST(TurnReference, AgreesWithPillowsRotation) {
    const test::Folder folder;
    test::python(folder, photo);
    Kit kit = test::withPicture(test::kitWith("free-frame", {240, 180}), read(folder, "photo.png"),
                                {0, 0, 240, 180});
    for (const double degrees : {90.0, 180.0, 270.0, 30.0, -7.5}) {
        Layer layer = kit.pieces[0].layers[0];
        layer.turn.degrees = degrees;
        test::put(folder, "turned.png", test::png(drawn(good(withChangedLayer(kit, "p", layer)))));
        const Json json = test::python(folder, "degrees = " + std::to_string(degrees) + R"(
src = Image.open(folder + 'photo.png').convert('RGB')
ours = np.array(Image.open(folder + 'turned.png').convert('RGBA')).astype(float)
square = Image.new('RGB', (240, 240)); square.paste(src, (0, 30))
theirs = np.array(square.rotate(-degrees, Image.BICUBIC)).astype(float)[30:210]
y, x = np.mgrid[0:180, 0:240] + 0.5
a = np.deg2rad(degrees)
u, v = np.cos(a) * (x - 120) + np.sin(a) * (y - 90), -np.sin(a) * (x - 120) + np.cos(a) * (y - 90)
inner = (np.abs(u) < 116) & (np.abs(v) < 86)
outer = (np.abs(u) > 122) | (np.abs(v) > 92)
d = np.abs(ours[..., :3] - theirs)[inner]
print(json.dumps({'mean': float(d.mean()), 'solid': float(ours[..., 3][inner].min()),
        'empty': float(ours[..., 3][outer].max()) if outer.any() else 0}))
)");
        EXPECT_LE(json["mean"].get<double>(), std::fmod(degrees, 90) == 0 ? 0.01 : 2.5) << degrees;
        EXPECT_EQ(json["solid"].get<double>(), 255) << degrees;
        EXPECT_EQ(json["empty"].get<double>(), 0) << degrees;
    }
}

// Bars by counting 16 x 16 points a pixel.
TEST(BarReference, CoverWhatIsCounted) {
    const test::Folder folder;
    const auto put = [&](const char* name, BarShape shape,
                         const std::function<void(BarLayer&)>& change) {
        Layer layer;
        layer.name = "Bar";
        BarLayer bar;
        bar.shape = shape;
        bar.place = {20.25, 14.5, 140.5, 80.25};
        bar.colour = {255, 255, 255, 255};
        change(bar);
        layer.what = bar;
        test::put(
            folder, name,
            test::png(drawn(good(withLayer(test::kitWith("free-frame", {180, 120}), "p", layer)))));
    };
    put("rectangle.png", BarShape::rectangle, [](BarLayer&) {});
    put("rounded.png", BarShape::rounded, [](BarLayer& b) { b.radius = 23; });
    put("ellipse.png", BarShape::ellipse, [](BarLayer&) {});
    put("fade.png", BarShape::rectangle, [](BarLayer& b) {
        b.place = {0, 0, 180, 120};
        b.colour = {20, 200, 90, 255};
        b.fade = Colour{220, 40, 10, 255};
    });
    const Json json = test::python(folder, R"(
s, w, h = 16, 180, 120
X, Y = np.meshgrid((np.arange(w * s) + 0.5) / s, (np.arange(h * s) + 0.5) / s)
cx, cy, hw, hh = 20.25 + 70.25, 14.5 + 40.125, 70.25, 40.125
u, v = np.abs(X - cx), np.abs(Y - cy)
shapes = {'rectangle': (u <= hw) & (v <= hh), 'ellipse': (u / hw) ** 2 + (v / hh) ** 2 <= 1,
          'rounded': np.hypot(np.maximum(u - hw + 23, 0), np.maximum(v - hh + 23, 0)) <= 23}
out = {}
for name, inside in shapes.items():
    cover = inside.reshape(h, s, w, s).mean(axis=(1, 3))
    a = np.array(Image.open(folder + name + '.png').convert('RGBA'))[..., 3] / 255
    edge = (cover > 0) & (cover < 1)
    out[name] = [float(np.abs(a - cover)[edge].mean()), float(np.abs(a - cover)[~edge].max())]
fade = np.array(Image.open(folder + 'fade.png').convert('RGB')).astype(float)
t = ((np.arange(180) + 0.5) / 180)[:, None]
line = np.array([20, 200, 90]) * (1 - t) + np.array([220, 40, 10]) * t
out['fade'] = [float(np.abs(fade - line[None]).max()), 0]
print(json.dumps(out))
)");
    for (const char* shape : {"rectangle", "rounded", "ellipse"}) {
        // Cairo's own grid has 15 lines a pixel.
        EXPECT_LE(json[shape][0].get<double>(), 0.025) << shape;
        EXPECT_LE(json[shape][1].get<double>(), 0.009) << shape;
    }
    EXPECT_LE(json["fade"][0].get<double>(), 1.5);
}

TEST(BlendReference, MultiplyAndScreenOfSolidPicturesAreThoseOfPillow) {
    const test::Folder folder;
    test::python(folder, std::string(photo) + R"(
Image.fromarray(np.roll(px, 71, axis=1)[::-1].copy(), 'RGB').save(folder + 'other.png')
)");
    Kit kit = test::withPicture(test::kitWith("free-frame", {240, 180}), read(folder, "photo.png"),
                                {0, 0, 240, 180});
    kit = test::withPicture(kit, read(folder, "other.png"), {0, 0, 240, 180}, "other.png");
    for (const auto& [name, blend] :
         {std::pair{"multiply", Blend::multiply}, std::pair{"screen", Blend::screen}}) {
        Layer layer = kit.pieces[0].layers[1];
        layer.blend = blend;
        test::put(folder, std::string(name) + ".png",
                  test::png(drawn(good(withChangedLayer(kit, "p", layer)))));
    }
    const Json json = test::python(folder, R"(
from PIL import ImageChops
a, b = Image.open(folder + 'photo.png'), Image.open(folder + 'other.png')
off = lambda name, theirs: float(np.abs(np.array(Image.open(folder
        + name).convert('RGB')).astype(float) - np.array(theirs)).max())
print(json.dumps({'multiply': off('multiply.png', ImageChops.multiply(a, b)),
        'screen': off('screen.png', ImageChops.screen(a, b))}))
)");
    EXPECT_LE(json["multiply"].get<double>(), 1);  // both round once; Pillow's is whole numbers
    EXPECT_LE(json["screen"].get<double>(), 1);
}

}  // namespace
}  // namespace zl
