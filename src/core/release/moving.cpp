// SPDX-License-Identifier: GPL-3.0-or-later
#include "release/moving.h"

#include <fmt/core.h>

#include <algorithm>
#include <array>
#include <cmath>

#include "base/json.h"
#include "base/parallel.h"
#include "encode/palette.h"
#include "film/clip_frames.h"
#include "film/piece_sound.h"
#include "raster/bleed.h"
#include "video/burn.h"
#include "video/passes.h"

namespace zl {

namespace {

// What goes to the encoder: laid on the matte where alpha is not kept.
void layOn(Straight8& frame, Colour matte) {
    overRows(frame.height(), 16, coreCount(), [&](int from, int to) {
        for (int y = from; y < to; ++y) {
            std::uint32_t* row = frame.row(y);
            for (int x = 0; x < frame.width(); ++x) {
                const int a = alphaOf(row[x]);
                if (a == 255) continue;
                const auto over = [&](int v, int m) { return (v * a + m * (255 - a) + 127) / 255; };
                row[x] = packed(over(redOf(row[x]), matte.red), over(greenOf(row[x]), matte.green),
                                over(blueOf(row[x]), matte.blue), 255);
            }
        }
    });
}

// The piece drawn moment by moment: only what changed since the last one is drawn again.
class Course {
  public:
    Course(const Piece& piece, const Kit& kit, const std::optional<Path>& kitFile)
        : piece_(piece), kit_(kit), rate_(rateOf(piece)) {
        auto clips = std::make_shared<ClipFrames>();
        clips->kitLiesAt(kitFile);
        store_.knowClips(clips);
    }
    Result<const Straight8*> at(long long number, const std::stop_token& stop) {
        const double moment = static_cast<double>(number) * rate_.under / rate_.over;
        Piece now = atMoment(piece_, moment, store_);
        const View view{now, kit_, {}, For::release};
        PixelRect damage = PixelRect::of(piece_.frame);
        if (frame_.empty())
            frame_ = Straight8(piece_.frame);
        else
            damage = damageBetween(last_, view, store_);
        if (!damage.empty())
            if (auto done = renderInto(frame_, damage, view, store_, stop); !done)
                return passOn(done.error());
        last_ = std::move(now);
        return &frame_;
    }

  private:
    const Piece& piece_;
    const Kit& kit_;
    FrameRate rate_;
    // Frames of clips pass through; what stands still is kept.
    InkStore store_{250'000'000};
    Piece last_;
    Straight8 frame_;
};

// Whether anything of it is see-through, at five moments of it.
Result<bool> seeThrough(Course& course, long long frames, const std::stop_token& stop) {
    constexpr int looks = 5;
    for (int i = 0; i < looks; ++i) {
        const auto frame = course.at(i * (frames - 1) / (looks - 1), stop);
        if (!frame) return passOn(frame.error());
        if (!isOpaque(**frame)) return true;
    }
    return false;
}

Result<void> checkMoving(const Piece& piece, const MovingPlan& plan) {
    if (!moves(piece))
        return fail(Code::badUsage, fmt::format("{} does not move.", piece.title),
                    "Give it a clip, or a length and layers that come and go.");
    const MovingFacts& facts = factsOf(plan.kind);
    if (facts.longest > 0 && lengthOf(piece) > facts.longest)
        return fail(Code::badUsage,
                    fmt::format("{} lasts {:.1f} s, and an {} is for at most {:.0f} s.",
                                piece.title, lengthOf(piece), facts.title, facts.longest),
                    "Choose MP4 or WebM, or make it shorter.");
    return {};
}

// One run of the encoder over the whole piece.
Result<Moved> runOnce(const Piece& piece, const Kit& kit, const std::optional<Path>& kitFile,
                      const MovingPlan& plan, const BurnPass& pass, const Path& into,
                      const Progress& progress, const std::stop_token& stop) {
    Course course(piece, kit, kitFile);
    Moved out;
    out.kind = plan.kind;
    out.frames = frameCountOf(piece);
    out.rate = rateOf(piece);
    out.length = lengthOf(piece);
    const auto through = seeThrough(course, out.frames, stop);
    if (!through) return passOn(through.error());
    const bool alpha = *through && plan.keepsAlpha && factsOf(plan.kind).alpha;
    out.alphaKept = alpha;
    out.alphaLost = *through && !alpha;
    const auto sound = factsOf(plan.kind).sound ? soundOf(piece, kitFile, stop) : nullptr;
    VideoPlan how;
    how.size = piece.frame;
    how.rate = out.rate.over;
    how.ratePer = out.rate.under;
    how.soundRate = sound ? SoundReader::rate : 0;
    how.channels = SoundReader::channels;
    how.quality = rateFactorOf(plan.quality);
    how.kind = plan.kind;
    how.alpha = alpha;
    how.bitRate = pass.bitRate;
    how.notes = pass.notes;
    how.into = into;
    auto sink = writeVideo(how);
    if (!sink) return passOn(sink.error());
    if (sound) sound->seek(0);
    std::vector<float> samples;
    long long heard = 0;
    for (long long n = 0; n < out.frames; ++n) {
        if (stop.stop_requested()) return fail(Code::cancelled, "Cancelled.");
        const auto frame = course.at(n, stop);
        if (!frame) return passOn(frame.error());
        if (sound) {
            const double ends = static_cast<double>(n + 1) * out.rate.under / out.rate.over;
            const long long until = std::llround(ends * SoundReader::rate);
            samples.assign(static_cast<std::size_t>((until - heard) * SoundReader::channels), 0.0f);
            sound->read(samples);
            heard = until;
            if (auto done = (*sink)->sound(samples); !done) return passOn(done.error());
        }
        Result<void> put;
        if (!alpha && *through) {
            Straight8 laid = (*frame)->clone();
            layOn(laid, piece.release.matte.value_or(Colour{0, 0, 0, 255}));
            put = (*sink)->picture(laid);
        } else if (plan.kind == VideoKind::gif) {
            auto few = ColourTable(**frame).picture(piece.release.dither);
            put = few ? (*sink)->picture(*few) : passOn(few.error());
        } else if (alpha) {
            Straight8 clean = (*frame)->clone();
            bleedColour(clean);
            put = (*sink)->picture(clean);
        } else {
            put = (*sink)->picture(**frame);
        }
        if (!put) return passOn(put.error());
        if (progress) progress(static_cast<double>(n + 1) / static_cast<double>(out.frames));
    }
    if (auto done = (*sink)->finish(); !done) return passOn(done.error());
    out.loudness = (*sink)->loudness();
    out.pictureCodec = (*sink)->pictureCodec();
    out.soundCodec = (*sink)->soundCodec();
    out.otherBytes = (*sink)->soundBytes();
    return out;
}

}  // namespace

Result<Moved> writeMoving(const Piece& piece, const Kit& kit, const std::optional<Path>& kitFile,
                          const MovingPlan& plan, const Path& out, Replace replace,
                          const std::function<void(double)>& progress,
                          const std::stop_token& stop) {
    if (auto good = checkMoving(piece, plan); !good) return passOn(good.error());
    if (auto good = checkClips(piece, kitFile); !good) return passOn(good.error());
    return unlessTooLarge(piece.title, [&]() -> Result<Moved> {
        const bool solves = plan.kind == VideoKind::mp4 || plan.kind == VideoKind::webm;
        return withinLimit<Moved>(
            {solves && plan.quality != losslessQuality, plan.limit, lengthOf(piece), out, replace},
            progress, [&](const BurnPass& pass, const Path& into, const Progress& told) {
                return runOnce(piece, kit, kitFile, plan, pass, into, told, stop);
            });
    });
}

namespace {

// The picture of one moment, as a PNG where it is see-through, else as a fine JPEG.
Result<Bytes> posterOf(const Straight8& frame) {
    constexpr int fine = 92;
    return isOpaque(frame) ? encode(frame, {Content::jpeg, fine, Chroma::full, Effort::release})
                           : encode(frame, {Content::png, 0, Chroma::full, Effort::release});
}

}  // namespace

Result<Released> releaseMoving(const Piece& piece, const Kit& kit, const Brief& brief,
                               InkStore& store, const std::optional<Path>& kitFile,
                               const Path& folder, Replace replace, std::optional<double> posterAt,
                               const std::stop_token& stop,
                               const std::function<void(double)>& progress) {
    const double moment = std::clamp(posterAt.value_or(tellingMoment(piece)), 0.0, lengthOf(piece));
    const VideoKind kind = movingKindOf(piece, &brief);
    MovingPlan plan{kind, piece.release.quality > 0 ? piece.release.quality : usualQuality,
                    brief.moving.limit.value_or(0)};
    if (kind == VideoKind::matroska) plan.quality = losslessQuality;
    Released told;
    told.piece = piece.id;
    told.file = folder / movingFileName(piece, kind);
    const std::string stem = stemOf(told.file);
    told.receipt = folder / (stem + ".receipt.json");
    told.size = piece.frame;
    told.limit = brief.moving.limit;
    const View view{piece, kit, moment, For::release};
    const auto read = readPiece(view, brief, store, Weighing::quickBound, stop);
    if (!read) return passOn(read.error());
    told.readings = read->readings;
    const auto poster = posterOf(*read->frame);
    if (!poster) return passOn(poster.error());
    const Path posterFile =
        folder / (stem + "-poster" + (isOpaque(*read->frame) ? ".jpg" : ".png"));
    std::error_code none;
    for (const Path& path : {told.file, told.receipt, posterFile})
        if (replace == Replace::no && std::filesystem::exists(path, none))
            return fail(Code::unwritable, fmt::format("{} stands there already.", path.string()),
                        "Choose another name, or ask for it to be replaced.");
    auto moved = writeMoving(piece, kit, kitFile, plan, told.file, replace, progress, stop);
    if (!moved) return passOn(moved.error());
    told.moved = *moved;
    told.bytes = moved->bytes;
    told.alphaKept = !moved->alphaLost;
    const auto hash = sha256OfFile(told.file);
    if (!hash) return passOn(hash.error());
    told.sha256 = *hash;
    told.beside.push_back(posterFile);
    const std::string text = written(receiptOf(told, piece));
    const Bytes receipt(text.begin(), text.end());
    const std::array<FileToWrite, 2> rest{{{posterFile, *poster}, {told.receipt, receipt}}};
    if (auto done = writeFiles(rest, replace); !done) return passOn(done.error());
    return told;
}

}  // namespace zl
