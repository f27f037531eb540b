// SPDX-License-Identifier: GPL-3.0-or-later
// Kinds of video that need more than a matrix: more than 8 bits, two fields in a frame, more light
// than a display has; what the program itself writes; sound that is played. Against FFmpeg's own
// program and the standards' formulas in double precision.
#include <chrono>
#include <thread>

#include "demo/film.h"
#include "picture/decode.h"
#include "python.h"
#include "video/sound.h"
#include "video/video.h"

namespace zl {
namespace {

using test::zledge;

const Bytes& film() {
    static const Bytes made = test::good(demo::makeFilm());
    return made;
}

// ITU-R BT.709's matrix of 10-bit samples, limited range, into 16-bit codes.
TEST(VideoKinds, TenBitsBecomeSixteenAsTheMatrixSays) {
    const test::Folder folder;
    static_cast<void>(test::python(folder, R"(
import subprocess
subprocess.run(['ffmpeg', '-v', 'error', '-y', '-f', 'lavfi', '-i',
    'gradients=s=480x270:r=5:d=1:n=6:seed=5', '-pix_fmt', 'yuv444p10le', '-c:v', 'ffv1',
    '-colorspace', 'bt709', '-color_primaries', 'bt709', '-color_trc', 'bt709', '-color_range',
    'tv', folder + 'deep.mkv'], check=True)
print('{}')
)"));
    zledge(folder, "still deep.mkv --at 0.4 --out deep.png --json");
    const Json told = test::python(folder, R"(
import subprocess, zlib, struct
raw = subprocess.run(['ffmpeg', '-v', 'error', '-i', folder + 'deep.mkv', '-f', 'rawvideo',
    '-pix_fmt', 'yuv444p10le', '-'], capture_output=True, check=True).stdout
y, cb, cr = np.frombuffer(raw, '<u2').reshape(-1, 3, 270, 480)[2].astype(float)
y, cb, cr = (y / 4 - 16) / 219, (cb / 4 - 128) / 224, (cr / 4 - 128) / 224
kr, kb = 0.2126, 0.0722
r, b = y + 2 * (1 - kr) * cr, y + 2 * (1 - kb) * cb
g = (y - kr * r - kb * b) / (1 - kr - kb)
exact = np.clip(np.stack([r, g, b], 2), 0, 1) * 65535
deep = subprocess.run(['ffmpeg', '-v', 'error', '-i', folder + 'deep.png', '-f', 'rawvideo',
    '-pix_fmt', 'rgb48le', '-'], capture_output=True, check=True).stdout
ours = np.frombuffer(deep, '<u2').reshape(270, 480, 3).astype(float)
head = open(folder + 'deep.png', 'rb').read(32)
print(json.dumps({'bits': head[24], 'worst': float(np.abs(exact - ours).max()),
    'values': int(len(np.unique(ours)))}))
)");
    EXPECT_EQ(told["bits"], 16);
    EXPECT_LE(told["worst"].get<double>(), 0.51);
    EXPECT_GT(told["values"], 256) << "more than 8 bits could tell";
}

// Two fields are made one frame as FFmpeg's bwdif makes it, not woven.
TEST(VideoKinds, InterlacedFramesAreDeinterlacedAndTold) {
    const test::Folder folder;
    static_cast<void>(test::python(folder, R"(
import subprocess
subprocess.run(['ffmpeg', '-v', 'error', '-y', '-f', 'lavfi', '-i',
    'testsrc2=s=480x270:r=50:d=2,crop=480:268,tinterlace=interleave_top,setfield=tff', '-c:v',
    'ffv1', '-pix_fmt', 'yuv444p', '-field_order', 'tt', folder + 'fields.mkv'], check=True)
print('{}')
)"));
    zledge(folder, "video fields.mkv --json");
    const Json facts = test::good(parseJson(test::good(readFile(folder / ".out")), "facts"));
    EXPECT_EQ(facts["interlaced"], true);
    for (const int at : {0, 11, 49})
        zledge(folder, "still fields.mkv --at '#" + std::to_string(at) + "' --out f" +
                           std::to_string(at) + ".png --json");
    EXPECT_EQ(test::good(parseJson(test::good(readFile(folder / ".out")), "still"))["deinterlaced"],
              true);
    const Json apart = test::python(folder, R"(
import subprocess
def frames(*filter):
    raw = subprocess.run(['ffmpeg', '-v', 'error', '-i', folder + 'fields.mkv', *filter, '-pix_fmt',
        'rgb24', '-sws_flags', 'accurate_rnd+full_chroma_int+bicubic', '-f', 'rawvideo', '-'],
        capture_output=True, check=True).stdout
    return np.frombuffer(raw, np.uint8).reshape(-1, 268, 480, 3).astype(int)
made, woven = frames('-vf', 'bwdif=mode=send_frame:parity=tff'), frames()
out = {}
for at in (0, 11, 49):
    ours = np.array(Image.open(f'{folder}f{at}.png').convert('RGB')).astype(int)
    out[str(at)] = [float(((ours - made[at]) ** 2).mean()), float(((ours - woven[at]) ** 2).mean())]
print(json.dumps(out))
)");
    for (const auto& [at, errors] : apart.items()) {
        EXPECT_LT(errors[0].get<double>(), 2) << at;
        EXPECT_LT(errors[0].get<double>(), 0.2 * errors[1].get<double>()) << at;
    }
}

// SMPTE ST 2084's curve, or ITU-R BT.2100's hybrid log-gamma with its OOTF for a display of 1,000
// cd/m2, and ITU-R BT.2020's matrix and primaries, then the curve of docs/video.md.
class MoreLight : public testing::TestWithParam<const char*> {};

TEST_P(MoreLight, IsBroughtDownByTheCurveThatIsWrittenDown) {
    const test::Folder folder;
    static_cast<void>(test::python(folder, std::string("trc = '") + GetParam() + "'\n" + R"(
import subprocess
# Flat patches: greys up to nearly all there is and a few colours, as 10-bit samples.
w, h, n = 32, 32, 12
values = [(64 + 105 * i, 512, 512) for i in range(9)] + [(500, 400, 600), (420, 620, 430),
    (350, 480, 480)]
planes = []
for c in range(3):
    planes.append(np.concatenate([np.full((h, w), v[c], '<u2') for v in values], 1))
open(folder + 'patches.yuv', 'wb').write(b''.join(p.tobytes() for p in planes))
subprocess.run(['ffmpeg', '-v', 'error', '-y', '-f', 'rawvideo', '-pix_fmt', 'yuv444p10le', '-s',
    f'{w * n}x{h}', '-i', folder + 'patches.yuv', '-c:v', 'ffv1', '-colorspace', 'bt2020nc',
    '-color_primaries', 'bt2020', '-color_trc', trc, '-color_range', 'tv', folder +
    'light.mkv'], check=True)
json.dump(values, open(folder + 'values.json', 'w'))
print('{}')
)"));
    zledge(folder, "still light.mkv --at '#0' --out light.png --json");
    EXPECT_EQ(test::good(parseJson(test::good(readFile(folder / ".out")), "still"))["toned"], true);
    const Json told = test::python(folder, std::string("trc = '") + GetParam() + "'\n" + R"(
import subprocess
values = json.load(open(folder + 'values.json'))
def pq(e):
    m1, m2 = 2610 / 16384, 2523 / 4096 * 128
    c1, c2, c3 = 3424 / 4096, 2413 / 4096 * 32, 2392 / 4096 * 32
    p = e ** (1 / m2)
    return 10000 * (max(p - c1, 0) / (c2 - c3 * p)) ** (1 / m1)
def hlg(e):  # BT.2100, table 5: the inverse of its OETF
    a, b, c = 0.17883277, 0.28466892, 0.55991073
    return e * e / 3 if e <= 0.5 else (np.exp((e - c) / a) + b) / 12
def light_of(rgb):  # cd/m2
    if trc == 'smpte2084': return np.array([pq(v) for v in rgb])
    scene = np.array([hlg(v) for v in rgb])
    return 1000 * (scene @ [0.2627, 0.6780, 0.0593]) ** 0.2 * scene
to709 = np.array([[1.6605, -0.5876, -0.0728], [-0.1246, 1.1329, -0.0083],
    [-0.0182, -0.1006, 1.1187]])  # ITU-R BT.2087-0
raw = subprocess.run(['ffmpeg', '-v', 'error', '-i', folder + 'light.png', '-f', 'rawvideo',
    '-pix_fmt', 'rgb48le', '-'], capture_output=True, check=True).stdout
ours = np.frombuffer(raw, '<u2').reshape(32, -1, 3).astype(float) / 65535
worst, most = 0, 0
for i, (y, cb, cr) in enumerate(values):
    y, cb, cr = (y / 4 - 16) / 219, (cb / 4 - 128) / 224, (cr / 4 - 128) / 224
    kr, kb = 0.2627, 0.0593
    r, b = y + 2 * (1 - kr) * cr, y + 2 * (1 - kb) * cb
    g = (y - kr * r - kb * b) / (1 - kr - kb)
    light = to709 @ light_of(np.clip([r, g, b], 0, 1)) / 203
    top = light.max()
    most = max(most, float(top))
    if top > 0.6: light = light * (0.6 + 0.4 * np.tanh((top - 0.6) / 0.4)) / top
    light = np.clip(light, 0, 1)
    code = np.where(light <= 0.0031308, 12.92 * light, 1.055 * light ** (1 / 2.4) - 0.055)
    worst = max(worst, float(np.abs(code - ours[16, 32 * i + 16]).max()))
print(json.dumps({'worst': worst * 255, 'most': most}))
)");
    EXPECT_GT(told["most"].get<double>(), 2) << "some of it is far over white";
    EXPECT_LE(told["worst"].get<double>(), 1) << "codes of 255";
}

INSTANTIATE_TEST_SUITE_P(VideoKinds, MoreLight, testing::Values("smpte2084", "arib-std-b67"));

// Pictures that no other needs are left out on the way to a frame; what comes out is the same as
// when every picture is decoded.
TEST(VideoKinds, LeavingOutWhatNobodyNeedsChangesNothing) {
    const test::Folder folder;
    static_cast<void>(test::python(folder, R"(
import subprocess
def clip(name, *words):
    subprocess.run(['ffmpeg', '-v', 'error', '-y', '-f', 'lavfi', '-i',
        'testsrc2=s=160x90:r=30:d=3,noise=alls=12:allf=t', '-pix_fmt', 'yuv420p', *words,
        folder + name], check=True)
x265 = ['-c:v', 'libx265', '-x265-params']
clip('pyramid.mp4', *x265, 'log-level=error:keyint=60:bframes=4:b-pyramid=1')
clip('layers.mp4', *x265, 'log-level=error:keyint=60:bframes=4:temporal-layers=3')
clip('plain.ts', *x265, 'log-level=error:keyint=45:bframes=3:open-gop=1')
clip('h264.mp4', '-c:v', 'libx264', '-bf', '5', '-g', '60', '-x264-params', 'b-pyramid=normal')
clip('mpeg2.mpg', '-c:v', 'mpeg2video', '-bf', '2', '-g', '30')
print('{}')
)"));
    for (const char* name : {"pyramid.mp4", "layers.mp4", "plain.ts", "h264.mp4", "mpeg2.mpg"}) {
        Video whole = test::good(Video::open(folder / name));
        for (const long long at : {31ll, 58ll, 74ll}) {
            if (at >= whole.facts().frames) continue;
            // Each one before it is asked for as well, so that none is left out.
            Video steps = test::good(whole.again());
            VideoFrame stepped;
            for (long long n = std::max(0ll, at - 60); n <= at; ++n)
                stepped = test::good(steps.frame(n));
            Video leaps = test::good(whole.again());
            const VideoFrame leapt = test::good(leaps.frame(at));
            EXPECT_TRUE(std::ranges::equal(stepped.pixels.pixels(), leapt.pixels.pixels()))
                << name << " " << at;
        }
    }
}

// A disc that is opaque in its middle and fades outwards: alpha comes out as it went in.
TEST(VideoKinds, AlphaIsKept) {
    const test::Folder folder;
    const Json files = test::python(folder, R"(
import subprocess
w, h, n = 64, 48, 12
frames = []
y, x = np.mgrid[0:h, 0:w]
for i in range(n):
    d = np.hypot(x - 20 - 2 * i, y - 24)
    a = np.clip((22 - d) * 16, 0, 255)
    frames.append(np.stack([np.full((h, w), 200), np.full((h, w), 90), 20 + 0 * a, a], 2))
raw = np.array(frames).astype(np.uint8)
np.save(folder + 'source.npy', raw)
files = {'vp9.webm': ['-c:v', 'libvpx-vp9', '-pix_fmt', 'yuva420p', '-lossless', '1'],
    'prores.mov': ['-c:v', 'prores_ks', '-profile:v', '4444', '-pix_fmt', 'yuva444p10le'],
    'qtrle.mov': ['-c:v', 'qtrle'], 'ffv1.mkv': ['-c:v', 'ffv1', '-pix_fmt', 'bgra'],
    'moving.png': ['-c:v', 'apng', '-f', 'apng', '-pix_fmt', 'rgba']}
for name, words in files.items():
    subprocess.run(['ffmpeg', '-v', 'error', '-y', '-f', 'rawvideo', '-pix_fmt', 'rgba', '-s',
        f'{w}x{h}', '-r', '12', '-i', '-', *words, folder + name], input=raw.tobytes(), check=True)
print(json.dumps(list(files)))
)");
    for (const Json& file : files) {
        const auto name = file.get<std::string>();
        zledge(folder, "video " + name + " --json");
        EXPECT_EQ(test::good(parseJson(test::good(readFile(folder / ".out")), "facts"))["alpha"],
                  true)
            << name;
        zledge(folder, "still " + name + " --at '#7' --out " + name + ".still.png");
    }
    const Json apart = test::python(folder, R"(
import glob, subprocess
source = np.load(folder + 'source.npy')[7].astype(float)
out = {}
for path in glob.glob(folder + '*.still.png'):
    raw = subprocess.run(['ffmpeg', '-v', 'error', '-i', path, '-f', 'rawvideo', '-pix_fmt', 'rgba',
        '-'], capture_output=True, check=True).stdout
    ours = np.frombuffer(raw, np.uint8).reshape(48, 64, 4).astype(float)
    solid = source[..., 3] == 255
    out[path.split('/')[-1]] = [float(np.abs(ours[..., 3] - source[..., 3]).max()),
        float(np.abs(ours[solid][:, :3] - source[solid][:, :3]).max())]
print(json.dumps(out))
)");
    EXPECT_EQ(apart.size(), files.size());
    for (const auto& [name, errors] : apart.items()) {
        // What is coded without loss is as it was; ProRes is not, nor are the colours of VP9, which
        // went through a matrix. Its alpha is one code off in FFmpeg's own program, too.
        const bool exact =
            name.starts_with("qtrle") || name.starts_with("ffv1") || name.starts_with("moving");
        EXPECT_LE(errors[0].get<double>(), exact ? 0 : name.starts_with("vp9") ? 1 : 4) << name;
        EXPECT_LE(errors[1].get<double>(), exact ? 0 : 4) << name;
    }
}

// What the program writes, read by another one.
// Animated WebP by Pillow, lossless, see-through in part, its frames of different lengths.
TEST(VideoKinds, AnimatedWebpIsReadFrameByFrame) {
    const test::Folder folder;
    static_cast<void>(test::python(folder, R"(
rng = np.random.default_rng(4)
frames = []
for i in range(12):
    a = np.zeros((40, 64, 4), np.uint8)
    a[..., :3] = rng.integers(0, 256, (40, 64, 3))
    a[..., 3] = 255
    a[:, :10, 3] = 20 * i + 10
    a[8:20, 12 + 3 * i:20 + 3 * i] = (200, 30, 40, 255)
    frames.append(Image.fromarray(a, 'RGBA'))
frames[0].save(folder + 'a.webp', save_all=True, append_images=frames[1:], lossless=True,
    exact=True, duration=[40 + 20 * (i % 3) for i in range(12)], loop=0)
frames[0].save(folder + 'still.webp', lossless=True)
for i, frame in enumerate(frames): frame.save(folder + f'known-{i}.png')
print('{}')
)"));
    Video video = test::good(Video::open(folder / "a.webp"));
    EXPECT_EQ(video.facts().frames, 12);
    EXPECT_EQ(video.facts().size, (PixelSize{64, 40}));
    EXPECT_NEAR(video.facts().duration, 12 * 0.06, 1e-9);
    EXPECT_TRUE(video.facts().variableRate);
    EXPECT_TRUE(video.facts().alpha);
    EXPECT_NEAR(video.timeOf(4), 0.04 + 0.06 + 0.08 + 0.04, 1e-9);
    // In any order, and at the seconds at which they are shown.
    for (const int n : {7, 2, 3, 11, 0, 5}) {
        const auto frame = test::good(video.frame(n));
        const auto known = test::good(decode(
            test::good(readFile(folder / ("known-" + std::to_string(n) + ".png"))), "known"));
        EXPECT_TRUE(std::ranges::equal(frame.pixels.pixels(), known.pixels->pixels())) << n;
        EXPECT_EQ(test::good(video.numberAt(video.timeOf(n) + 0.01)), n);
    }
    std::vector<double> passed;
    ASSERT_TRUE(video.pictures(0.1, 32, [&](const Straight8& picture, double time) {
        EXPECT_EQ(picture.size(), (PixelSize{32, 20}));
        passed.push_back(time);
        return true;
    }));
    EXPECT_GT(passed.size(), 5u);
    zledge(folder, "still a.webp --at '#6' --out six.png");
    EXPECT_TRUE(std::ranges::equal(
        test::good(decode(test::good(readFile(folder / "six.png")), "six")).pixels->pixels(),
        test::good(video.frame(6)).pixels.pixels()));
    // A still one is no video, and a broken one is told.
    EXPECT_EQ(Video::open(folder / "still.webp").error().code, Code::unreadable);
    Bytes part = test::good(readFile(folder / "a.webp"));
    part.resize(part.size() / 2);
    test::put(folder, "part.webp", part);
    if (auto broken = Video::open(folder / "part.webp")) {
        EXPECT_FALSE(broken->frame(broken->facts().frames - 1));
    }
    std::stop_source stop;
    stop.request_stop();
    EXPECT_EQ(Video::open(folder / "a.webp", stop.get_token()).error().code, Code::cancelled);
}

TEST(VideoKinds, TheDemosVideoIsWhatItSaysItIs) {
    const test::Folder folder;
    test::put(folder, "film.mp4", film());
    const Json told = test::python(folder, R"(
import subprocess
facts = json.loads(subprocess.run(['ffprobe', '-v', 'error', '-count_frames', '-show_streams',
    '-of', 'json', folder + 'film.mp4'], capture_output=True, check=True).stdout)['streams']
raw = subprocess.run(['ffmpeg', '-v', 'error', '-i', folder + 'film.mp4', '-vf', 'scale=64:36',
    '-pix_fmt', 'gray', '-f', 'rawvideo', '-'], capture_output=True, check=True).stdout
luma = np.frombuffer(raw, np.uint8).reshape(-1, 36 * 64).mean(1)
sound = subprocess.run(['ffmpeg', '-v', 'error', '-i', folder + 'film.mp4', '-f', 's16le', '-ac',
    '1', '-'], capture_output=True, check=True).stdout
sound = np.frombuffer(sound, '<i2').astype(float)
print(json.dumps({'facts': facts, 'frames': len(luma), 'black': int((luma < 18).sum()),
    'seconds': len(sound) / 48000, 'loud': float(np.abs(sound).max())}))
)");
    const Json& video = told["facts"][0];
    EXPECT_EQ(video["codec_name"], "h264");
    EXPECT_EQ(video["nb_read_frames"], "300");
    EXPECT_EQ(video["r_frame_rate"], "25/1");
    EXPECT_EQ(video["width"], 1280);
    EXPECT_EQ(video["height"], 720);
    for (const char* fact : {"color_space", "color_transfer", "color_primaries"})
        EXPECT_EQ(video[fact], "bt709") << fact;
    EXPECT_EQ(video["color_range"], "tv");
    EXPECT_EQ(told["frames"], 300);
    EXPECT_GE(told["black"], 25) << "a black second";
    EXPECT_EQ(told["facts"][1]["codec_name"], "aac");
    EXPECT_NEAR(told["seconds"].get<double>(), 12, 0.1);
    EXPECT_GT(told["loud"].get<double>(), 3000);
}

// A device for sound that nobody hears: PulseAudio with nothing but a sink into the void.
class SilentDevice {
  public:
    explicit SilentDevice(const test::Folder& folder) {
        const std::string place = (folder / "pulse").string();
        std::filesystem::create_directory(place);
        std::filesystem::permissions(place, std::filesystem::perms::owner_all);
        socket_ = folder / "pulse/native";
        ::setenv("XDG_RUNTIME_DIR", place.c_str(), 1);
        ::setenv("PULSE_SERVER", ("unix:" + place + "/native").c_str(), 1);
        ::setenv("HOME", place.c_str(), 1);
        const std::string begin =
            "pulseaudio -n --daemonize=yes --exit-idle-time=-1 "
            "--load='module-null-sink norewinds=1' "
            "--load='module-native-protocol-unix auth-anonymous=1 socket=" +
            place +
            "/native' --pid-file=0 >/dev/null 2>&1 || pulseaudio -n --daemonize=yes "
            "--exit-idle-time=-1 --load='module-null-sink norewinds=1' "
            "--load='module-native-protocol-unix auth-anonymous=1 socket=" +
            place + "/native' >/dev/null 2>&1";
        there = std::system(begin.c_str()) == 0;
    }
    // It is told to end and does so in its own time: its socket goes when it has ended.
    ~SilentDevice() {
        if (!there) return;
        bool ended = std::system("pulseaudio --kill >/dev/null 2>&1") == 0;
        for (int tries = 0; ended && tries < 200 && std::filesystem::exists(socket_); ++tries)
            std::this_thread::sleep_for(std::chrono::milliseconds(50));
        ended = ended && !std::filesystem::exists(socket_);
        if (!ended) ADD_FAILURE() << "it does not end";
    }
    bool there = false;

  private:
    Path socket_;
};

TEST(VideoKinds, SoundIsPlayedAtItsOwnRateFromTheMomentThatIsAskedFor) {
    using Clock = std::chrono::steady_clock;
    const test::Folder folder;
    test::put(folder, "film.mp4", film());
    const SilentDevice device(folder);
    ASSERT_TRUE(device.there) << "pulseaudio does not start";
    auto sound = test::good(openSound(folder / "film.mp4"));
    EXPECT_FALSE(sound->position()) << "it does not play yet";
    sound->start(3);
    std::vector<std::pair<double, double>> seen;  // s of the wall, s of the sound
    const auto begun = Clock::now();
    while (seen.size() < 60 && Clock::now() - begun < std::chrono::seconds(60)) {
        std::this_thread::sleep_for(std::chrono::milliseconds(25));
        const auto at = sound->position();
        if (at && *at > 3 && (seen.empty() || *at > seen.back().second))
            seen.emplace_back(std::chrono::duration<double>(Clock::now() - begun).count(), *at);
    }
    sound->stop();
    ASSERT_EQ(seen.size(), 60u);
    EXPECT_FALSE(sound->position());
    EXPECT_LT(seen.front().second, 4) << "it begins where it was asked to";
    // It goes as the clock on the wall does. On a busy machine the device itself falls behind for
    // a while: then some stretch of it goes so, and none of it goes faster in the long run.
    const auto rate = [&](std::size_t from, std::size_t to) {
        return (seen[to].second - seen[from].second) / (seen[to].first - seen[from].first);
    };
    constexpr std::size_t stretch = 12;
    double nearest = 9;
    for (std::size_t i = 0; i + stretch < seen.size(); ++i)
        nearest = std::min(nearest, std::abs(rate(i, i + stretch) - 1));
    EXPECT_LT(nearest, 0.1);
    EXPECT_LT(rate(0, seen.size() - 1), 1.1);
}

TEST(VideoKinds, WithoutADeviceSoundSaysSo) {
    const test::Folder folder;
    test::put(folder, "film.mp4", film());
    ::setenv("XDG_RUNTIME_DIR", folder.path().c_str(), 1);
    ::setenv("PULSE_SERVER", "unix:/nowhere", 1);
    const auto sound = openSound(folder / "film.mp4");
    ASSERT_FALSE(sound);
    EXPECT_EQ(sound.error().code, Code::unreadable);
}

}  // namespace
}  // namespace zl
