// SPDX-License-Identifier: GPL-3.0-or-later
// Readings of made-up files, worked out again by NumPy from what docs/readings.md says of them.
#include "python.h"

namespace zl {
namespace {

// What `check` says of a file in the folder, whatever its verdict; by reading.
std::map<std::string, Json> checked(const test::Folder& folder, const std::string& file,
                                    const std::string& brief) {
    const std::string line = "cd '" + folder.path().string() + "' && '" + test::zledgeProgram() +
                             "' check " + file + " --brief " + brief + " --json >.out 2>.err";
    const int code = ::system(line.c_str());
    if (WEXITSTATUS(code) > 1)
        throw std::runtime_error(line + '\n' + test::textOf(test::good(readFile(folder / ".err"))));
    std::map<std::string, Json> by;
    const Json all =
        test::good(parseJson(test::good(readFile(folder / ".out")), "what check printed"));
    for (const Json& reading : all["readings"]) by[reading["id"]] = reading;
    return by;
}

// Blobs of a few colours with soft edges, some of them past the border: eight marks, and what NumPy
// counts in each.
constexpr const char* marks = R"(
from scipy.ndimage import maximum_filter, minimum_filter
out = []
for seed in range(8):
    r = np.random.default_rng(seed)
    n = 150
    y, x = np.mgrid[0:n, 0:n] + 0.5
    rgb, alpha = np.zeros((n, n, 3)), np.zeros((n, n))
    for i in range(2 + seed % 4):
        cx, cy, rad, soft = r.uniform(20, 120), r.uniform(20, 120), r.uniform(8, 34), r.uniform(0.5,
                5)
        a = np.clip((rad - np.hypot(x - cx, y - cy)) / soft + 0.5, 0, 1)
        c = r.integers(0, 256, 3)
        rgb = np.where((a > alpha)[..., None], c, rgb)
        alpha = np.maximum(alpha, a)
    px = np.dstack([rgb, np.round(alpha * 255)]).astype(np.uint8)
    Image.fromarray(px, 'RGBA').save(folder + f'mark-{seed}.png')
    a = px[..., 3].astype(np.int64)
    def boxed(least):
        ys, xs = np.nonzero(a >= least)
        return [int(xs.min()), int(ys.min()), int(xs.max()) + 1, int(ys.max()) + 1]
    box, solid = boxed(24), boxed(128)
    # Each direction by the nearest of box, solid box and centre of mass, less twice what they
    # differ by; 0 where it is filled to 85 %.
    mass = [(a * x).sum() / a.sum(), (a * y).sum() / a.sum()]
    def off(i):
        if box[i + 2] - box[i] >= 0.85 * n: return 0
        v = [(box[i] + box[i + 2] - n) / 2, (solid[i] + solid[i + 2] - n) / 2, mass[i] - n / 2]
        if min(v) <= 0 <= max(v): return 0
        return max(0, min(abs(min(v)), abs(max(v))) - 2 * (max(v) - min(v)))
    # Inks: plain where the ink of a 3 x 3 differs by at most 8; shades that run into
    # each other are one.
    c = px[..., :3].astype(int)
    ink = (a >= 128)[..., None]
    span = maximum_filter(np.where(ink, c, 0), (3, 3, 1),
            mode='nearest') - minimum_filter(np.where(ink, c, 255), (3, 3, 1), mode='nearest')
    plain = (span.max(-1) <= 8) & (a > 0)
    cells = {}
    for cell, w in zip(map(tuple, (c[plain] >> 3).tolist()),
            a[plain].tolist()): cells[cell] = cells.get(cell, 0) + w
    total = sum(cells.values())
    kept, covered = [], 0
    for cell, w in sorted(cells.items(), key=lambda v: (-v[1], v[0])):
        if covered >= 0.99 * total: break
        kept.append((cell, w)); covered += w
    left, few = list(kept), 0
    while left:
        group, todo = 0, [left.pop(0)]
        while todo:
            one, w = todo.pop(); group += w
            near = [o for o in left if max(abs(p - q) for p, q in zip(one, o[0])) <= 3]
            left = [o for o in left if o not in near]; todo += near
        few += group >= 0.02 * total
    out.append({'clear': float((a <= 127).mean()), 'shares': [float((a == 0).mean()),
            float(((a > 0) & (a < 255)).mean()), float((a == 255).mean())],
                'off': float(np.hypot(off(0), off(1))), 'colours': int(few), 'box': box})
print(json.dumps(out))
)";

TEST(ReadingsReference, CoverageMarginsAndColoursAreWhatNumPyCounts) {
    const test::Folder folder;
    const Json expected = test::python(folder, marks);
    ASSERT_EQ(expected.size(), 8u);
    for (std::size_t i = 0; i < expected.size(); ++i) {
        auto by = checked(folder, "mark-" + std::to_string(i) + ".png", "corner-mark");
        const Json& e = expected[i];
        EXPECT_NEAR(by["coverage"]["value"].get<double>(), e["clear"].get<double>(), 1e-6) << i;
        EXPECT_NEAR(by["margins"]["value"].get<double>(), e["off"].get<double>(), 1e-6) << i;
        EXPECT_EQ(by["colours"]["value"].get<int>(), e["colours"].get<int>()) << i;
        // A rim over a quarter of its side is a watch, and the rims are those of the box.
        const auto box = e["box"].get<std::array<int, 4>>();
        const bool wide =
            box[0] > 37.5 || box[1] > 37.5 || 150 - box[2] > 37.5 || 150 - box[3] > 37.5;
        if (wide) {
            EXPECT_NE(by["margins"]["verdict"], "pass") << i;
        }
    }
}

// The share of the ink that every device of a banner sees, and that an overlay keeps in its safe
// area and out of the play area; on frames where zones end within a pixel, too.
constexpr const char* zones = R"(
import os
def cover(low, high, n):
    i = np.arange(n)
    return np.clip(np.minimum(i + 1, high) - np.maximum(i, low), 0, 1)
def weight(rect, w, h):
    return np.outer(cover(rect[1] * h, rect[3] * h, h), cover(rect[0] * w, rect[2] * w, w))
out = []
for name, brief, w, h in [('banner', 'channel-banner', 2560, 1440), ('odd', 'channel-banner', 2571,
        1447), ('overlay', 'stream-overlay', 1920, 1080), ('screen', 'stream-overlay', 1366, 769)]:
    r = np.random.default_rng(w)
    alpha = np.zeros((h, w))
    y, x = np.mgrid[0:h, 0:w] + 0.5
    for i in range(5):
        alpha = np.maximum(alpha, np.clip((r.uniform(0.02, 0.1) * w - np.hypot(x - r.uniform(0.1,
                0.9) * w, y - r.uniform(0.1, 0.9) * h)) / 9, 0, 1))
    a = np.round(alpha * 255)
    Image.fromarray(np.dstack([a * 0 + 200, a * 0 + 90, a * 0 + 40, a]).astype(np.uint8),
            'RGBA').save(folder + name + '.png', compress_level=1)
    facts = json.load(open(os.path.join(briefs, brief + '.json')))
    inside, clear, devices = np.ones((h, w)), np.zeros((h, w)), []
    allowed = True
    for z in facts['zones']:
        part = weight(z['rect'], w, h)
        if z['role'] == 'keep-inside': inside = np.minimum(inside, part)
        elif z['role'] == 'keep-clear':
            clear = np.maximum(clear, part)
            if 'allowance' in z: allowed = (a * part).sum() / 255 / part.sum() <= z['allowance']
        else: devices.append(part)
    shares = [float((a * np.minimum(d, inside) * (1 - clear)).sum() / a.sum())
            for d in devices or [np.ones((h, w))]]
    out.append({'file': name + '.png', 'brief': brief, 'least': min(shares),
            'allowed': bool(allowed)})
print(json.dumps(out))
)";

TEST(ReadingsReference, ZonesCountTheInkThatNumPyCounts) {
    const test::Folder folder;
    const Json expected = test::python(
        folder, "briefs = '" + test::sourceFolder() + "/data/briefs'\n" + std::string(zones));
    ASSERT_EQ(expected.size(), 4u);
    for (const Json& e : expected) {
        auto by = checked(folder, e["file"], e["brief"]);
        EXPECT_NEAR(by["zones"]["value"].get<double>(), e["least"].get<double>(), 2e-5) << e.dump();
        if (!e["allowed"].get<bool>()) {
            EXPECT_EQ(by["zones"]["verdict"], "fail") << e.dump();
        }
        EXPECT_LT(e["least"].get<double>(), 0.999)
            << "something is lost, or nothing would be tested";
    }
}

// Bars of black with a little noise round a picture; Rec. ITU-R BT.709 luma of each line by NumPy.
TEST(ReadingsReference, BlackBarsAreAsThickAsNumPySeesThem) {
    const test::Folder folder;
    const Json expected = test::python(folder, R"(
out = []
for seed, (top, bottom, left, right) in enumerate([(90, 90, 0, 0), (0, 0, 160, 161), (7, 9, 0, 0),
        (6, 6, 0, 0), (40, 0, 0, 0), (0, 0, 0, 0)]):
    r = np.random.default_rng(seed)
    px = r.integers(60, 256, (720, 1280, 3))
    dark = r.integers(0, 4, (720, 1280, 1)) + np.array([[[2, 2, 2]]])
    mask = np.zeros((720, 1280, 1), bool)
    mask[:top], mask[720 - bottom:], mask[:, :left], mask[:, 1280 - right:] = True, True, True, True
    px = np.where(mask, dark, px).astype(np.uint8)
    Image.fromarray(px, 'RGB').save(folder + f'film-{seed}.png', compress_level=1)
    luma = px.astype(float) @ [0.2126, 0.7152, 0.0722]
    def thick(lines, least):
        n = 0
        while n < len(lines) and lines[n].max() <= 20 and lines[:n + 1].max() - lines[:n
                + 1].min() <= 4: n += 1
        return n if n >= least else 0
    t, b, l, g = thick(luma, 7.2), thick(luma[::-1], 7.2), thick(luma.T, 12.8), thick(luma.T[::-1],
            12.8)
    out.append((t + b if t and b else 0) + (l + g if l and g else 0))
print(json.dumps(out))
)");
    EXPECT_EQ(expected, (Json{180, 321, 0, 0, 0, 0})) << "the script's own pictures";
    for (std::size_t i = 0; i < expected.size(); ++i) {
        auto by = checked(folder, "film-" + std::to_string(i) + ".png", "video-thumbnail");
        EXPECT_EQ(by["black-bars"]["value"].get<int>(), expected[i].get<int>()) << i;
        EXPECT_EQ(by["black-bars"]["verdict"], expected[i].get<int>() > 0 ? "fail" : "pass") << i;
    }
}

// Ink that the border cuts: px of border where a run of it is at least 70 % as long as 3 px further
// in.
TEST(ReadingsReference, WhatTheBorderCutsIsFoundByScikitImageToo) {
    const test::Folder folder;
    const Json expected = test::python(folder, R"(
from skimage.measure import label
out = []
y, x = np.mgrid[0:150, 0:150] + 0.5
for i, (cx, cy, rad) in enumerate([(75, 75, 60), (20, 75, 40), (75, 75, 73.5), (110, 20, 50), (75,
        160, 60)]):
    a = np.clip(rad - np.hypot(x - cx, y - cy) + 0.5, 0, 1)
    px = np.dstack([a * 0 + 20, a * 0 + 90, a * 0 + 160, np.round(a * 255)]).astype(np.uint8)
    Image.fromarray(px, 'RGBA').save(folder + f'cut-{i}.png')
    ink = px[..., 3] >= 24
    total = 0
    for m in (ink, ink[::-1], ink.T, ink.T[::-1]):
        runs = label(m[0][None, :])[0]
        for k in range(1, runs.max() + 1):
            at = np.nonzero(runs == k)[0]
            inner = label(m[3][None, :])[0]
            over = {int(v) for v in inner[at] if v} or {0}
            length = sum(int((inner == v).sum()) for v in over if v)
            if len(at) >= 0.7 * max(1, length): total += len(at)
    out.append(total)
print(json.dumps(out))
)");
    ASSERT_EQ(expected.size(), 5u);
    for (std::size_t i = 0; i < expected.size(); ++i) {
        auto by = checked(folder, "cut-" + std::to_string(i) + ".png", "corner-mark");
        EXPECT_EQ(by["cut-off"]["value"].get<int>(), expected[i].get<int>()) << i;
        EXPECT_EQ(by["cut-off"]["verdict"] == "pass", expected[i].get<int>() == 0) << i;
    }
}

}  // namespace
}  // namespace zl
