// SPDX-License-Identifier: GPL-3.0-or-later
// The image map parsed by Python's own HTML parser, its rectangles compared; slices compared by
// NumPy.
#include "links/links.h"
#include "python.h"
#include "store/kit_file.h"
#include "support/demo_files.h"

namespace zl {
namespace {

using test::good;
using test::zledge;

constexpr const char* parse = R"(
from html.parser import HTMLParser
class Page(HTMLParser):
    def __init__(self):
        super().__init__()
        self.areas, self.image, self.maps, self.scripts = [], None, [], 0
    def handle_starttag(self, tag, attrs):
        attrs = dict(attrs)
        if tag == 'area': self.areas.append({'coords': [int(v) for v in attrs['coords'].split(',')],
                'href': attrs['href'], 'alt': attrs['alt'], 'shape': attrs['shape']})
        if tag == 'img': self.image = attrs
        if tag == 'map': self.maps.append(attrs['name'])
        if tag == 'script' or any(k.startswith('on') for k in attrs): self.scripts += 1
def read(name):
    page = Page()
    page.feed(open(folder + name, encoding='utf-8').read())
    return {'areas': page.areas, 'image': page.image, 'maps': page.maps, 'scripts': page.scripts}
)";

TEST(ImageMapReference, AnotherParserFindsTheSameRegions) {
    const test::Folder folder;
    const std::vector<LinkRegion> links{
        {{10, 20, 110, 60}, "https://example.org/a?x=1&y=2#z", "Films & \"drawings\" <new>"},
        {{200, 20, 260, 90}, "http://example.org:8080/'quoted'", "it's"},
        {{940, 100, 990, 170}, "https://example.org/past-the-edge", ""}};
    const std::string html =
        good(imageMap(links, {970, 150}, "a picture's \"name\".png", "<Head> & shoulders"));
    test::put(folder, "page.html", test::bytesOf(html));
    const Json page =
        test::python(folder, std::string(parse) + "print(json.dumps(read('page.html')))");
    ASSERT_EQ(page["areas"].size(), 3u);
    const std::vector<std::array<int, 4>> expected{
        {10, 20, 110, 60}, {200, 20, 260, 90}, {940, 100, 970, 150}};
    for (std::size_t i = 0; i < 3; ++i) {
        EXPECT_EQ((page["areas"][i]["coords"].get<std::array<int, 4>>()), expected[i]);
        EXPECT_EQ(page["areas"][i]["href"], links[i].address);
        EXPECT_EQ(page["areas"][i]["shape"], "rect");
    }
    EXPECT_EQ(page["areas"][0]["alt"], links[0].says);
    EXPECT_EQ(page["areas"][2]["alt"], links[2].address)
        << "what has no name is called by where it leads";
    EXPECT_EQ(page["image"]["src"], "a picture's \"name\".png");
    EXPECT_EQ(page["image"]["width"], "970");
    EXPECT_EQ(page["image"]["usemap"], "#" + page["maps"][0].get<std::string>());
    EXPECT_EQ(page["scripts"], 0);
}

TEST(SliceReference, AreThePiecesPixelsByNumPy) {
    const test::Folder folder;
    test::putDemo(folder, "kit");
    zledge(folder,
           "release kit/mossgate-signals.zlkit --piece page-background --piece header --out out");
    const Json json = test::python(folder, std::string(parse) + R"(
whole = np.array(Image.open(folder + 'out/mossgate-page.png').convert('RGBA')).astype(int)
strip = np.array(Image.open(folder + 'out/mossgate-page-header.png').convert('RGBA')).astype(int)
print(json.dumps({'shape': list(strip.shape), 'worst': int(np.abs(whole[22:172, 475:1445]
        - strip).max()),
                  'header': read('out/mossgate-header.html'),
                   'slice': read('out/mossgate-page-header.html')}))
)");
    EXPECT_EQ(json["shape"], (std::vector<int>{150, 970, 4}));
    EXPECT_EQ(json["worst"], 0);
    EXPECT_EQ(json["header"]["areas"].size(), 3u);
    // In px of the slice, not of the page.
    EXPECT_EQ((json["slice"]["areas"][0]["coords"].get<std::array<int, 4>>()),
              (std::array<int, 4>{0, 0, 270, 150}));
    const Kit kit = good(openKit(folder / "kit/mossgate-signals.zlkit"));
    const auto& links = kit.piece("header")->links;
    for (std::size_t i = 0; i < links.size(); ++i) {
        const auto r = json["header"]["areas"][i]["coords"].get<std::array<int, 4>>();
        EXPECT_EQ((PixelRect{r[0], r[1], r[2], r[3]}), links[i].place);
    }
}

// The mark on the player, laid over the footage again by NumPy in double precision.
TEST(PlayerReference, TheMarkIsLaidOverTheFootageAsNumPyWould) {
    const test::Folder folder;
    test::python(folder, R"(
y, x = np.mgrid[0:30, 0:30]
a = np.clip(255 - np.hypot(x - 14.5, y - 14.5) * 14, 0, 255)
Image.fromarray(np.dstack([x * 8, 255 - y * 8, x * 0 + 90, a]).astype(np.uint8),
        'RGBA').resize((150, 150), Image.NEAREST).save(folder + 'mark.png')
print('[]')
)");
    zledge(folder, "rehearse mark.png --brief corner-mark --out with --show from:30");
    const Json json = test::python(folder, R"(
r = {s['id']: s for s in json.load(open(folder + 'with/rehearsal.json'))['surfaces']}
worst, covered = 0, 0
host = Image.open(folder + 'with/host/mark/display-30.png').convert('RGBA')
mark = np.array(host).astype(float)
for footage in ('light', 'dark', 'busy'):
    before = np.array(Image.open(folder
            + f'with/player-640-{footage}-before.png').convert('RGB')).astype(float)
    after = np.array(Image.open(folder
            + f'with/player-640-{footage}-after.png').convert('RGB')).astype(float)
    left, top, w, h = r[f'player-640-{footage}-after']['piece_rect']
    a = mark[..., 3:] / 255
    want = mark[..., :3] * a + before[top:top + h, left:left + w] * (1 - a)
    worst = max(worst, float(np.abs(want - after[top:top + h, left:left + w]).max()))
    covered += int((a > 0.5).sum())
    rest = np.abs(before - after)[:300]
    rest[top:top + h, left:left + w] = 0
    worst = max(worst, float(rest.max()))
print(json.dumps({'worst': worst, 'covered': covered, 'size': list(host.size)}))
)");
    EXPECT_EQ(json["size"], (std::vector<int>{30, 30}));
    EXPECT_LE(json["worst"].get<double>(), 1.0);
    EXPECT_GT(json["covered"].get<int>(), 100);
}

}  // namespace
}  // namespace zl
