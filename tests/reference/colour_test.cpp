// SPDX-License-Identifier: GPL-3.0-or-later
// Colour science against published numbers and an independent library.
#include "colour/colour.h"

#include <random>

#include "colour/colour_rows.h"
#include "colour/sight.h"
#include "encode/difference.h"
#include "picture/decode.h"
#include "python.h"

namespace zl {
namespace {

using test::good;

// G. Sharma, W. Wu and E. N. Dalal, "The CIEDE2000 color-difference formula: implementation notes,
// supplementary test data, and mathematical observations", Color Research and Application 30
// (2005), table 1: 34 pairs. The numbers are read from the copy that scikit-image ships: pair, 1, L
// a b ..., 2, L a b ..., the difference last on the first line.
TEST(Ciede2000, TheThirtyFourPairsOfSharmaWuAndDalal) {
    const test::Folder folder;
    const Json pairs = test::python(folder, R"(
import skimage.color, os
rows = np.loadtxt(os.path.join(os.path.dirname(skimage.color.__file__), 'tests',
        'ciede2000_test_data.txt'), dtype=[
    ('pair', int), ('1', int), ('L1', float), ('a1', float), ('b1', float), ('a1_prime',
            float), ('C1_prime', float), ('h1_prime', float),
    ('hbar_prime', float), ('G', float), ('T', float), ('SL', float), ('SC', float), ('SH',
            float), ('RT', float), ('dE', float),
    ('2', int), ('L2', float), ('a2', float), ('b2', float), ('a2_prime', float), ('C2_prime',
            float), ('h2_prime', float)])
print(json.dumps([[float(r[k]) for k in ('L1', 'a1', 'b1', 'L2', 'a2', 'b2', 'dE')] for r in rows]))
)");
    ASSERT_EQ(pairs.size(), 34u);
    for (std::size_t i = 0; i < pairs.size(); ++i) {
        const auto v = pairs[i].get<std::array<double, 7>>();
        const Lab one{v[0], v[1], v[2]}, two{v[3], v[4], v[5]};
        EXPECT_NEAR(differenceCie2000(one, two), v[6], 0.00005) << "pair " << i + 1;
        EXPECT_NEAR(differenceCie2000(two, one), v[6], 0.00005)
            << "pair " << i + 1 << " the other way round";
    }
}

// IEC 61966-2-1: the two branches meet at 0.04045 / 0.0031308; L* of 18 % grey is 49.5 (CIE 15,
// worked by hand: 116 x 0.18^(1/3) - 16 = 49.496).
TEST(Srgb, FollowsIec61966) {
    EXPECT_NEAR(linearFromEncoded(0.04045), 0.04045 / 12.92, 1e-12);
    EXPECT_NEAR(linearFromEncoded(0.5), std::pow((0.5 + 0.055) / 1.055, 2.4), 1e-15);
    EXPECT_NEAR(encodedFromLinear(0.0031308), 0.04045, 1e-5);
    for (int i = 0; i <= 255; ++i)
        EXPECT_NEAR(encodedFromLinear(linearFromEncoded(i / 255.0)) * 255, i, 1e-3)
            << i;  // the standard's constants are rounded
    EXPECT_NEAR(labOf(255, 255, 255).l, 100, 1e-9);
    EXPECT_NEAR(labOf(255, 255, 255).a, 0, 1e-9);
    const double grey = encodedFromLinear(0.18) * 255;
    EXPECT_NEAR(labOf(grey, grey, grey).l, 49.496, 0.001);
}

// The tables of Machado, Oliveira and Fernandes 2009 as colorspacious ships them, on linear light,
// at severity 100. It does not cut off what leaves the range; this is done here.
TEST(Sight, FollowsTheTablesOfMachadoOliveiraAndFernandes) {
    const test::Folder folder;
    const Json rows = test::python(folder, R"(
from colorspacious import cspace_convert
rng = np.random.default_rng(9)
codes = rng.integers(0, 256, (400, 3))
out = []
for kind in ('protanomaly', 'deuteranomaly', 'tritanomaly'):
    space = {'name': 'sRGB1+CVD', 'cvd_type': kind, 'severity': 100}
    seen = np.clip(cspace_convert(codes / 255.0, space, 'sRGB1'), 0, 1)
    lab = cspace_convert(seen, 'sRGB1', 'CIELab')
    out.append([[int(v) for v in c] + [float(v) for v in l] for c, l in zip(codes, lab)])
print(json.dumps(out))
)");
    const std::array sights{Sight::withoutLong, Sight::withoutMiddle, Sight::withoutShort};
    for (std::size_t i = 0; i < sights.size(); ++i)
        for (const Json& row : rows[i]) {
            const auto v = row.get<std::array<double, 6>>();
            const Lab seen = labSeenBy(sights[i], v[0], v[1], v[2]);
            // The white points differ in their fourth place.
            EXPECT_NEAR(seen.l, v[3], 0.05) << row;
            EXPECT_NEAR(seen.a, v[4], 0.05) << row;
            EXPECT_NEAR(seen.b, v[5], 0.05) << row;
        }
}

// In a room with a twentieth of white: colorspacious for the sight, scikit-image for CIEDE2000.
TEST(Sight, DifferencesAreThoseOfTwoOtherLibraries) {
    const test::Folder folder;
    const Json rows = test::python(folder, R"(
from colorspacious import cspace_convert
from skimage.color import rgb2lab, deltaE_ciede2000
rng = np.random.default_rng(11)
def linear(v): return np.where(v <= 0.04045, v / 12.92, ((v + 0.055) / 1.055) ** 2.4)
def coded(v): return np.where(v <= 0.0031308, 12.92 * v, 1.055 * v ** (1 / 2.4) - 0.055)
out = []
for one, two in rng.integers(0, 256, (100, 2, 3)):
    row = [int(v) for v in one] + [int(v) for v in two]
    for kind in (None, 'protanomaly', 'deuteranomaly', 'tritanomaly'):
        both = np.stack([one, two]) / 255.0
        if kind:
            space = {'name': 'sRGB1+CVD', 'cvd_type': kind, 'severity': 100}
            both = np.clip(cspace_convert(both, space, 'sRGB1'), 0, 1)
        lab = rgb2lab(coded((linear(both) + 0.05) / 1.05)[None])[0]
        row.append(float(deltaE_ciede2000(lab[0], lab[1])))
        if not kind:
            lab[:, 0] = lab[:, 0].mean()
            row.append(float(deltaE_ciede2000(lab[0], lab[1])))
    out.append(row)
print(json.dumps(out))
)");
    for (const Json& row : rows) {
        const auto v = row.get<std::array<double, 11>>();
        const auto pixel = [&](std::size_t at) {
            return packed(static_cast<int>(v[at]), static_cast<int>(v[at + 1]),
                          static_cast<int>(v[at + 2]), 255);
        };
        const std::uint32_t one = pixel(0), two = pixel(3);
        EXPECT_NEAR(differenceSeenBy(Sight::full, one, two), v[6], 0.05) << row;
        EXPECT_NEAR(differenceSeenBy(Sight::full, one, two, true), v[7], 0.05) << row;
        EXPECT_NEAR(differenceSeenBy(Sight::withoutLong, one, two), v[8], 0.05) << row;
        EXPECT_NEAR(differenceSeenBy(Sight::withoutMiddle, one, two), v[9], 0.05) << row;
        EXPECT_NEAR(differenceSeenBy(Sight::withoutShort, one, two), v[10], 0.05) << row;
    }
}

// The rows in float against the formula in double precision, over neighbours, strangers, opposite
// hues and greys.
TEST(Ciede2000, RowsOfPixelsAgreeWithTheFormula) {
    std::mt19937 random(5);
    std::uniform_int_distribution<int> code(0, 255), near(-6, 6);
    std::vector<std::uint32_t> one, two;
    const auto about = [&](int v) { return std::clamp(v + near(random), 0, 255); };
    for (int i = 0; i < 20'003; ++i) {
        const int r = code(random), g = code(random), b = code(random);
        one.push_back(packed(r, g, b, 255));
        two.push_back(i % 3 == 0   ? packed(code(random), code(random), code(random), 255)
                      : i % 3 == 1 ? packed(about(r), about(g), about(b), 255)
                                   : packed(255 - r, 255 - g, 255 - b, 255));
    }
    for (const int grey : {0, 1, 127, 255}) {
        one.push_back(packed(grey, grey, grey, 255));
        two.push_back(packed(255, grey, 0, 255));
    }
    const auto count = static_cast<int>(one.size());
    std::vector<float> l1(one.size()), a1(l1), b1(l1), l2(l1), a2(l1), b2(l1), out(l1);
    labRow(one.data(), count, l1.data(), a1.data(), b1.data());
    labRow(two.data(), count, l2.data(), a2.data(), b2.data());
    differenceRow({l1.data(), a1.data(), b1.data()}, {l2.data(), a2.data(), b2.data()}, count,
                  out.data());
    double worst = 0, worstLab = 0;
    for (std::size_t i = 0; i < one.size(); ++i) {
        const Lab p = labOf(redOf(one[i]), greenOf(one[i]), blueOf(one[i])),
                  q = labOf(redOf(two[i]), greenOf(two[i]), blueOf(two[i]));
        worstLab = std::max(
            {worstLab, std::abs(p.l - l1[i]), std::abs(p.a - a1[i]), std::abs(p.b - b1[i])});
        worst = std::max(worst, std::abs(differenceCie2000(p, q) - out[i]));
    }
    EXPECT_LT(worstLab, 0.001);
    EXPECT_LT(worst, 0.005);
}

TEST(Srgb, LabAgreesWithAnIndependentLibrary) {
    const test::Folder folder;
    const Json theirs = test::python(folder, R"(
from skimage.color import rgb2lab
c = np.array([[[r, g, b] for r in range(0, 256, 51) for g in range(0, 256, 51) for b in range(0,
        256, 51)]], dtype=np.uint8)
print(json.dumps(rgb2lab(c)[0].tolist()))
)");
    std::size_t i = 0;
    for (int r = 0; r < 256; r += 51)
        for (int g = 0; g < 256; g += 51)
            for (int b = 0; b < 256; b += 51) {
                const Lab lab = labOf(r, g, b);
                const auto t = theirs[i++].get<std::array<double, 3>>();
                // Their matrix has more digits than the standard's four.
                EXPECT_NEAR(lab.l, t[0], 0.02);
                EXPECT_NEAR(lab.a, t[1], 0.06);
                EXPECT_NEAR(lab.b, t[2], 0.06);
            }
}

// WCAG 2.2, relative luminance and contrast ratio; that #777777 on white is 4.48 : 1 is common
// practice's worked example.
TEST(Contrast, FollowsWcag) {
    const double white = relativeLuminance(255, 255, 255), black = relativeLuminance(0, 0, 0),
                 grey = relativeLuminance(0x77, 0x77, 0x77);
    EXPECT_NEAR(contrastRatio(white, black), 21, 1e-9);
    EXPECT_NEAR(contrastRatio(grey, white), 4.48, 0.005);
    EXPECT_EQ(contrastRatio(white, grey), contrastRatio(grey, white));
}

// SSIM: Wang, Bovik, Sheikh and Simoncelli 2004, with the paper's settings; the photographs are
// scikit-image's.
TEST(Ssim, AgreesWithAnIndependentLibrary) {
    const test::Folder folder;
    const Json theirs = test::python(folder, R"(
import skimage, os
from skimage.metrics import structural_similarity
from skimage.color import rgb2lab, deltaE_ciede2000
out = []
for name in ('astronaut.png', 'coffee.png'):
    picture = Image.open(os.path.join(os.path.dirname(skimage.__file__), 'data',
            name)).convert('RGB')
    picture.save(folder + name)
    for quality in (20, 75, 95):
        file = '%s%s-%d.jpg' % (folder, name, quality)
        picture.save(file, quality=quality)
        a, b = np.asarray(picture), np.asarray(Image.open(file))
        Image.fromarray(b).save(file + '.png')
        s = structural_similarity(a, b, gaussian_weights=True, sigma=1.5,
                use_sample_covariance=False, channel_axis=2, data_range=255)
        d = np.percentile(deltaE_ciede2000(rgb2lab(a), rgb2lab(b)), 99, method='inverted_cdf')
        out.append([name, quality, float(s), float(d)])
print(json.dumps(out))
)");
    ASSERT_EQ(theirs.size(), 6u);
    for (const auto& row : theirs) {
        const std::string name = row[0],
                          file = name + "-" + std::to_string(row[1].get<int>()) + ".jpg.png";
        const Picture a = good(decode(good(readFile(folder / name)), name)),
                      b = good(decode(good(readFile(folder / file)), file));
        const Difference ours = difference(*a.pixels, *b.pixels);
        EXPECT_NEAR(ours.ssim, row[2].get<double>(), 1e-5) << file;
        EXPECT_NEAR(ours.de00P99, row[3].get<double>(), 0.02) << file;
    }
}

}  // namespace
}  // namespace zl
