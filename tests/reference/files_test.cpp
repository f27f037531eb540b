// SPDX-License-Identifier: GPL-3.0-or-later
// What the product writes, opened by readers that know only the documents: zip, JSON Schema,
// SHA-256, HTML. And a kit that one of them wrote.
#include "python.h"
#include "support/demo_files.h"

namespace zl {
namespace {

using test::zledge;

TEST(KitFileReference, IsWhatItsDocumentSays) {
    const test::Folder folder;
    test::putDemo(folder, "kit");
    const Json json = test::python(folder, R"(
import hashlib, io, zipfile, jsonschema
schema = json.load(open(')" + test::sourceFolder() +
                                               R"(/data/schema/kit.schema.json'))
with zipfile.ZipFile(folder + 'kit/mossgate-signals.zlkit') as kit:
    names = kit.namelist()
    facts = [(i.filename, i.compress_type, i.date_time) for i in kit.infolist()]
    text = kit.read('kit.json')
    originals = {n[len('originals/'):]: kit.read(n) for n in names if n != 'kit.json'}
value = json.loads(text)
jsonschema.Draft202012Validator(schema).validate(value)
wrong = [h for h, b in originals.items() if hashlib.sha256(b).hexdigest() != h]
used, outside = set(), []
for piece in value['pieces']:
    for layer in piece['layers']:
        if 'source' not in layer: continue
        used.add(layer['source'])
        w, h = ImageOps.exif_transpose(Image.open(io.BytesIO(originals[layer['source']]))).size
        x, y, cw, ch = layer['crop']
        if x < 0 or y < 0 or x + cw > w + 1e-6 or y + ch > h + 1e-6: outside.append(piece['id'])
print(json.dumps({'pieces': [p['id'] for p in value['pieces']], 'version': value['version'],
        'wrong': wrong, 'outside': outside,
    'unused': sorted(set(originals) - used - set(value.get('fonts',
            []))), 'assets': sorted(a['sha256'] for a in value['assets']) == sorted(originals),
    'deflated': [c for n, c, d in facts if n == 'kit.json'], 'stored': sorted({c for n, c,
            d in facts if n != 'kit.json'}),
    'dates': sorted({list(d)[0] for n, c, d in facts}), 'others': [n for n in names
            if n != 'kit.json' and not n.startswith('originals/')]}))
)");
    EXPECT_EQ(json["version"], 10);
    EXPECT_EQ(json["pieces"].size(), 17u);
    EXPECT_EQ(json["wrong"], Json::array()) << "originals are named by their SHA-256";
    EXPECT_EQ(json["outside"], Json::array()) << "crops lie in their originals";
    EXPECT_EQ(json["unused"], Json::array());
    EXPECT_TRUE(json["assets"].get<bool>());
    EXPECT_EQ(json["deflated"], (Json{8}));
    EXPECT_EQ(json["stored"], (Json{0}));
    EXPECT_EQ(json["dates"], (Json{1980}));
    EXPECT_EQ(json["others"], Json::array());
}

// A kit written from docs/kit-format.md alone opens, and its release has every pixel where the
// document puts it.
TEST(KitFileReference, AKitThatAnotherProgramWroteIsOpenedAndDrawn) {
    const test::Folder folder;
    test::python(folder, R"(
import hashlib, io, zipfile
y, x = np.mgrid[0:90, 0:160]
picture = Image.fromarray(np.dstack([x, y * 2, 255 - x]).astype(np.uint8), 'RGB')
room = io.BytesIO()
picture.save(room, 'PNG')
digest = hashlib.sha256(room.getvalue()).hexdigest()
kit = {'format': 'zinc-ledge-kit', 'version': 5, 'title': 'Another program',
        'assets': [{'sha256': digest, 'name': 'ramp.png'}],
  'fonts': [], 'colours': ['#102030'], 'looks': [],
  'pieces': [{'id': 'one', 'title': 'One', 'brief': 'free-frame', 'frame': [320, 200],
          'release': {'name': 'one', 'format': 'png'},
    'layers': [
      {'id': 1, 'kind': 'bar', 'name': 'Ground', 'shape': 'rectangle', 'place': [0, 0, 320, 200],
              'colour': '#204060'},
      {'id': 2, 'kind': 'picture', 'name': 'Ramp', 'source': digest, 'crop': [10, 5, 100, 60],
              'place': [40, 30, 100, 60]},
      {'id': 3, 'kind': 'picture', 'name': 'Mirrored', 'source': digest, 'crop': [0, 0, 160, 90],
              'place': [150, 100, 160, 90], 'flipX': True},
      {'id': 4, 'kind': 'bar', 'name': 'Veil', 'shape': 'rectangle', 'place': [0, 150, 320, 50],
              'colour': '#000000', 'opacity': 0.8},
      {'id': 5, 'kind': 'bar', 'name': 'Not seen', 'shape': 'rectangle', 'place': [0, 0, 320, 200],
              'colour': '#FF0000', 'hidden': True}]}]}
for layer in kit['pieces'][0]['layers']: layer.setdefault('opacity', 1), layer.setdefault('hidden',
        False)
with zipfile.ZipFile(folder + 'theirs.zlkit', 'w') as z:
    z.writestr('kit.json', json.dumps(kit), zipfile.ZIP_DEFLATED)
    z.writestr('originals/' + digest, room.getvalue(), zipfile.ZIP_STORED)
expected = np.zeros((200, 320, 3))
expected[:] = [0x20, 0x40, 0x60]
ramp = np.array(picture).astype(float)
expected[30:90, 40:140] = ramp[5:65, 10:110]
expected[100:190, 150:310] = ramp[:, ::-1]
expected[150:] *= 0.2
np.save(folder + 'expected.npy', expected)
print('[]')
)");
    zledge(folder, "render theirs.zlkit --piece one --out one.png");
    const Json json = test::python(folder, R"(
expected = np.load(folder + 'expected.npy')
drawn = np.array(Image.open(folder + 'one.png').convert('RGB')).astype(float)
print(json.dumps({'shape': list(drawn.shape), 'worst': float(np.abs(drawn - expected).max())}))
)");
    EXPECT_EQ(json["shape"], (std::vector<int>{200, 320, 3}));
    EXPECT_LE(json["worst"].get<double>(), 1.0);
}

TEST(ReceiptReference, SaysOfEachFileWhatHashlibAndPillowSay) {
    const test::Folder folder;
    test::putDemo(folder, "kit");
    zledge(folder,
           "release kit/mossgate-signals.zlkit --piece thumbnail --piece corner-mark --piece "
           "overlay --piece header --out out");
    const Json json = test::python(folder, R"(
import glob, hashlib
wrong, count = [], 0
for name in glob.glob(folder + 'out/*.receipt.json'):
    r = json.load(open(name))
    data = open(folder + 'out/' + r['file'], 'rb').read()
    picture = Image.open(folder + 'out/' + r['file'])
    facts = {'sha256': hashlib.sha256(data).hexdigest(), 'bytes': len(data),
            'width': picture.size[0], 'height': picture.size[1],
             'content': Image.MIME[picture.format]}
    see_through = picture.mode in ('RGBA', 'LA') or 'transparency' in picture.info
    wrong += [(r['file'], k) for k, v in facts.items() if r[k] != v]
    if r['brief'] in ('corner-mark',
            'stream-overlay') and not (see_through and r['alpha_kept']): wrong.append((r['file'],
            'alpha'))
    if r['limit'] is not None and len(data) > r['limit']: wrong.append((r['file'], 'limit'))
    count += 1
print(json.dumps({'wrong': wrong, 'count': count}))
)");
    EXPECT_EQ(json["count"], 4);
    EXPECT_EQ(json["wrong"], Json::array());
}

// A page that needs nothing but itself: HTML's own parser finds no address that a browser would
// fetch, and Pillow opens every picture.
TEST(ReportReference, IsOnePageThatNeedsNothingElse) {
    const test::Folder folder;
    test::putDemo(folder, "kit");
    zledge(folder,
           "report kit/mossgate-signals.zlkit --out report.html; [ $? -eq 1 ]");  // the demo has
                                                                                  // faulty pieces
    const Json json = test::python(folder, R"(
import base64, io
from html.parser import HTMLParser
empty = {'area', 'base', 'br', 'col', 'embed', 'hr', 'img', 'input', 'link', 'meta', 'source',
        'track', 'wbr'}
class Page(HTMLParser):
    def __init__(self):
        super().__init__()
        self.fetched, self.pictures, self.open, self.crossed, self.headings = [], [], [], [], []
        self.nameless, self.text, self.scripts = 0, '', 0
    def handle_starttag(self, tag, attrs):
        attrs = dict(attrs)
        if tag not in empty: self.open.append(tag)
        if tag == 'script': self.scripts += 1
        if tag in ('h1', 'h2', 'h3'): self.headings.append('')
        for key in ('src', 'srcset', 'poster', 'data', 'background'):
            value = attrs.get(key)
            if value and not value.startswith('data:'): self.fetched.append(value)
        if tag == 'link': self.fetched.append(attrs.get('href'))
        if tag == 'img':
            if not attrs.get('alt'): self.nameless += 1
            self.pictures.append(attrs['src'])
    def handle_endtag(self, tag):
        if not self.open or self.open.pop() != tag: self.crossed.append(tag)
    def handle_data(self, data):
        self.text += data
        if self.open and self.open[-1] in ('h1', 'h2', 'h3'): self.headings[-1] += data
page = Page()
text = open(folder + 'report.html', encoding='utf-8').read()
page.feed(text)
sizes = []
for p in page.pictures:
    head, data = p.split(',', 1)
    picture = Image.open(io.BytesIO(base64.b64decode(data)))
    picture.load()
    sizes.append(picture.size)
print(json.dumps({'fetched': page.fetched, 'crossed': page.crossed, 'left': page.open,
        'scripts': page.scripts, 'nameless': page.nameless,
    'pictures': len(sizes), 'least': min(min(s)
            for s in sizes), 'url': text.count('url(http') + text.count('@import'),
    'titles': [t for t in ('Thumbnail, ep. 12', 'Corner mark', 'Channel banner', 'Page background')
            if t not in page.text],
    'levels': len(page.headings)}))
)");
    EXPECT_EQ(json["fetched"], Json::array());
    EXPECT_EQ(json["url"], 0);
    EXPECT_EQ(json["scripts"], 0);
    EXPECT_EQ(json["crossed"], Json::array()) << "every element ends where it should";
    EXPECT_EQ(json["left"], Json::array());
    EXPECT_EQ(json["nameless"], 0) << "every picture says what it shows";
    EXPECT_GE(json["pictures"].get<int>(), 13);
    EXPECT_GE(json["least"].get<int>(), 8);
    EXPECT_EQ(json["titles"], Json::array());
    EXPECT_GE(json["levels"].get<int>(), 14);
}

// Overlays by the command line against Pillow's alpha compositing.
TEST(OverReference, AgreesWithPillowWhereTheMarkStandsOnWholePx) {
    const test::Folder folder;
    test::python(folder, R"(
y, x = np.mgrid[0:240, 0:400]
Image.fromarray(np.dstack([x % 256, y, (x + y) % 256]).astype(np.uint8), 'RGB').save(folder
        + 'base.png')
y, x = np.mgrid[0:60, 0:80]
a = np.clip(300 - np.hypot(x - 40, y - 30) * 9, 0, 255)
Image.fromarray(np.dstack([255 - x * 3, y * 4, x * 0 + 70, a]).astype(np.uint8),
        'RGBA').save(folder + 'mark.png')
print('[]')
)");
    struct Case {
        const char *words, *at;
        double opacity;
    };
    for (const Case& c : {Case{"--at top-left --inset 10,20", "(10, 20)", 1},
                          Case{"--at bottom-right --inset 5,7", "(400 - 80 - 5, 240 - 60 - 7)", 1},
                          Case{"--at centre --opacity 0.4", "(160, 90)", 0.4}}) {
        zledge(folder, std::string("over base.png mark.png --out over.png --replace ") + c.words);
        const Json json = test::python(
            folder, "at, opacity = " + std::string(c.at) + ", " + std::to_string(c.opacity) + R"(
base = Image.open(folder + 'base.png').convert('RGBA')
mark = np.array(Image.open(folder + 'mark.png')).astype(float)
expected = np.array(base.convert('RGB')).astype(float)
part = expected[at[1]:at[1] + 60, at[0]:at[0] + 80]
a = mark[..., 3:] / 255 * opacity
expected[at[1]:at[1] + 60, at[0]:at[0] + 80] = mark[..., :3] * a + part * (1 - a)
worst = np.abs(np.array(Image.open(folder + 'over.png').convert('RGB')).astype(float)
        - expected).max()
if opacity == 1:
    whole = Image.new('RGBA', base.size, (0, 0, 0, 0))
    whole.paste(Image.open(folder + 'mark.png'), at)
    pillow = np.abs(np.array(Image.alpha_composite(base, whole).convert('RGB')).astype(float)
            - np.array(Image.open(folder + 'over.png').convert('RGB'))).max()
else: pillow = 0
print(json.dumps({'worst': float(worst), 'pillow': float(pillow)}))
)");
        EXPECT_LE(json["worst"].get<double>(), 0.51)
            << c.words << ": double precision before rounding";
        EXPECT_LE(json["pillow"].get<double>(), 1) << c.words;
    }
}

// resize: padding stands where Pillow puts it, and nothing is stretched.
TEST(ResizeReference, PadsAndContainsAsPillowDoes) {
    const test::Folder folder;
    test::python(folder, R"(
y, x = np.mgrid[0:300, 0:400]
Image.fromarray(np.dstack([x / 2, y / 2, (x + y) / 4]).astype(np.uint8), 'RGB').save(folder
        + 'in.png')
print('[]')
)");
    zledge(folder, "resize in.png --size 320x180 --fit pad --pad-colour '#C02040' --out pad.png");
    zledge(folder, "resize in.png --size 320x180 --fit contain --out contain.png");
    zledge(folder, "resize in.png --size 320x180 --fit cover --out cover.png");
    const Json json = test::python(folder, R"(
src = Image.open(folder + 'in.png')
def off(name, expected, rim=0):
    drawn = np.array(Image.open(folder + name).convert('RGB')).astype(float)
    expected = np.array(expected).astype(float)
    if drawn.shape != expected.shape: return [list(drawn.shape), list(expected.shape)]
    d = np.abs(drawn - expected)
    return float(d[rim:d.shape[0] - rim, rim:d.shape[1] - rim].max()) if rim else float(d.mean())
inner = src.resize((240, 180), Image.BICUBIC)
padded = Image.new('RGB', (320, 180), '#C02040')
padded.paste(inner, (40, 0))
drawn = np.array(Image.open(folder + 'pad.png').convert('RGB'))
print(json.dumps({'pad': off('pad.png', padded), 'contain': off('contain.png', inner, 3),
        'cover': off('cover.png', ImageOps.fit(src, (320, 180), Image.BICUBIC), 3),
    'rim': [drawn[90, 5].tolist(), drawn[90, 315].tolist()]}))
)");
    EXPECT_LE(json["pad"].get<double>(), 0.6);
    EXPECT_LE(json["contain"].get<double>(), 1.5);
    EXPECT_LE(json["cover"].get<double>(), 1.5);
    EXPECT_EQ(json["rim"], (Json{{192, 32, 64}, {192, 32, 64}}));
}

}  // namespace
}  // namespace zl
