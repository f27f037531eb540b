// SPDX-License-Identifier: GPL-3.0-or-later
// Cut-outs of pictures that other libraries made and encoded, measured by NumPy: the whole way from
// a JPEG file to a PNG file.
#include "cut/edge_scan.h"
#include "picture/decode.h"
#include "python.h"
#include "raster/components.h"

namespace zl {
namespace {

using test::good;
using test::zledge;

const char* const scenes = R"(
n, s = 240, 8
g = (np.arange(n * s) + 0.5) / s
X, Y = np.meshgrid(g, g)
inside = (np.hypot(X - 70.3, Y - 80.7) < 47.2) | ((np.hypot(X - 165.4, Y - 75.2) < 50.1)
        & (np.hypot(X - 165.4, Y - 75.2) > 27.6))
a = np.deg2rad(19)
u, v = np.cos(a) * (X - 120) + np.sin(a) * (Y - 185), -np.sin(a) * (X - 120) + np.cos(a) * (Y - 185)
inside |= (np.abs(u) < 80.4) & (np.abs(v) < 22.3)
alpha = inside.reshape(n, s, n, s).mean(axis=(1, 3))
def mixed(F, B): return np.round(alpha[..., None] * np.array(F) + (1 - alpha[..., None])
        * np.array(B)).astype(np.uint8)
)";

// Bounds as the key promises them for each kind of source (docs/edges.md); the scenes, the JPEGs
// (Pillow's encoder) and the error measure are made apart from the core. The band is the true edge
// and one pixel to either side.
TEST(KeyReference, HoldsItsBoundsOnPicturesOfAnotherEncoder) {
    const test::Folder folder;
    test::python(folder, std::string(scenes) + R"(
for name, F, B, save in (
        ('w0', (30, 60, 90), (255, 255, 255), None), ('g0', (30, 30, 40), (0, 177, 64), None),
        ('w444', (30, 60, 90), (255, 255, 255), 0), ('w420', (30, 60, 90), (255, 255, 255), 2),
        ('r420', (200, 30, 40), (255, 255, 255), 2), ('l420', (196, 198, 200), (255, 255, 255), 2),
        ('g444', (30, 30, 40), (0, 177, 64), 0), ('g420', (30, 30, 40), (0, 177, 64), 2)):
    im = Image.fromarray(mixed(F, B), 'RGB')
    if save is None: im.save(folder + name + '.png')
    else:
        im.save(folder + name + '.jpg', quality=90, subsampling=save)
        # A JPEG may come as a PNG.
        if name == 'w420': Image.open(folder + name + '.jpg').save(folder + 'p420.png')
print('[]')
)");
    const std::vector<std::tuple<std::string, std::string, double, double>> cases{
        {"w0.png", "30,60,90", 0.001, 0.5},      {"g0.png", "30,30,40", 0.001, 0.5},
        {"w444.jpg", "30,60,90", 0.012, 4.5},    {"w420.jpg", "30,60,90", 0.012, 4.5},
        {"p420.png", "30,60,90", 0.012, 4.5},    {"r420.jpg", "200,30,40", 0.012, 4.5},
        {"l420.jpg", "196,198,200", 0.036, 8.5}, {"g444.jpg", "30,30,40", 0.022, 5.0},
        {"g420.jpg", "30,30,40", 0.035, 9.5}};
    for (const auto& [file, ink, alphaBound, colourBound] : cases) {
        SCOPED_TRACE(file);
        zledge(folder, "cut " + file + " --key auto --reach everywhere --out out-" + file + ".png");
        const Json errors = test::python(folder, std::string(scenes) + R"(
F = np.array([)" + ink + R"(], float)
im = np.asarray(Image.open(folder + 'out-)" + file + R"(.png').convert('RGBA')).astype(float)
edge = (alpha > 0) & (alpha < 1)
band = np.zeros_like(edge)
for dy in (-1, 0, 1):
    for dx in (-1, 0, 1): band |= np.roll(np.roll(edge, dy, 0), dx, 1)
got = im[..., 3] / 255
ea = np.abs(got - alpha)[band].mean()
a, g = alpha[..., None], got[..., None]
ec = np.mean([np.abs(a * F + (1 - a) * b - g * im[..., :3] - (1 - g) * b)[band].mean()
              for b in (0, 255)])
print(json.dumps([float(ea), float(ec)]))
)");
        EXPECT_LE(errors[0].get<double>(), alphaBound);
        EXPECT_LE(errors[1].get<double>(), colourBound);
    }
}

// Written files are whole for libpng's own checker (pngcheck) and for an independent decoder.
TEST(KeyReference, WritesPngsThatOthersRead) {
    const test::Folder folder;
    test::python(folder, std::string(scenes) +
                             "Image.fromarray(mixed((30, 60, 90), (255, 255, 255)), "
                             "'RGB').save(folder + 'a.png')\nprint('[]')");
    zledge(folder, "cut a.png --key auto --trim 4 --out cut.png");
    EXPECT_EQ(::system(("pngcheck -q '" + (folder / "cut.png").string() + "'").c_str()), 0);
    const Json seen =
        test::python(folder,
                     "im = Image.open(folder + 'cut.png')\nprint(json.dumps([im.mode, im.size[0], "
                     "im.size[1]]))");
    const Picture ours = good(decode(good(readFile(folder / "cut.png")), "cut.png"));
    EXPECT_EQ(seen[0], "RGBA");
    EXPECT_EQ(seen[1], ours.facts.size.width);
    EXPECT_EQ(seen[2], ours.facts.size.height);
}

// Kinds of file that others write: a palette with alpha, 16 bit, grey, grey with alpha, one-bit
// alpha. Each is keyed and read, the same disc comes out.
TEST(KeyReference, TakesPalettesSixteenBitAndGrey) {
    const test::Folder folder;
    test::python(folder, R"(
Y, X = np.mgrid[0:80, 0:100]
a = np.clip(30.5 - np.hypot(X + .5 - 50, Y + .5 - 40), 0, 1)
grey = np.round(40 * a + 255 * (1 - a)).astype(np.uint8)
Image.fromarray(grey, 'L').save(folder + 'grey.png')
Image.fromarray((grey.astype(np.uint16) * 257), 'I;16').save(folder + 'deep.png')
Image.fromarray(grey, 'L').convert('P').save(folder + 'palette.png')
la = np.dstack([np.full_like(grey, 40), np.round(255 * a).astype(np.uint8)])
Image.fromarray(la, 'LA').save(folder + 'la.png')
rgba = np.dstack([np.full_like(grey, 40)] * 3 + [np.round(255 * a).astype(np.uint8)])
Image.fromarray(rgba, 'RGBA').quantize(64).save(folder + 'pa.png')
Image.fromarray(rgba, 'RGBA').save(folder + 'one.gif')
print('[]')
)");
    const auto inkOf = [&](const std::string& name) {
        const Picture picture = good(decode(good(readFile(folder / name)), name));
        double sum = 0;
        for (const std::uint32_t p : picture.pixels->pixels()) sum += alphaOf(p) / 255.0;
        return sum;
    };
    constexpr double area = 3.14159265 * 30 * 30;
    for (const char* name : {"grey.png", "deep.png", "palette.png"}) {
        zledge(folder, std::string("cut ") + name + " --key auto --out out-" + name);
        EXPECT_NEAR(inkOf(std::string("out-") + name), area, area * 0.005) << name;
    }
    for (const char* name : {"la.png", "pa.png", "one.gif"}) {
        EXPECT_NEAR(inkOf(name), area, area * 0.03)
            << name;  // one bit of alpha counts whole pixels
        // A border that is see-through leaves nothing to key: said, and nothing is written.
        const int status =
            ::system(("cd '" + folder.path().string() + "' && '" + test::zledgeProgram() +
                      "' cut " + name + " --key auto --out no.png 2>.err")
                         .c_str());
        EXPECT_EQ(WEXITSTATUS(status), 1) << name;
        EXPECT_NE(test::textOf(good(readFile(folder / ".err"))).find("see-through already"),
                  std::string::npos);
        const int edges = ::system(("cd '" + folder.path().string() + "' && '" +
                                    test::zledgeProgram() + "' edges " + name + " >.out")
                                       .c_str());
        EXPECT_EQ(WEXITSTATUS(edges), std::string(name) == "one.gif" ? 1 : 0)
            << name << ": alpha of one bit is stepped";
    }
}

// Circles against coverage counted over 64 x 64 points a pixel by NumPy: every pixel within 2/255.
TEST(ShapeReference, CirclesAgreeWithCountedCoverage) {
    const test::Folder folder;
    test::put(
        folder, "flat.png",
        test::png(test::painted({100, 90}, [](int, int) { return packed(20, 90, 160, 255); })));
    zledge(folder, "cut flat.png --circle 48.3,44.75,37.6 --out circle.png");
    const Json off = test::python(folder, R"(
s = 64
gx, gy = (np.arange(100 * s) + 0.5) / s, (np.arange(90 * s) + 0.5) / s
inside = ((gx[None, :] - 48.3) ** 2 + (gy[:, None] - 44.75) ** 2) <= 37.6 ** 2
truth = inside.reshape(90, s, 100, s).mean(axis=(1, 3)) * 255
got = np.asarray(Image.open(folder + 'circle.png').convert('RGBA'))[..., 3].astype(float)
print(json.dumps([float(np.abs(got - truth).max()), float(got.sum() / 255 / (np.pi * 37.6 ** 2))]))
)");
    EXPECT_LE(off[0].get<double>(), 2);
    EXPECT_NEAR(off[1].get<double>(), 1, 0.0005);
}

// Depth in the ink is erosion: by a 3 x 3 square where the nearest clear centre is at least 1.5 px
// away, by 5 x 5 at 2.9 px.
TEST(DepthReference, AgreesWithErosion) {
    const test::Folder folder;
    const Json eroded = test::python(folder, R"(
from skimage.morphology import binary_erosion
rng = np.random.default_rng(11)
mask = rng.random((50, 70)) < 0.97
Image.fromarray(np.dstack([np.full(mask.shape, 90, np.uint8)] * 3 + [np.where(mask, 255,
        12).astype(np.uint8)]), 'RGBA').save(folder + 'm.png')
print(json.dumps([binary_erosion(mask, np.ones((n, n), bool))[3:-3, 3:-3].astype(int).tolist()
        for n in (3, 5)]))
)");
    const Picture picture = good(decode(good(readFile(folder / "m.png")), "m.png"));
    int deep = 0;
    for (int y = 3; y < 47; ++y)
        for (int x = 3; x < 67; ++x)
            for (const bool deeper : {false, true}) {
                const bool truth = eroded[deeper ? 1 : 0][static_cast<std::size_t>(y - 3)]
                                         [static_cast<std::size_t>(x - 3)]
                                             .get<int>() != 0;
                ASSERT_EQ(isDeep(*picture.pixels, x, y, deeper), truth)
                    << x << ' ' << y << ' ' << deeper;
                deep += truth;
            }
    EXPECT_GT(deep, 1000);
}

// Components against scikit-image's labels, on noise of several densities.
TEST(ComponentsReference, AgreeWithScikitImage) {
    const test::Folder folder;
    const Json labels = test::python(folder, R"(
from skimage.measure import label
out = []
rng = np.random.default_rng(5)
for density in (0.05, 0.4, 0.6, 0.9):
    mask = rng.random((61, 83)) < density
    row = [mask.astype(int).ravel().tolist()]
    for connectivity in (1, 2):
        found = label(mask, connectivity=connectivity)
        row.append(sorted(np.bincount(found.ravel())[1:].tolist()))
    out.append(row)
print(json.dumps(out))
)");
    for (const auto& row : labels) {
        const auto mask = row[0].get<std::vector<int>>();
        for (const auto& [neighbours, index] :
             {std::pair{Neighbours::four, 1u}, std::pair{Neighbours::eight, 2u}}) {
            const Components ours({83, 61}, neighbours, [&](int x, int y) {
                return mask[static_cast<std::size_t>(y * 83 + x)] != 0;
            });
            std::vector<long long> sizes;
            for (const auto& component : ours.all()) sizes.push_back(component.pixels);
            std::sort(sizes.begin(), sizes.end());
            EXPECT_EQ(sizes, row[index].get<std::vector<long long>>());
        }
    }
}

}  // namespace
}  // namespace zl
