// SPDX-License-Identifier: GPL-3.0-or-later
// Stills against FFmpeg's own program: the frame that is asked for and no other, in every kind of
// file; its colours against ITU-R BT.601's and BT.709's matrices in double precision.
#include <algorithm>

#include "python.h"

namespace zl {
namespace {

using test::zledge;

// Clips of 480 x 270, every frame another one.
constexpr const char* clips = R"(
import subprocess, random
def ffmpeg(*words):
    subprocess.run(['ffmpeg', '-v', 'error', '-y', *words], check=True)
source = ['-f', 'lavfi', '-i', 'testsrc2=s=480x270:r=30:d=2']
def clip(name, *words):
    ffmpeg(*source, *words, folder + name)
x264 = ['-c:v', 'libx264', '-bf', '3', '-g', '24', '-pix_fmt', 'yuv420p']
clip('h264.mp4', *x264)
ffmpeg('-i', folder + 'h264.mp4', '-c', 'copy', folder + 'copied.mkv')
ffmpeg('-i', folder + 'h264.mp4', '-c', 'copy', folder + 'stream.ts')
ffmpeg('-i', folder + 'h264.mp4', '-c', 'copy', '-bsf:v', 'h264_mp4toannexb', folder + 'bare.h264')
clip('mpeg4.avi', '-c:v', 'mpeg4', '-bf', '2', '-g', '20')
clip('mpeg2.mpg', '-c:v', 'mpeg2video', '-bf', '2', '-g', '15', '-pix_fmt', 'yuv420p')
clip('vp9.webm', '-c:v', 'libvpx-vp9', '-cpu-used', '8', '-deadline', 'realtime')
clip('hevc10.mp4', '-c:v', 'libx265', '-x265-params', 'log-level=error', '-pix_fmt', 'yuv420p10le')
clip('prores.mov', '-c:v', 'prores_ks', '-profile:v', '4444', '-pix_fmt', 'yuva444p10le')
clip('vary.mp4', '-vf', "select='not(mod(n,5))+lt(n,20)'", '-vsync', 'vfr', *x264)
clip('full.mkv', '-c:v', 'ffv1', '-pix_fmt', 'yuv444p')
clip('older.avi', '-c:v', 'msmpeg4', '-g', '20', '-q:v', '3')
def frames(name):
    raw = subprocess.run(['ffmpeg', '-v', 'error', '-noautorotate', '-i', folder + name, '-map',
        '0:v:0', '-vsync', 'passthrough', '-pix_fmt', 'rgb24', '-sws_flags',
        'accurate_rnd+full_chroma_int+bicubic', '-f', 'rawvideo', '-'], capture_output=True,
        check=True).stdout
    return np.frombuffer(raw, np.uint8).reshape(-1, 270, 480, 3).astype(int)
)";

const std::vector<std::string> names{"h264.mp4",   "copied.mkv", "stream.ts", "bare.h264",
                                     "mpeg4.avi",  "mpeg2.mpg",  "vp9.webm",  "hevc10.mp4",
                                     "prores.mov", "vary.mp4",   "full.mkv",  "older.avi"};

TEST(StillReference, IsTheFrameThatWasAskedForInEveryKindOfFile) {
    const test::Folder folder;
    const Json counts =
        test::python(folder, std::string(clips) + "print(json.dumps({n: len(frames(n)) for n in " +
                                 written(OrderedJson(names)) + "}))");
    for (const std::string& name : names) {
        const auto all = counts[name].get<int>();
        // The first, the last, those round a key frame, and some between.
        for (const int at : {0, all / 2, all - 1})
            zledge(folder, "still " + name + " --at '#" + std::to_string(at) + "' --out " + name +
                               "-" + std::to_string(at) + ".png");
    }
    const Json wrong =
        test::python(folder, std::string(clips).substr(0, std::string(clips).find("source =")) +
                                 std::string(clips).substr(std::string(clips).find("def frames")) +
                                 R"(
import glob, os
wrong = []
for path in sorted(glob.glob(folder + '*-*.png')):
    name, at = os.path.basename(path)[:-4].rsplit('-', 1)
    # Every third pixel tells one frame of them from the others.
    if name not in globals().setdefault('known', {}): known[name] = frames(name)[:, ::3, ::3]
    still = np.array(Image.open(path).convert('RGB')).astype(int)[::3, ::3]
    errors = ((known[name] - still) ** 2).mean(axis=(1, 2, 3))
    if errors.argmin() != int(at): wrong.append([name, int(at), int(errors.argmin())])
print(json.dumps({'wrong': wrong, 'looked': len(glob.glob(folder + '*-*.png'))}))
)");
    EXPECT_EQ(wrong["wrong"].size(), 0u) << wrong["wrong"].dump();
    EXPECT_EQ(wrong["looked"], 36);
}

// Without chroma to be filled in nothing but the matrix is left: within half a code of it.
TEST(StillReference, HasTheColoursOfTheMatrix) {
    const test::Folder folder;
    static_cast<void>(test::python(folder, R"(
import subprocess
for name, matrix, size in (('low', 'bt470bg', '480x270'), ('high', 'bt709', '1280x720')):
    words = ['-f', 'lavfi', '-i', f'testsrc2=s={size}:r=5:d=1', '-c:v', 'ffv1']
    subprocess.run(['ffmpeg', '-v', 'error', '-y', *words, '-pix_fmt', 'yuv444p',
        folder + name + '.mkv'], check=True)
print('{}')
)"));
    for (const char* name : {"low", "high"})
        zledge(folder, std::string("still ") + name + ".mkv --at 0.4 --out " + name + ".png");
    const Json worst = test::python(folder, R"(
import subprocess
out = {}
for name, kr, kb, w, h in (('low', 0.299, 0.114, 480, 270), ('high', 0.2126, 0.0722, 1280, 720)):
    raw = subprocess.run(['ffmpeg', '-v', 'error', '-i', folder + name + '.mkv', '-f', 'rawvideo',
        '-pix_fmt', 'yuv444p', '-'], capture_output=True, check=True).stdout
    y, cb, cr = np.frombuffer(raw, np.uint8).reshape(-1, 3, h, w)[2].astype(float)
    y, cb, cr = (y - 16) / 219, (cb - 128) / 224, (cr - 128) / 224
    r, b = y + 2 * (1 - kr) * cr, y + 2 * (1 - kb) * cb
    g = (y - kr * r - kb * b) / (1 - kr - kb)
    exact = np.clip(np.stack([r, g, b], 2), 0, 1) * 255
    still = np.array(Image.open(folder + name + '.png').convert('RGB')).astype(float)
    out[name] = float(np.abs(exact - still).max())
print(json.dumps(out))
)");
    EXPECT_LE(worst["low"].get<double>(), 0.51);
    EXPECT_LE(worst["high"].get<double>(), 0.51);
}

// Colour at every second place, filled in along straight lines from where it is sited (ITU-T H.273,
// figure 1), as NumPy's own interpolation does it; at odd sizes, too.
TEST(StillReference, FillsInColourFromWhereItIsSited) {
    const test::Folder folder;
    const Json made = test::python(folder, R"(
import subprocess
out = []
for siting in ('left', 'center', 'topleft', 'top'):
    for form, size, full in (('yuv420p', '161x91', 'tv'), ('yuv420p', '160x90', 'pc'),
            ('yuv422p', '161x90', 'tv')):
        name = f'{siting}-{form}-{full}'
        subprocess.run(['ffmpeg', '-v', 'error', '-y', '-f', 'lavfi', '-i',
            f'testsrc2=s={size}:r=5:d=0.4,format={form}', '-vf', f'setparams=range={full}',
            '-c:v', 'ffv1', '-colorspace', 'bt709', '-color_primaries', 'bt709', '-color_trc',
            'bt709', '-color_range', full, '-chroma_sample_location', siting,
            folder + name + '.mkv'], check=True)
        told = subprocess.run(['ffprobe', '-v', 'error', '-select_streams', 'v', '-show_entries',
            'stream=chroma_location,color_range', '-of', 'csv=p=0', folder + name + '.mkv'],
            capture_output=True, check=True, text=True).stdout.strip()
        out.append([name, told])
print(json.dumps(out))
)");
    ASSERT_EQ(made.size(), 12u);
    for (const Json& one : made) {
        const auto name = one[0].get<std::string>(), told = one[1].get<std::string>();
        EXPECT_NE(told.find(name.substr(0, name.find('-'))), std::string::npos) << told;
        zledge(folder, "still " + name + ".mkv --at '#1' --out " + name + ".png");
    }
    const Json worst = test::python(folder, R"(
import subprocess, glob, os
def along(line, first, count):
    return np.interp(np.arange(count), first + 2 * np.arange(len(line)), line)
out = {}
for path in sorted(glob.glob(folder + '*.mkv')):
    siting, form, tail = os.path.basename(path)[:-4].split('-')
    still = np.array(Image.open(path[:-4] + '.png').convert('RGB')).astype(float)
    h, w = still.shape[:2]
    raw = subprocess.run(['ffmpeg', '-v', 'error', '-i', path, '-f', 'rawvideo', '-pix_fmt', form,
        '-'], capture_output=True, check=True).stdout
    cw, ch = (w + 1) // 2, (h + 1) // 2 if form == 'yuv420p' else h
    frame = np.frombuffer(raw, np.uint8).reshape(-1, w * h + 2 * cw * ch)[1].astype(float)
    y = frame[:w * h].reshape(h, w)
    colours = []
    for c in range(2):
        plane = frame[w * h + c * cw * ch:w * h + (c + 1) * cw * ch].reshape(ch, cw)
        across = 0.5 if siting in ('center', 'top') else 0
        plane = np.stack([along(row, across, w) for row in plane])
        if ch != h:
            down = 0 if siting in ('topleft', 'top') else 0.5
            plane = np.stack([along(column, down, h) for column in plane.T], 1)
        colours.append(plane)
    cb, cr = colours
    full = tail == 'pc'
    y = y / 255 if full else (y - 16) / 219
    cb, cr = [(c - 128) / (255 if full else 224) for c in (cb, cr)]
    kr, kb = 0.2126, 0.0722
    r, b = y + 2 * (1 - kr) * cr, y + 2 * (1 - kb) * cb
    g = (y - kr * r - kb * b) / (1 - kr - kb)
    exact = np.clip(np.stack([r, g, b], 2), 0, 1) * 255
    out[os.path.basename(path)] = float(np.abs(exact - still).max())
print(json.dumps(out))
)");
    ASSERT_EQ(worst.size(), 12u);
    for (const auto& [name, error] : worst.items()) EXPECT_LE(error.get<double>(), 0.51) << name;
}

TEST(VideoReference, TellsTheFactsThatAnotherProgramTells) {
    const test::Folder folder;
    static_cast<void>(test::python(folder, R"(
import subprocess
def ffmpeg(*words):
    subprocess.run(['ffmpeg', '-v', 'error', '-y', *words], check=True)
ffmpeg('-f', 'lavfi', '-i', 'testsrc2=s=480x270:r=25:d=3', '-f', 'lavfi', '-i', 'sine=d=3',
    '-vf', 'setsar=4/3', '-c:v', 'libx264', '-pix_fmt', 'yuv420p', '-color_range', 'tv',
    '-colorspace', 'bt709',
    '-color_primaries', 'bt709', '-color_trc', 'bt709', '-c:a', 'aac', folder + 'facts.mp4')
ffmpeg('-i', folder + 'facts.mp4', '-c', 'copy', '-metadata:s:v', 'rotate=90',
    folder + 'turned.mp4')
ffmpeg('-i', folder + 'turned.mp4', '-ss', '1', '-frames:v', '1', folder + 'turned.png')
print('{}')
)"));
    zledge(folder, "video facts.mp4 --json");
    const Json facts = test::good(parseJson(test::good(readFile(folder / ".out")), "facts"));
    EXPECT_EQ(facts["width"], 480);
    EXPECT_EQ(facts["shown_width"], 640) << "its pixels are a third wider than high";
    EXPECT_EQ(facts["shown_height"], 270);
    EXPECT_EQ(facts["fps"], 25.0);
    EXPECT_EQ(facts["frames"], 75);
    EXPECT_NEAR(facts["duration"].get<double>(), 3, 0.05);
    EXPECT_EQ(facts["variable_rate"], false);
    EXPECT_EQ(facts["depth"], 8);
    EXPECT_EQ(facts["alpha"], false);
    EXPECT_EQ(facts["colour"]["matrix"]["value"], "bt709");
    EXPECT_EQ(facts["colour"]["matrix"]["told"], true);
    ASSERT_EQ(facts["sound"].size(), 1u);
    EXPECT_EQ(facts["sound"][0]["codec"], "aac");
    // Upright, as another program turns it.
    zledge(folder, "video turned.mp4 --json");
    const Json turned = test::good(parseJson(test::good(readFile(folder / ".out")), "facts"));
    ASSERT_NE(turned["rotation"], 0);
    zledge(folder, "still turned.mp4 --at 1 --out ours.png");
    const Json apart = test::python(folder, R"(
a = np.array(Image.open(folder + 'turned.png').convert('RGB').resize((270, 640))).astype(int)
b = np.array(Image.open(folder + 'ours.png').convert('RGB')).astype(int)
print(json.dumps({'shape': list(b.shape), 'mse': float(((a - b) ** 2).mean()),
    'upside_down': float(((a[::-1, ::-1] - b) ** 2).mean())}))
)");
    EXPECT_EQ(apart["shape"][0], 640);
    EXPECT_EQ(apart["shape"][1], 270);
    EXPECT_LT(apart["mse"].get<double>(), 0.2 * apart["upside_down"].get<double>());
}

}  // namespace
}  // namespace zl
