// SPDX-License-Identifier: GPL-3.0-or-later
// BMP in all its kinds, each written here byte by byte as its published headers say
// (BITMAPINFOHEADER, BITMAPV4HEADER and BITMAPV5HEADER, from memory), against the numbers that were
// put in.
#include <gtest/gtest.h>

#include "differences.h"
#include "picture/decode.h"
#include "python.h"

namespace zl {
namespace {

using test::good;

// Writes NAME.bmp, and NAME.png with what it holds. They are larger than what is kept in reserve
// when memory is given back, so that pixels that are read too late are gone.
constexpr char kinds[] = R"(
import struct
random = np.random.RandomState(3)
W, H = 301, 200
rgba = random.randint(0, 256, (H, W, 4)).astype(np.uint8)
solid = np.full((H, W), 255, np.uint8)
names = []
def put(name, header, body, holds, palette=b''):
    start = 14 + len(header) + len(palette)
    with open(folder + name + '.bmp', 'wb') as f:
        f.write(b'BM' + struct.pack('<IHHI', start + len(body), 0, 0, start))
        f.write(header + palette + body)
    if holds.shape[2] == 3: holds = np.dstack([holds, solid])
    Image.fromarray(holds.astype(np.uint8), 'RGBA').save(folder + name + '.png')
    names.append(name)
def info(bits, packing, body, height=H, colours=0, length=40):
    return struct.pack('<IiiHHIIiiII', length, W, height, 1, bits, packing, len(body), 2835, 2835,
        colours, 0)
def rows(a, order=-1):
    lines = [line.tobytes() for line in a[::order]]
    return b''.join(line + b'\0' * (-len(line) % 4) for line in lines)
bgr, bgra = rgba[..., [2, 1, 0]], rgba[..., [2, 1, 0, 3]]
put('24', info(24, 0, rows(bgr)), rows(bgr), rgba[..., :3])
put('24-downwards', info(24, 0, rows(bgr), -H), rows(bgr, 1), rgba[..., :3])
unused = bgra.copy(); unused[..., 3] = 0
put('32-unused', info(32, 0, rows(unused)), rows(unused), rgba[..., :3])
put('32-with-alpha', info(32, 0, rows(bgra)), rows(bgra), rgba)
def longer(length, alpha):
    masks = struct.pack('<IIII', 0xff0000, 0xff00, 0xff, alpha)
    head = info(32, 3, rows(bgra), length=length) + masks + struct.pack('<I', 0x73524742)
    return head + b'\0' * (length - len(head))
put('v4', longer(108, 0xff000000), rows(bgra), rgba)
put('v5', longer(124, 0xff000000), rows(bgra), rgba)
put('v5-opaque', longer(124, 0), rows(bgra), rgba[..., :3])
colours = random.randint(0, 256, (256, 3)).astype(np.uint8)
table = b''.join(bytes([c[2], c[1], c[0], 0]) for c in colours)
eight = random.randint(0, 256, (H, W)).astype(np.uint8)
put('8', info(8, 0, rows(eight), colours=256), rows(eight), colours[eight], table)
four = random.randint(0, 16, (H, W + W % 2)).astype(np.uint8)
nibbles = four[:, 0::2] << 4 | four[:, 1::2]
put('4', info(4, 0, rows(nibbles), colours=16), rows(nibbles), colours[four[:, :W]], table[:64])
one = random.randint(0, 2, (H, W)).astype(np.uint8)
bits = np.packbits(one, axis=1)
put('1', info(1, 0, rows(bits), colours=2), rows(bits), colours[one], table[:8])
runs = np.repeat(random.randint(0, 256, (H, W // 7 + 1)), 7, 1)[:, :W].astype(np.uint8)
body = b''
for line in runs[::-1]:
    x = 0
    while x < W:
        n = 1
        while x + n < W and n < 255 and line[x + n] == line[x]: n += 1
        body += bytes([n, line[x]])
        x += n
    body += b'\0\0'
body += b'\0\1'
put('8-in-runs', info(8, 1, body, colours=256), body, colours[runs], table)
fine = rgba.astype(int)
def sixteen(name, header, widths):
    value, holds, shift = 0, [], sum(widths)
    for channel, width in enumerate(widths):
        shift -= width
        part = fine[..., channel] >> (8 - width)
        value = value | part << shift
        holds.append(np.rint(part * 255 / (2 ** width - 1)))
    body = rows(value.astype('<u2')[..., None])
    put(name, header(body), body, np.dstack(holds))
sixteen('16-of-five', lambda body: info(16, 0, body), (5, 5, 5))
sixteen('16-of-six', lambda body: info(16, 3, body) + struct.pack('<III', 0xf800, 0x7e0, 0x1f),
    (5, 6, 5))
print(json.dumps(names))
)";

TEST(BmpReference, EveryKindIsWhatItsHeaderSays) {
    const test::Folder folder;
    const Json names = test::python(folder, kinds);
    EXPECT_EQ(names.size(), 13u);
    for (const auto& one : names) {
        const std::string name = one;
        const Picture bmp = good(decode(good(readFile(folder / (name + ".bmp"))), name)),
                      holds = good(decode(good(readFile(folder / (name + ".png"))), name));
        ASSERT_EQ(bmp.facts.size, holds.facts.size) << name;
        EXPECT_EQ(bmp.opaque, holds.opaque) << name;
        // Five and six bits are spread over eight by repeating them, which is off by one at most.
        const int allowed = name.starts_with("16") ? 1 : 0;
        EXPECT_LE(test::worstDifference(*bmp.pixels, *holds.pixels), allowed) << name;
    }
}

// A header that tells of more than the file can hold is refused before anything makes room for it.
TEST(BmpReference, AHeaderThatPromisesTooMuchIsDamaged) {
    const test::Folder folder;
    test::python(folder, kinds);
    const Bytes whole = good(readFile(folder / "8.bmp"));
    ASSERT_TRUE(decode(whole, "8.bmp"));
    constexpr std::size_t pixels = 10, header = 14, colours = 46;  // where each is told
    for (const std::size_t at : {pixels, header, colours}) {
        Bytes lie = whole;
        for (std::size_t i = 0; i < 4; ++i) lie[at + i] = 0xF0;
        const auto read = decode(lie, "8.bmp");
        ASSERT_FALSE(read) << at;
        EXPECT_EQ(read.error().code, Code::unreadable) << at;
        EXPECT_FALSE(readFacts(lie, "8.bmp")) << at;
    }
}

}  // namespace
}  // namespace zl
