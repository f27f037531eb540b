// SPDX-License-Identifier: GPL-3.0-or-later
// Pictures in and out against independent decoders and resamplers.
#include <cmath>
#include <numeric>
#include <random>

#include "differences.h"
#include "encode/fit.h"
#include "lettering/lettering.h"
#include "picture/decode.h"
#include "python.h"
#include "raster/resample.h"

namespace zl {
namespace {

using test::good;
using test::put;

double psnr(const Straight8& one, const Straight8& two) {
    double sum = 0;
    for (std::size_t i = 0; i < one.pixels().size(); ++i)
        for (const int shift : {0, 8, 16, 24}) {
            const double d = static_cast<double>(one.pixels()[i] >> shift & 255u) -
                             static_cast<double>(two.pixels()[i] >> shift & 255u);
            sum += d * d;
        }
    const double mean = sum / (4.0 * static_cast<double>(one.pixels().size()));
    return mean == 0 ? 1000 : 10 * std::log10(255.0 * 255.0 / mean);
}

Straight8 pictureIn(const test::Folder& folder, const std::string& name) {
    return good(decode(good(readFile(folder / name)), name)).pixels->clone();
}

// The same kernel (Lanczos, a = 3) and the same real-valued box as Pillow's resize.
TEST(Crop, AgreesWithPillow) {
    const test::Folder folder;
    test::python(folder, R"(
import skimage, os
picture = Image.open(os.path.join(os.path.dirname(skimage.__file__), 'data',
        'astronaut.png')).convert('RGB')
picture.save(folder + 'in.png')
for i, (box, size) in enumerate([((0, 112, 512, 400), (1280, 720)), ((3.5, 100.25, 510.5, 385.4375),
        (320, 180)), ((20, 30, 420, 430), (150, 150)), ((0, 0, 512, 288), (168, 94))]):
    picture.resize(size, Image.LANCZOS, box=box).save(folder + 'out%d.png' % i)
print('[]')
)");
    const auto in = std::make_shared<const Straight8>(pictureIn(folder, "in.png"));
    const std::pair<RealRect, PixelSize> cases[] = {{{0, 112, 512, 288}, {1280, 720}},
                                                    {{3.5, 100.25, 507, 285.1875}, {320, 180}},
                                                    {{20, 30, 400, 400}, {150, 150}},
                                                    {{0, 0, 512, 288}, {168, 94}}};
    for (int i = 0; i < 4; ++i) {
        const auto& [box, size] = cases[i];
        const Straight8 ours =
            rounded8(resampled(in, true, box, RealRect::of(size), PixelRect::of(size)));
        EXPECT_GE(psnr(ours, pictureIn(folder, "out" + std::to_string(i) + ".png")), 40) << i;
    }
}

// Premultiplied resampling of see-through pictures, as Pillow does for mode RGBa.
TEST(Crop, SeeThroughPicturesAgreeWithPillow) {
    const test::Folder folder;
    put(folder, "in.png", test::png(test::painted({120, 120}, [](int x, int y) {
            const double d = 50 - std::hypot(x + 0.5 - 60, y + 0.5 - 60);
            return packed(200, 40 + x, 30, static_cast<int>(std::clamp(d, 0.0, 1.0) * 255));
        })));
    test::python(folder,
                 "Image.open(folder + 'in.png').convert('RGBa').resize((50, 50), "
                 "Image.LANCZOS).convert('RGBA').save(folder + 'out.png'); "
                 "print('[]')");
    const auto in = std::make_shared<const Straight8>(pictureIn(folder, "in.png"));
    const Straight8 ours = rounded8(
        resampled(in, false, RealRect::of({120, 120}), RealRect::of({50, 50}), {0, 0, 50, 50}));
    const Straight8 theirs = pictureIn(folder, "out.png");
    double sum = 0;
    for (std::size_t i = 0; i < ours.pixels().size(); ++i)
        sum += std::abs(alphaOf(ours.pixels()[i]) - alphaOf(theirs.pixels()[i]));
    EXPECT_LT(sum / static_cast<double>(ours.pixels().size()), 0.5)
        << "mean difference of alpha, code values";
}

TEST(Written, OpensInIndependentDecodersPixelByPixel) {
    const test::Folder folder;
    const Straight8 opaque = test::textured({97, 61});
    const Straight8 glass = test::painted(
        {53, 40}, [](int x, int y) { return packed(x * 4, y * 6, 99, (x * y) % 256); });
    put(folder, "opaque.png", test::png(opaque));
    put(folder, "glass.png", test::png(glass));
    for (const Chroma chroma : {Chroma::full, Chroma::half})
        put(folder, chroma == Chroma::full ? "full.jpg" : "half.jpg",
            good(encode(opaque, {Content::jpeg, 88, chroma, Effort::release})));
    const Json said = test::python(folder, R"(
import subprocess
out = {}
for name in ('opaque.png', 'glass.png', 'full.jpg', 'half.jpg'):
    picture = Image.open(folder + name)
    picture.load()
    out[name] = {'mode': picture.mode, 'size': picture.size, 'format': picture.format,
            'tagged': len(picture.info.get('icc_profile',
            b'')) > 100 or picture.info.get('srgb') == 0, 'exif': len(picture.getexif())}
    picture.convert('RGBA').save(folder + name + '.theirs.png')
for name in ('opaque.png', 'glass.png'):
    out[name]['check'] = subprocess.run(['pngcheck', '-q', folder + name],
            capture_output=True).returncode
for name in ('full.jpg', 'half.jpg'):
    out[name]['check'] = subprocess.run(['djpeg', '-outfile', folder + name + '.ppm', folder
            + name], capture_output=True).returncode
print(json.dumps(out))
)");
    EXPECT_EQ(said["opaque.png"]["mode"], "RGB") << "no alpha channel for nothing";
    EXPECT_EQ(said["glass.png"]["mode"], "RGBA");
    for (const auto& [name, facts] : said.items()) {
        EXPECT_EQ(facts["check"], 0) << name;
        EXPECT_EQ(facts["tagged"].get<bool>(), name.find(".png") != std::string::npos)
            << name << ": a JPEG without a profile is sRGB";
        EXPECT_EQ(facts["exif"], 0) << name;
    }
    EXPECT_EQ(test::worstDifference(pictureIn(folder, "opaque.png.theirs.png"), opaque), 0);
    EXPECT_EQ(test::worstDifference(pictureIn(folder, "glass.png.theirs.png"), glass), 0);
    // Decoders may round their inverse transform differently (ITU-T T.83 allows it).
    for (const char* name : {"full.jpg", "half.jpg"})
        EXPECT_LE(test::worstDifference(pictureIn(folder, std::string(name) + ".theirs.png"),
                                        pictureIn(folder, name)),
                  3)
            << name;
}

// EXIF 2.3, 4.6.4 A: all eight orientations, as Pillow turns them.
// ISO/IEC 15948, 11.2.2: 1, 2, 4 or 8 bits a pixel, packed from the left, each row beginning a
// byte; and the filters of section 9 on pictures that each of them serves best. Pillow and pngcheck
// are others' work.
TEST(Written, EveryDepthAndFilterIsReadByOthers) {
    const test::Folder folder;
    std::vector<std::pair<std::string, Straight8>> pictures;
    for (const int colours : {1, 2, 3, 4, 5, 16, 17, 256})
        pictures.emplace_back(
            std::to_string(colours) + ".png", test::painted({37, 19}, [colours](int x, int y) {
                const int n = (x * 7 + y * 37) % colours;
                return packed(n, 255 - n, (n * 97) % 256, colours % 2 ? 255 - n % 3 : 255);
            }));
    const std::size_t palettes = pictures.size();
    const auto add = [&](const char* name, const std::function<std::uint32_t(int, int)>& pixel) {
        pictures.emplace_back(name, test::painted({301, 640}, pixel));
    };
    std::mt19937 random(11);
    std::vector<int> column(301), row(640);
    for (int& v : column) v = static_cast<int>(random() % 256);
    for (int& v : row) v = static_cast<int>(random() % 256);
    add("none.png", [&](int x, int y) {
        return packed(column[static_cast<std::size_t>(x * y % 301)], 0, 0, 255);
    });
    add("sub.png", [&](int, int y) { return packed(row[static_cast<std::size_t>(y)], 9, 9, 255); });
    add("up.png",
        [&](int x, int) { return packed(column[static_cast<std::size_t>(x)], 9, 9, 255); });
    add("paeth.png", [&](int x, int y) {
        return packed((column[static_cast<std::size_t>(x)] + row[static_cast<std::size_t>(y)]) / 2,
                      9, x, 255);
    });
    add("glass.png",
        [&](int x, int y) { return packed(x, y, static_cast<int>(random() % 8), x * y); });
    for (std::size_t i = 0; i < pictures.size(); ++i)
        put(folder, pictures[i].first,
            good(encode(pictures[i].second,
                        {Content::png, 0, Chroma::full, Effort::release, i < palettes, false})));
    const Json said = test::python(folder, R"(
import os, subprocess
out = {}
for name in [n for n in os.listdir(folder) if n.endswith('.png')]:
    picture = Image.open(folder + name)
    picture.convert('RGBA').save(folder + 'theirs-' + name)
    bits = open(folder + name, 'rb').read()[24]
    out[name] = {'check': subprocess.run(['pngcheck', '-q', folder + name],
            capture_output=True).returncode, 'bits': bits}
print(json.dumps(out))
)");
    EXPECT_EQ(said["2.png"]["bits"], 1);
    EXPECT_EQ(said["3.png"]["bits"], 2);
    EXPECT_EQ(said["16.png"]["bits"], 4);
    EXPECT_EQ(said["17.png"]["bits"], 8);
    for (const auto& [name, picture] : pictures) {
        EXPECT_EQ(said[name]["check"], 0) << name;
        EXPECT_EQ(test::worstDifference(pictureIn(folder, "theirs-" + name), picture), 0) << name;
    }
}

TEST(Read, EveryOrientationOfACamera) {
    const test::Folder folder;
    test::python(folder, R"(
base = Image.fromarray(np.add.outer(np.arange(40) * 3, np.arange(64)
        * 2).astype(np.uint8)).convert('RGB')
for o in range(1, 9):
    exif = Image.Exif()
    exif[0x0112] = o
    base.save(folder + 'o%d.jpg' % o, exif=exif, quality=95)
    ImageOps.exif_transpose(Image.open(folder + 'o%d.jpg' % o)).save(folder + 'o%d.png' % o)
print('[]')
)");
    for (int o = 1; o <= 8; ++o) {
        const Straight8 ours = pictureIn(folder, "o" + std::to_string(o) + ".jpg"),
                        theirs = pictureIn(folder, "o" + std::to_string(o) + ".png");
        ASSERT_EQ(ours.size(), theirs.size()) << o;
        EXPECT_LE(test::worstDifference(ours, theirs), 2) << o;
    }
}

// A profile (ICC.1:2010) with sRGB's primaries and a curve of gamma 1: linear code values have to
// come out encoded by IEC 61966-2-1. And 16 bit are rounded to 8, not cut.
TEST(Read, ProfilesAreConvertedAndDeepPicturesRounded) {
    const test::Folder folder;
    const Json grey = test::python(folder, R"(
import struct
def s15(*v): return b''.join(struct.pack('>i', round(x * 65536)) for x in v)
xyz = lambda *v: b'XYZ \0\0\0\0' + s15(*v)
curve = b'curv\0\0\0\0' + struct.pack('>IH', 1, 256) + b'\0\0'
text = b'linear light'
desc = b'desc\0\0\0\0' + struct.pack('>I', len(text) + 1) + text + b'\0' + b'\0' * 78
tags = [(b'desc', desc + b'\0' * (-len(desc) % 4)), (b'cprt', b'text\0\0\0\0none\0\0\0\0'),
        (b'wtpt', xyz(0.9642, 1, 0.8249)),
        (b'rXYZ', xyz(0.43607, 0.22249, 0.01392)), (b'gXYZ', xyz(0.38515, 0.71687,
                0.09708)), (b'bXYZ', xyz(0.14307, 0.06061, 0.7141)),
        (b'rTRC', curve), (b'gTRC', curve), (b'bTRC', curve)]
offset, table, data = 128 + 4 + 12 * len(tags), b'', b''
for name, body in tags:
    table += name + struct.pack('>II', offset + len(data), len(body))
    data += body
size = offset + len(data)
head = struct.pack('>I4sI4s4s4s', size, b'none', 0x02400000, b'mntr', b'RGB ',
        b'XYZ ') + b'\0' * 12 + b'acsp' + b'\0' * 28 + s15(0.9642, 1, 0.8249) + b'\0' * 48
values = np.arange(256, dtype=np.uint8)
Image.fromarray(np.stack([values] * 3, -1)[None]).save(folder + 'linear.png', icc_profile=head
        + struct.pack('>I', len(tags)) + table + data)
deep = (np.arange(1000) * 65).astype(np.uint16)
Image.fromarray(deep[None]).save(folder + 'deep.png')
print(json.dumps(deep.tolist()))
)");
    const Picture linear = good(decode(good(readFile(folder / "linear.png")), "linear.png"));
    EXPECT_FALSE(linear.facts.profileIsSrgb);
    for (int v = 0; v < 256; ++v) {
        const double l = v / 255.0,
                     encoded =
                         255 * (l <= 0.0031308 ? 12.92 * l : 1.055 * std::pow(l, 1 / 2.4) - 0.055);
        EXPECT_NEAR(redOf(linear.pixels->row(0)[v]), encoded, v < 3 ? 2.0 : 1.0) << v;
        EXPECT_EQ(alphaOf(linear.pixels->row(0)[v]), 255);
    }
    const Picture deep = good(decode(good(readFile(folder / "deep.png")), "deep.png"));
    EXPECT_EQ(deep.facts.bitsPerChannel, 16);
    for (std::size_t i = 0; i < grey.size(); ++i)
        EXPECT_NEAR(redOf(deep.pixels->row(0)[i]), grey[i].get<int>() / 257.0, 0.5001) << i;
}

// A JPEG that will be made much smaller is read at a half, a quarter or an eighth, as Pillow's
// draft mode reads it.
TEST(Read, ALargeJpegAtAPartOfItsSize) {
    const test::Folder folder;
    test::python(folder, R"(
import skimage, os
picture = Image.open(os.path.join(os.path.dirname(skimage.__file__), 'data',
        'chelsea.png')).convert('RGB').resize((1201, 803))
picture.save(folder + 'a.jpg', quality=92, subsampling=0)
for shrink in (2, 4, 8):
    part = Image.open(folder + 'a.jpg'); part.draft('RGB', (1201 // shrink, 803 // shrink))
    part.load(); part.save(folder + f'{shrink}.png')
print('[]')
)");
    const Bytes bytes = good(readFile(folder / "a.jpg"));
    const Straight8 whole = pictureIn(folder, "a.jpg");
    EXPECT_EQ(good(decodeFor({400, 300}, bytes, "a.jpg")).pixels->size(), whole.size())
        << "nearly as small: nothing is left out";
    for (const int shrink : {2, 4, 8}) {
        const Picture part = good(decodeFor({1201 / shrink / 2, 803 / shrink / 2}, bytes, "a.jpg"));
        EXPECT_EQ(part.facts.size, whole.size());
        const Straight8 reference = pictureIn(folder, std::to_string(shrink) + ".png");
        // Pillow keeps the last column and row that are only partly there.
        ASSERT_EQ(part.pixels->size(), (PixelSize{1201 / shrink, 803 / shrink})) << shrink;
        const Straight8 same =
            test::painted(part.pixels->size(), [&](int x, int y) { return reference.row(y)[x]; });
        EXPECT_LE(test::worstDifference(*part.pixels, same), 1) << shrink;
    }
}

// WebP, GIF, BMP, TIFF and a CMYK JPEG, as Pillow writes them and reads them back.
TEST(Read, TheOtherKindsOfPictures) {
    const test::Folder folder;
    test::python(folder, R"(
import skimage, os
picture = Image.open(os.path.join(os.path.dirname(skimage.__file__), 'data',
        'chelsea.png')).convert('RGB').resize((200, 133))
glass = picture.convert('RGBA')
glass.putalpha(Image.fromarray(np.tile(np.linspace(0, 255, 200).astype(np.uint8), (133, 1))))
picture.save(folder + 'a.bmp'); picture.save(folder + 'a.tiff'); picture.save(folder + 'a.gif')
picture.save(folder + 'a.webp', lossless=True)
glass.save(folder + 'glass.webp', lossless=True, exact=True); glass.save(folder + 'glass.tiff')
picture.convert('CMYK').save(folder + 'cmyk.jpg', quality=95)
for name in ('a.bmp', 'a.tiff', 'a.gif', 'a.webp', 'glass.webp', 'glass.tiff'):
    Image.open(folder + name).convert('RGBA').save(folder + name + '.png')
picture.convert('RGBA').save(folder + 'cmyk.jpg.png')
print('[]')
)");
    for (const char* name : {"a.bmp", "a.tiff", "a.gif", "a.webp", "glass.webp", "glass.tiff"})
        EXPECT_EQ(test::worstDifference(pictureIn(folder, name),
                                        pictureIn(folder, std::string(name) + ".png")),
                  0)
            << name;
    const Picture cmyk = good(decode(good(readFile(folder / "cmyk.jpg")), "cmyk.jpg"));
    EXPECT_TRUE(cmyk.facts.cmyk);
    EXPECT_GT(psnr(*cmyk.pixels, pictureIn(folder, "cmyk.jpg.png")), 15)
        << "inks are no light: near, never the same";
    // SVG (W3C 1.1): a red half on nothing.
    put(folder, "half.svg",
        test::bytesOf("<svg xmlns='http://www.w3.org/2000/svg' width='40' height='20'><rect "
                      "width='20' height='20' fill='#FF0000'/></svg>"));
    const Straight8 half = pictureIn(folder, "half.svg");
    EXPECT_EQ(half.size(), (PixelSize{40, 20}));
    EXPECT_EQ(half.row(10)[5], packed(255, 0, 0, 255));
    EXPECT_EQ(alphaOf(half.row(10)[30]), 0);
    // Made larger it is drawn anew, not blurred; made smaller it is read as it is.
    const Bytes svg = good(readFile(folder / "half.svg"));
    const Picture large = good(decodeFor({400, 100}, svg, "half.svg"));
    EXPECT_EQ(large.facts.size, (PixelSize{400, 200}));
    EXPECT_EQ(large.pixels->row(100)[199], packed(255, 0, 0, 255));
    EXPECT_EQ(alphaOf(large.pixels->row(100)[200]), 0);
    EXPECT_EQ(good(decodeFor({4, 2}, svg, "half.svg")).facts.size, (PixelSize{40, 20}));
}

// GIF, WebP and a palette PNG are read back by Pillow; the palette is no worse than Pillow's own
// quantiser by SSIM and dE00.
TEST(Written, PalettesAndTheOtherKindsAreReadBackAndNearTheirPicture) {
    const test::Folder folder;
    test::python(folder, R"(
import skimage, os
Image.open(os.path.join(os.path.dirname(skimage.__file__), 'data',
        'coffee.png')).convert('RGB').resize((300, 200)).save(folder + 'in.png')
print('[]')
)");
    const Straight8 in = pictureIn(folder, "in.png");
    const std::pair<const char*, Encoding> written[] = {
        {"dithered.png", {Content::png, 0, Chroma::full, Effort::release, true, true}},
        {"bands.png", {Content::png, 0, Chroma::full, Effort::release, true, false}},
        {"a.gif", {Content::gif, 0, Chroma::full, Effort::release}},
        {"exact.webp", {Content::webp, 0, Chroma::full, Effort::release}},
        {"fine.webp", {Content::webp, 90, Chroma::full, Effort::release}}};
    for (const auto& [name, encoding] : written) put(folder, name, good(encode(in, encoding)));
    const Json said = test::python(folder, R"(
from skimage.metrics import structural_similarity
from skimage.color import rgb2lab, deltaE_ciede2000
a = Image.open(folder + 'in.png').convert('RGB')
def near(b):
    b = np.asarray(b.convert('RGB'))
    return [float(structural_similarity(np.asarray(a), b, gaussian_weights=True, sigma=1.5,
            use_sample_covariance=False, channel_axis=2, data_range=255)),
            float(np.percentile(deltaE_ciede2000(rgb2lab(np.asarray(a)), rgb2lab(b)), 99,
                    method='inverted_cdf'))]
out = {'pillow': near(a.quantize(256, dither=Image.Dither.NONE)),
        'pillow-dithered': near(a.quantize(256, dither=Image.Dither.FLOYDSTEINBERG))}
for name in ('dithered.png', 'bands.png', 'a.gif', 'exact.webp', 'fine.webp'):
    p = Image.open(folder + name)
    out[name] = near(p) + [p.mode]
print(json.dumps(out))
)");
    EXPECT_EQ(said["exact.webp"][0], 1.0);
    EXPECT_EQ(said["dithered.png"][2], "P") << "one byte a pixel";
    EXPECT_GE(said["bands.png"][0].get<double>(), said["pillow"][0].get<double>());
    EXPECT_LE(said["bands.png"][1].get<double>(), said["pillow"][1].get<double>());
    for (const auto& [name, encoding] : written) {
        if (encoding.exact()) continue;
        const Difference ours = difference(in, pictureIn(folder, name));
        EXPECT_NEAR(ours.ssim, said[name][0].get<double>(), 2e-3) << name;
        EXPECT_NEAR(ours.de00P99, said[name][1].get<double>(), 0.3) << name;
    }
}

// The font's own OS/2 table (OpenType 1.9, sCapHeight), read by fontTools.
TEST(Lettering, CapHeightIsTheFontsOwn) {
    const test::Folder folder;
    const std::string fonts = (good(dataFolder()) / "fonts").string();
    const Json said =
        test::python(folder,
                     "from fontTools.ttLib import TTFont\nout = {}\nfor name in "
                     "('LeagueSpartan-ExtraBold', 'ZincSans-Regular'):\n    f = TTFont('" +
                         fonts +
                         "/' + name + '.otf')\n    out[name] = f['OS/2'].sCapHeight / "
                         "f['head'].unitsPerEm\nprint(json.dumps(out))\n");
    LetteringLayer letters;
    letters.size = 200;
    EXPECT_NEAR(good(capHeight(letters)), 200 * said["LeagueSpartan-ExtraBold"].get<double>(), 0.2);
    letters.family = "Zinc Sans";
    letters.style = "Regular";
    EXPECT_NEAR(good(capHeight(letters)), 200 * said["ZincSans-Regular"].get<double>(), 0.2);
}

// The file that was found, looked at by an independent decoder: its size, its sampling, its
// quantisation table.
TEST(Fit, AGrainyPhotographGetsTheHighestQualityThatFits) {
    const test::Folder folder;
    test::python(folder, R"(
import skimage, os
Image.open(os.path.join(os.path.dirname(skimage.__file__), 'data',
        'coffee.png')).convert('RGB').save(folder + 'in.png')
print('[]')
)");
    const Straight8 in = pictureIn(folder, "in.png");
    const Fitted fitted = good(fitToLimit(in, {{Content::jpeg}, 60'000, {}, {}, false}));
    put(folder, "fitted.jpg", fitted.bytes);
    const Json facts = test::python(folder, R"(
import os
p = Image.open(folder + 'fitted.jpg')
p.load()
print(json.dumps({'bytes': os.path.getsize(folder + 'fitted.jpg'), 'layers': [list(l[1:3])
        for l in p.layer], 'table': list(p.quantization[0])}))
)");
    EXPECT_LE(facts["bytes"], 60'000);
    EXPECT_EQ(facts["layers"][0],
              fitted.encoding.chroma == Chroma::full ? (Json{1, 1}) : (Json{2, 2}));
    const Encoding next{Content::jpeg, fitted.encoding.quality + 2, fitted.encoding.chroma,
                        Effort::release};
    EXPECT_GT(good(encode(in, next)).size(), 60'000u) << "two steps more do not fit";
    // ITU-T T.81 K.1, scaled as the Independent JPEG Group does: quality q > 50 divides by 50 /
    // (100 - q).
    const int scale = fitted.encoding.quality < 50 ? 5000 / fitted.encoding.quality
                                                   : 200 - 2 * fitted.encoding.quality;
    EXPECT_EQ(facts["table"][0], std::max(1, (16 * scale + 50) / 100))
        << "the DC step of the luma table";
}

}  // namespace
}  // namespace zl
