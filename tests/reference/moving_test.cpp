// SPDX-License-Identifier: GPL-3.0-or-later
// Burned-in marks, moving pieces and legibility, against FFmpeg's own program and NumPy.
#include "edit/edits.h"
#include "film/clip_frames.h"
#include "python.h"
#include "store/kit_file.h"
#include "video/write.h"

namespace zl {
namespace {

using test::zledge;

constexpr const char* tools = R"(
import subprocess
def ffmpeg(*words):
    subprocess.run(['ffmpeg', '-v', 'error', '-y', *words], check=True)
def raw(name, *words):
    out = subprocess.run(['ffmpeg', '-v', 'error', '-noautorotate', '-i', folder + name, '-map',
        '0:v:0', '-vsync', 'passthrough', *words, '-f', 'rawvideo', '-'], capture_output=True,
        check=True).stdout
    return np.frombuffer(out, np.uint8)
def times(name, stream='v'):
    out = subprocess.run(['ffprobe', '-v', 'error', '-select_streams', stream, '-show_entries',
        'frame=best_effort_timestamp', '-of', 'csv=p=0', folder + name], capture_output=True,
        text=True, check=True).stdout
    return [int(line.strip(',')) for line in out.split() if line.strip(',').isdigit()]
def packets(name, stream='a'):
    return subprocess.run(['ffmpeg', '-v', 'error', '-i', folder + name, '-map', '0:' + stream,
        '-c', 'copy', '-f', 'streamhash', '-'], capture_output=True, text=True, check=True).stdout
)";

// ITU-R BT.601's matrix (those clips are too low for BT.709) in double precision; chroma is kept at
// every second place, left-sited as ITU-T H.273's type 0 says: [1 2 1]/4 across, [1 1]/2 down.
TEST(BurnReference, IsTheBlendOfThePlanesAndTouchesNothingElse) {
    const test::Folder folder;
    static_cast<void>(test::python(folder, std::string(tools) + R"(
y, x = np.mgrid[0:41, 0:61]
a = np.clip(20 - np.hypot(x - 30, (y - 20) * 1.5), 0, 1) * 0.8
mark = np.zeros((41, 61, 4), np.uint8)
mark[..., 0] = 40 + 3 * x
mark[..., 1] = 220 - 4 * y
mark[..., 2] = 90
mark[..., 3] = np.rint(255 * a)
mark[mark[..., 3] == 0] = 0
Image.fromarray(mark, 'RGBA').save(folder + 'mark.png')
ffmpeg('-f', 'lavfi', '-i', 'testsrc2=s=480x270:r=30:d=1', '-c:v', 'libx264', '-bf', '3',
    '-pix_fmt', 'yuv420p', folder + 'clip.mp4')
ffmpeg('-f', 'lavfi', '-i', 'testsrc2=s=480x270:r=10:d=0.5', '-c:v', 'ffv1', '-pix_fmt',
    'yuv444p10le', folder + 'ten.mkv')
print('{}')
)"));
    for (const char* inset : {"20,12", "21,13", "22,13"})
        zledge(folder, "burn clip.mp4 --mark mark.png --at top-left --inset " + std::string(inset) +
                           " --opacity 0.75 --quality lossless --out " + std::string(inset) +
                           ".mkv");
    zledge(folder,
           "burn ten.mkv --mark mark.png --at top-left --inset 33,17 --quality lossless --out "
           "tenth.mkv");
    const Json told = test::python(folder, std::string(tools) + R"(
mark = np.array(Image.open(folder + 'mark.png')).astype(float) / 255
kr, kb = 0.299, 0.114
def planes(left, top, w, h, weight):
    full = np.zeros((h, w, 4)); full[top:top + 41, left:left + 61] = mark
    r, g, b, a = [full[..., i] for i in range(4)]
    light = kr * r + (1 - kr - kb) * g + kb * b
    return a * weight, light, (b - light) / (2 * (1 - kb)), (r - light) / (2 * (1 - kr))
def sited(p):
    q = (p[0::2] + p[1::2]) / 2
    before = np.concatenate([q[:, :1], q[:, :-1]], 1)
    after = np.concatenate([q[:, 1:], q[:, -1:]], 1)
    return ((before + 2 * q + after) / 4)[:, ::2]
out = {'worst': 0, 'outside': 0}
w, h = 480, 270
size = w * h * 3 // 2
before = raw('clip.mp4').reshape(-1, size).astype(int)
for inset in ('20,12', '21,13', '22,13'):
    left, top = map(int, inset.split(','))
    after = raw(inset + '.mkv').reshape(-1, size).astype(int)
    assert len(after) == len(before) == 30
    a, light, cb, cr = planes(left, top, w, h, 0.75)
    small = sited(a)
    parts = [(0, w * h, (h, w), a, a * (16 + 219 * light)),
        (w * h, w * h // 4, (h // 2, w // 2), small, sited(a * (128 + 224 * cb))),
        (w * h * 5 // 4, w * h // 4, (h // 2, w // 2), small, sited(a * (128 + 224 * cr)))]
    for frame in (0, 11, 29):
        for at, count, shape, alpha, ink in parts:
            was = before[frame][at:at + count].reshape(shape)
            now = after[frame][at:at + count].reshape(shape)
            out['worst'] = max(out['worst'], np.abs(now - (was * (1 - alpha) + ink)).max())
            out['outside'] += int((now != was)[alpha == 0].sum())
def words(name): return raw(name).view(np.uint16).reshape(-1, 3, h, w).astype(int)
was, now = words('ten.mkv'), words('tenth.mkv')
a, light, cb, cr = planes(33, 17, w, h, 1)
for i, code in enumerate((4 * (16 + 219 * light), 4 * (128 + 224 * cb), 4 * (128 + 224 * cr))):
    out['ten'] = max(out.get('ten', 0), np.abs(now[2, i] - (was[2, i] * (1 - a) + a * code)).max())
    out['outside'] += int((now[:, i] != was[:, i])[:, a == 0].sum())
print(json.dumps(out))
)");
    EXPECT_LE(told["worst"].get<double>(), 0.5 + 1e-3) << "of 255 codes, at even and odd places";
    EXPECT_LE(told["ten"].get<double>(), 0.5 + 4e-3) << "of 1,023 codes";
    EXPECT_EQ(told["outside"], 0) << "samples that the mark does not reach";
}

TEST(BurnReference, KeepsSoundTimesChaptersTurnAndTags) {
    const test::Folder folder;
    static_cast<void>(test::python(folder, std::string(tools) + R"(
Image.new('RGBA', (40, 20), (250, 60, 20, 255)).save(folder + 'mark.png')
open(folder + 'chapters.txt', 'w').write(''';FFMETADATA1
title=The box
[CHAPTER]
TIMEBASE=1/1000
START=0
END=900
title=First
[CHAPTER]
TIMEBASE=1/1000
START=900
END=2000
title=Second
''')
ffmpeg('-f', 'lavfi', '-i', 'testsrc2=s=480x270:r=30:d=2', '-f', 'lavfi', '-i',
    'sine=440:d=2', '-i', folder + 'chapters.txt', '-map', '0', '-map', '1', '-map_metadata', '2',
    '-vf', "select='not(mod(n,3))+between(n,20,40)',setpts=PTS+mod(N\\,5)*0.004/TB", '-vsync',
    'vfr', '-c:v', 'libx264', '-bf', '2', '-pix_fmt', 'yuv420p', '-color_primaries', 'bt709',
    '-color_trc', 'bt709', '-colorspace', 'bt709', '-c:a', 'aac', '-metadata:s:a:0',
    'language=nor', folder + 'flat.mp4')
ffmpeg('-i', folder + 'flat.mp4', '-c', 'copy', '-metadata:s:v:0', 'rotate=90', folder +
    'vary.mp4')
print('{}')
)"));
    for (const char* ending : {"mp4"})
        zledge(folder,
               std::string("burn vary.mp4 --mark mark.png --inset 9,9 --out out.") + ending);
    const Json told = test::python(folder, std::string(tools) + R"(
def facts(name):
    out = subprocess.run(['ffprobe', '-v', 'error', '-show_streams', '-show_chapters',
        '-show_format', '-of', 'json', folder + name], capture_output=True, check=True).stdout
    return json.loads(out)
was, now = facts('vary.mp4'), facts('out.mp4')
def turn(of): return [d['rotation'] for d in of['streams'][0].get('side_data_list', [])]
video, sound = now['streams'][:2]
print(json.dumps({'times': times('vary.mp4') == times('out.mp4'), 'count': len(times('out.mp4')),
    'sound': packets('vary.mp4') == packets('out.mp4'),
    'chapters': [c['tags']['title'] for c in now['chapters']],
    'starts': [float(c['start_time']) for c in now['chapters']],
    'title': now['format']['tags'].get('title'), 'language': sound['tags'].get('language'),
    'matrix': video.get('color_space'), 'base': video['time_base'] ==
    was['streams'][0]['time_base'], 'length': abs(float(video['duration']) -
    float(was['streams'][0]['duration'])),
    'turn': turn(now) == turn(was) and turn(now) != []}))
)");
    EXPECT_EQ(told["times"], true) << "every time stamp of a rate that varies";
    EXPECT_GT(told["count"].get<int>(), 20);
    EXPECT_EQ(told["sound"], true) << "the packets, bit by bit";
    EXPECT_EQ(told["chapters"], (Json{"First", "Second"}));
    EXPECT_NEAR(told["starts"][1].get<double>(), 0.9, 1e-3);
    EXPECT_EQ(told["title"], "The box");
    EXPECT_EQ(told["language"], "nor");
    EXPECT_EQ(told["matrix"], "bt709");
    EXPECT_EQ(told["base"], true);
    EXPECT_LT(told["length"].get<double>(), 0.002) << "the last frame keeps its length";
    EXPECT_EQ(told["turn"], true);
    // Shown upright, the mark stands at the lower right.
    zledge(folder, "still out.mp4 --at 0.5 --out seen.png");
    const Json seen = test::python(folder, R"(
p = np.array(Image.open(folder + 'seen.png').convert('RGB')).astype(int)
h, w = p.shape[:2]
inside = p[h - 9 - 20 + 4:h - 9 - 4, w - 9 - 40 + 4:w - 9 - 4].reshape(-1, 3).mean(axis=0)
print(json.dumps({'size': [w, h], 'off': float(np.abs(inside - [250, 60, 20]).max())}))
)");
    EXPECT_EQ(seen["size"], (Json{270, 480}));
    EXPECT_LT(seen["off"].get<double>(), 8);
}

// ITU-T H.273's BT.709, limited range, in double precision over what FFmpeg reads back of a
// lossless H.264; chroma sited left, [1 2 1]/4 across and [1 1]/2 down.
TEST(WrittenReference, SamplesAreTheFormulaWithinHalfACode) {
    const test::Folder folder;
    const Straight8 picture = test::noisy({96, 54});
    VideoPlan plan;
    plan.size = picture.size();
    plan.quality = 0;
    plan.into = folder / "a.mp4";
    auto sink = test::good(writeVideo(plan));
    for (int n = 0; n < 3; ++n) ASSERT_TRUE(sink->picture(picture));
    ASSERT_TRUE(sink->finish());
    ASSERT_TRUE(writeFile(folder / "a.png", test::png(picture), Replace::no));
    const Json told = test::python(folder, std::string(tools) + R"(
rgb = np.array(Image.open(folder + 'a.png').convert('RGB')).astype(float) / 255
r, g, b = [rgb[..., i] for i in range(3)]
kr, kb = 0.2126, 0.0722
light = kr * r + (1 - kr - kb) * g + kb * b
def sited(p):
    q = (p[0::2] + p[1::2]) / 2
    before = np.concatenate([q[:, :1], q[:, :-1]], 1)
    after = np.concatenate([q[:, 1:], q[:, -1:]], 1)
    return ((before + 2 * q + after) / 4)[:, ::2]
want = [16 + 219 * light, sited(128 + 224 * (b - light) / (2 * (1 - kb))),
    sited(128 + 224 * (r - light) / (2 * (1 - kr)))]
frames = raw('a.mp4').reshape(3, -1)
out = {'same': bool((frames[0] == frames[2]).all()), 'worst': 0}
at = 0
for plane in want:
    count = plane.size
    got = frames[1][at:at + count].reshape(plane.shape).astype(float)
    out['worst'] = max(out['worst'], float(np.abs(got - plane).max()))
    at += count
facts = json.loads(subprocess.run(['ffprobe', '-v', 'error', '-show_streams', '-of', 'json',
    folder + 'a.mp4'], capture_output=True, check=True).stdout)['streams'][0]
out['tags'] = [facts.get(k) for k in ('color_range', 'color_space', 'color_primaries')]
print(json.dumps(out))
)");
    EXPECT_LE(told["worst"].get<double>(), 0.501);
    EXPECT_EQ(told["same"], true);
    EXPECT_EQ(told["tags"], (Json{"tv", "bt709", "bt709"}));
}

// FFmpeg's own FFV1 decoder reads back what `render` draws at each moment, pixel for pixel, and
// as much sound as the piece is long.
TEST(MovingReference, EachFrameIsWhatRenderDrawsAtItsMoment) {
    const test::Folder folder;
    static_cast<void>(test::python(folder, std::string(tools) + R"(
ffmpeg('-f', 'lavfi', '-i', 'testsrc2=s=320x180:r=25:d=2', '-f', 'lavfi', '-i', 'sine=440:d=2',
    '-c:v', 'libx264', '-bf', '2', '-pix_fmt', 'yuv420p', '-c:a', 'aac', folder + 'clip.mp4')
print('{}')
)"));
    Kit kit = test::good(withClipOf(test::kitWith("free-frame", {320, 180}), "p",
                                    folder / "clip.mp4", folder / "kit.zlkit"));
    Layer clip = kit.pieces[0].layers[0], bar;
    clip.picture()->place = {20.5, 10, 240, 135};  // resampled
    clip.picture()->tone.contrast = 20;
    bar.name = "bar";
    bar.what = BarLayer{};
    std::get<BarLayer>(bar.what).place = {100, 90, 200, 60};
    bar.shows = ShowTime{0.4, 1.6, 0.4};
    bar.opacity = 0.8;
    kit = test::good(withLayer(test::good(withChangedLayer(kit, "p", clip)), "p", bar));
    ASSERT_TRUE(saveKit(kit, folder / "kit.zlkit", Replace::no));
    zledge(folder, "render kit.zlkit --piece p --out whole.mkv");
    for (const char* at : {"0.00", "0.52", "0.76", "1.00", "1.56", "1.96"})
        zledge(folder,
               std::string("render kit.zlkit --piece p --at ") + at + " --out at-" + at + ".png");
    const Json told = test::python(folder, std::string(tools) + R"(
frames = raw('whole.mkv', '-pix_fmt', 'bgra').reshape(-1, 180, 320, 4)[..., [2, 1, 0, 3]]
wrong = {}
for at in ('0.00', '0.52', '0.76', '1.00', '1.56', '1.96'):
    still = np.array(Image.open(folder + f'at-{at}.png').convert('RGBA'))
    wrong[at] = int((frames[round(float(at) * 25)] != still).sum())
sound = subprocess.run(['ffmpeg', '-v', 'error', '-i', folder + 'whole.mkv', '-map', '0:a', '-f',
    's16le', '-'], capture_output=True, check=True).stdout
print(json.dumps({'frames': len(frames), 'wrong': wrong, 'samples': len(sound) // 4}))
)");
    EXPECT_EQ(told["frames"], 50);
    EXPECT_EQ(told["wrong"].size(), 6u);
    for (const auto& [at, count] : told["wrong"].items()) EXPECT_EQ(count, 0) << at;
    EXPECT_NEAR(told["samples"].get<int>(), 2 * 48'000, 1);
}

// WCAG 2.2's relative luminance and contrast over FFmpeg's own frames: the share of a white disc's
// rim across which 3 : 1 is reached, as the reading counts it (its edges within 2 px).
TEST(LegibleReference, IsWhatNumpyCountsOverFfmpegsFrames) {
    const test::Folder folder;
    static_cast<void>(test::python(folder, std::string(tools) + R"(
y, x = np.mgrid[0:64, 0:64] + 0.5
a = np.clip(28 - np.hypot(x - 32, y - 32) + 0.5, 0, 1)
mark = np.full((64, 64, 4), 255, np.uint8)
mark[..., 3] = np.rint(255 * a)
mark[mark[..., 3] == 0] = 0
Image.fromarray(mark, 'RGBA').save(folder + 'mark.png')
# A ground that goes from light to dark across and in time.
ffmpeg('-f', 'lavfi', '-i', "nullsrc=s=480x270:r=8:d=3,geq=lum='clip(235-X*0.35-N*3,16,235)':"
    'cb=128:cr=128', '-c:v', 'libx264', '-qp', '0', '-bf', '0', '-g', '1', '-pix_fmt', 'yuv420p',
    folder + 'ground.mp4')
print('{}')
)"));
    zledge(folder, "legible mark.png --over ground.mp4 --at centre --json > told.json || true");
    const Json told = test::python(folder, std::string(tools) + R"(
told = json.load(open(folder + 'told.json'))
frames = raw('ground.mp4', '-pix_fmt', 'rgb24', '-sws_flags',
    'accurate_rnd+full_chroma_int+bicubic').reshape(-1, 270, 480, 3).astype(float)
mark = np.array(Image.open(folder + 'mark.png')).astype(float)
alpha = mark[..., 3]
def luminance(p):
    v = p / 255
    v = np.where(v <= 0.04045, v / 12.92, ((v + 0.055) / 1.055) ** 2.4)
    return v @ [0.2126, 0.7152, 0.0722]
def around(p, pick):
    out = p.copy()
    for dy in range(-2, 3):
        for dx in range(-2, 3):
            q = np.roll(np.roll(p, dy, 0), dx, 1)
            out = pick(out, q)
    return out
least, most = around(alpha, np.minimum), around(alpha, np.maximum)
edge = (alpha >= 90) & (most > 127) & (least < 90)
weight = most[edge] / 255
worst = 0
for sample in told['samples']:
    frame = frames[round(sample['time'] * 8)]
    behind = frame[103:103 + 64, 208:208 + 64]
    a = alpha[..., None] / 255
    seen = np.floor(mark[..., :3] * a + behind * (1 - a) + 0.5)
    light = luminance(seen)
    ratio = (around(light, np.maximum) + 0.05) / (around(light, np.minimum) + 0.05)
    share = (weight * (ratio[edge] >= 3)).sum() / weight.sum()
    worst = max(worst, abs(share - sample['share']))
shares = [s['share'] for s in told['samples']]
print(json.dumps({'worst': worst, 'count': len(shares), 'low': min(shares), 'high': max(shares)}))
)");
    EXPECT_GE(told["count"].get<int>(), 10);
    EXPECT_LT(told["worst"].get<double>(), 0.01) << "within a point";
    EXPECT_LT(told["low"].get<double>(), 0.25);
    EXPECT_GT(told["high"].get<double>(), 0.8);
}

}  // namespace
}  // namespace zl
