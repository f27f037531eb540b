// SPDX-License-Identifier: GPL-3.0-or-later
// Moving pieces, burned-in marks and legibility against FFmpeg's own command line in the same run,
// with the same encoder and settings. The footage is made up: 1080p30 with grain.
#include <fmt/core.h>

#include <cstdlib>

#include "edit/edits.h"
#include "film/clip_frames.h"
#include "measure/legible.h"
#include "measure/videos.h"
#include "pair.h"
#include "release/moving.h"
#include "twelve_layers.h"
#include "video/burn.h"

namespace zl::bench {
namespace {

class Place {
  public:
    Place() { std::filesystem::create_directories(folder); }
    ~Place() { std::filesystem::remove_all(folder); }
    static void shell(const std::string& command) {
        if (std::system((command + " >/dev/null 2>&1").c_str()) != 0)
            throw std::runtime_error("it failed: " + command);
    }
    Path footage(const char* name, const char* size) const {
        const Path file = folder / name;
        shell(
            fmt::format("ffmpeg -v error -y -f lavfi -i 'testsrc2=s={}:r=30:d=10,noise=alls=6:"
                        "allf=t' -c:v libx264 -preset veryfast -bf 3 -g 300 -pix_fmt yuv420p '{}'",
                        size, file.string()));
        return file;
    }
    Path folder =
        std::filesystem::temp_directory_path() / fmt::format("zinc-ledge-moving-{}", ::getpid());
};

std::shared_ptr<const Straight8> disc(int side) {
    auto mark = std::make_shared<Straight8>(Straight8::cleared({side, side}));
    for (int y = 0; y < side; ++y)
        for (int x = 0; x < side; ++x)
            if (std::hypot(x - side / 2, y - side / 2) < side / 2.0 - 3)
                mark->row(y)[x] = packed(250, 246, 227, 230);
    return mark;
}

void burning(benchmark::State& state) {
    const Place place;
    const Path video = place.footage("f.mp4", "1920x1080"), ours = place.folder / "o.mp4",
               theirs = place.folder / "t.mp4", picture = place.folder / "m.png";
    BurnPlan plan;
    plan.video = video;
    plan.mark = disc(192);
    plan.left = plan.top = 40;
    plan.length = 10;
    if (auto done = writeFile(picture, must(encode(*plan.mark, {})), Replace::yes); !done)
        throw std::runtime_error("no mark");
    compare(
        state, [&] { must(burn(plan, ours, Replace::yes)); },
        [&] {
            Place::shell(
                fmt::format("ffmpeg -v error -y -i '{}' -i '{}' -filter_complex overlay=40:40 "
                            "-c:v libx264 -preset veryfast -crf 18.5 -threads 4 -g 300 '{}'",
                            video.string(), picture.string(), theirs.string()));
        });
}

void legible(benchmark::State& state) {
    const Place place;
    const Path file = place.footage("f.mp4", "1920x1080");
    LegibleQuestion question;
    question.mark = disc(192);
    compare(
        state,
        [&] {
            Video video = must(Video::open(file));
            benchmark::DoNotOptimize(must(legibilityOver(video, question)));
        },
        [&] { Place::shell(fmt::format("ffmpeg -v error -i '{}' -an -f null -", file.string())); });
}

// One scaled clip and three still layers on a frame of 1920 x 1080.
void movingRelease(benchmark::State& state) {
    const Place place;
    const Path clip = place.footage("c.mp4", "960x540"), ground = place.folder / "g.png",
               mark = place.folder / "m.png", out = place.folder / "o.mp4",
               theirs = place.folder / "t.mp4", kitFile = place.folder / "k.zlkit";
    Straight8 back(PixelSize{1920, 1080});
    for (int y = 0; y < 1080; ++y)
        for (int x = 0; x < 1920; ++x) back.row(y)[x] = packed(x / 8, y / 5, 90, 255);
    const Bytes groundPng = must(encode(back, {})), markPng = must(encode(*disc(200), {}));
    if (!writeFile(ground, groundPng, Replace::yes) || !writeFile(mark, markPng, Replace::yes))
        throw std::runtime_error("no pictures");
    Piece piece;
    piece.id = piece.title = "p";
    piece.brief = "free-frame";
    piece.frame = {1920, 1080};
    piece.release.name = piece.id;
    Kit kit = must(withPiece(Kit{}, piece));
    const Asset first = makeAsset(groundPng, "g.png"), second = makeAsset(markPng, "m.png");
    kit = withAsset(withAsset(kit, first), second);
    const auto add = [&](const Asset& asset, PixelSize size, RealRect at) {
        Layer layer;
        layer.name = "layer";
        layer.what = PictureLayer{asset.sha256, RealRect::of(size), at};
        kit = must(withLayer(kit, "p", layer));
    };
    add(first, {1920, 1080}, {0, 0, 1920, 1080});
    kit = must(withClipOf(kit, "p", clip, kitFile));
    Layer moving = kit.pieces[0].layers.back();
    moving.picture()->place = {320, 180, 1280, 720};
    kit = must(withChangedLayer(kit, "p", moving));
    add(second, {200, 200}, {60, 60, 200, 200});
    add(second, {200, 200}, {1660, 820, 200, 200});
    compare(
        state,
        [&] {
            must(writeMoving(kit.pieces[0], kit, kitFile, {VideoKind::mp4, 75}, out, Replace::yes));
        },
        [&] {
            Place::shell(fmt::format(
                "ffmpeg -v error -y -loop 1 -framerate 30 -i '{}' -i '{}' -i '{}' -filter_complex "
                "'[1]scale=1280:720:flags=lanczos[c];[0][c]overlay=320:180:shortest=1[a];[a][2]"
                "overlay=60:60[b];[b][2]overlay=1660:820' -c:v libx264 -preset veryfast -crf 18.5 "
                "-threads 4 -g 60 '{}'",
                ground.string(), clip.string(), mark.string(), theirs.string()));
        });
}

}  // namespace

BENCHMARK(burning)->UseManualTime()->Iterations(3);
BENCHMARK(legible)->UseManualTime()->Iterations(5);
BENCHMARK(movingRelease)->UseManualTime()->Iterations(3);

}  // namespace zl::bench
