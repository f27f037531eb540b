// SPDX-License-Identifier: GPL-3.0-or-later
// AVIF, HEIC and JPEG XL as libheif and libjxl write them (through libvips), and files that hold
// further pictures, as Pillow writes them.
#include <vips/vips.h>

#include "brief/brief.h"
#include "differences.h"
#include "measure/measure.h"
#include "picture/decode.h"
#include "python.h"

namespace zl {
namespace {

using test::good;

// A picture of the test's own as another library writes it; empty where this machine has no encoder
// for it.
Bytes written(const char* ending, const char* options, const Straight8& picture) {
    if (VIPS_INIT("tests") != 0) return {};
    VipsImage* image = vips_image_new_from_memory(
        picture.bytes(), static_cast<std::size_t>(picture.size().count()) * 4, picture.width(),
        picture.height(), 4, VIPS_FORMAT_UCHAR);
    image->Type = VIPS_INTERPRETATION_sRGB;
    void* data = nullptr;
    std::size_t size = 0;
    Bytes out;
    if (vips_image_write_to_buffer(image, (std::string(ending) + options).c_str(), &data, &size,
                                   nullptr) == 0) {
        const auto* bytes = static_cast<const std::uint8_t*>(data);
        out.assign(bytes, bytes + size);
        g_free(data);
    }
    vips_error_clear();
    g_object_unref(image);
    return out;
}

TEST(Read, PicturesOfTheNewerKinds) {
    const Straight8 picture = test::painted(
        {96, 64}, [](int x, int y) { return packed(2 * x, 3 * y, 90, x < 48 ? 255 : 255 - x); });
    struct Case {
        const char *ending, *options;
        int allowed;  // code values
        Content content;
    };
    for (const Case& c : {Case{".jxl", "[lossless]", 0, Content::jxl},
                          Case{".avif", "[lossless]", 4, Content::heif},
                          Case{".heic", "[Q=95]", 24, Content::heif}}) {
        const Bytes bytes = written(c.ending, c.options, picture);
        ASSERT_FALSE(bytes.empty()) << c.ending << ": no encoder on this machine";
        EXPECT_EQ(sniff(bytes), c.content);
        const Picture read = good(decode(bytes, std::string("a") + c.ending));
        ASSERT_EQ(read.facts.size, picture.size()) << c.ending;
        EXPECT_TRUE(read.facts.alphaChannel) << c.ending;
        EXPECT_LE(test::worstDifference(*read.pixels, picture), c.allowed) << c.ending;
        EXPECT_FALSE(decode(ByteView(bytes).first(bytes.size() / 2), "half"))
            << c.ending << " that breaks off";
    }
}

// Its lengths have 64 bits: TIFF in all else.
TEST(Read, ALongTiffIsATiff) {
    const Straight8 picture = test::textured({96, 64});
    const Bytes bytes = written(".tif", "[bigtiff]", picture);
    ASSERT_FALSE(bytes.empty());
    EXPECT_EQ(sniff(bytes), Content::tiff);
    EXPECT_EQ(test::worstDifference(*good(decode(bytes, "long.tif")).pixels, picture), 0);
}

TEST(Read, FilesWithFurtherPicturesSaySo) {
    const test::Folder folder;
    test::python(folder, R"(
one = Image.new('RGBA', (150, 150), (255, 0, 0, 255))
two = Image.new('RGBA', (150, 150), (0, 255, 0, 128))
for name in ('a.gif', 'a.webp', 'a.png'):
    one.save(folder + name, save_all=True, append_images=[two])
    one.save(folder + 'still-' + name)
one.convert('RGB').save(folder + 'a.tiff', save_all=True, append_images=[two.convert('RGB')])
one.convert('RGB').save(folder + 'still-a.tiff')
print('[]')
)");
    const Brief brief = test::brief("free-frame");
    for (const std::string name : {"a.gif", "a.webp", "a.png", "a.tiff"}) {
        EXPECT_GT(good(readFacts(good(readFile(folder / name)), name)).pages, 1) << name;
        EXPECT_EQ(good(readFacts(good(readFile(folder / ("still-" + name))), name)).pages, 1)
            << name;
        const auto readings =
            good(readPictureFile(good(readFile(folder / name)), name, brief)).readings;
        for (const Reading& reading : readings)
            if (reading.id == "format") {
                const bool said =
                    std::any_of(reading.findings.begin(), reading.findings.end(),
                                [](const Finding& f) { return f.says.id == "format.pages"; });
                EXPECT_TRUE(said) << name;
            }
    }
}

}  // namespace
}  // namespace zl
