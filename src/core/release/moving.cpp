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
#include "film/take_still.h"
#include "raster/bleed.h"
#include "release/course.h"
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

// Whether anything of it is see-through, at its beginning or at four moments more.
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

// What the encoder gets of a frame.
Result<Straight8> asEncoded(const Straight8& frame, bool alpha, const Piece& piece,
                            const MovingPlan& plan, Moved& told) {
    Straight8 out = frame.clone();
    if (alpha) {
        bleedColour(out);
        return out;
    }
    if (!isOpaque(out)) {
        told.alphaLost = true;
        layOn(out, piece.release.matte.value_or(Colour{0, 0, 0, 255}));
    }
    return plan.kind == VideoKind::gif ? ColourTable(out).picture(piece.release.dither)
                                       : Result<Straight8>(std::move(out));
}

VideoPlan videoPlanOf(const Piece& piece, const MovingPlan& plan, const BurnPass& pass,
                      const Path& into, const Moved& told, bool sounds) {
    VideoPlan how;
    how.size = piece.frame;
    how.rate = told.rate.over;
    how.ratePer = told.rate.under;
    how.soundRate = sounds ? SoundReader::rate : 0;
    how.channels = SoundReader::channels;
    how.quality = rateFactorOf(plan.quality);
    how.kind = plan.kind;
    how.alpha = told.alphaKept;
    how.bitRate = pass.bitRate;
    how.notes = pass.notes;
    how.into = into;
    return how;
}

// The samples of a frame's time.
class Heard {
  public:
    Heard(std::unique_ptr<SoundReader> reader, FrameRate rate)
        : reader_(std::move(reader)), rate_(rate) {
        if (reader_) reader_->seek(0);
    }
    Result<void> give(long long frame, VideoSink& sink) {
        if (!reader_) return {};
        const double ends = static_cast<double>(frame + 1) * rate_.under / rate_.over;
        const long long until = std::llround(ends * SoundReader::rate);
        samples_.assign(static_cast<std::size_t>((until - heard_) * SoundReader::channels), 0.0f);
        reader_->read(samples_);
        heard_ = until;
        return sink.sound(samples_);
    }

  private:
    std::unique_ptr<SoundReader> reader_;
    FrameRate rate_;
    std::vector<float> samples_;
    long long heard_ = 0;
};

// One run of the encoder over the whole piece. A frame is encoded while the next one is drawn.
Result<Moved> runOnce(const Piece& piece, const Kit& kit, const std::optional<Path>& kitFile,
                      const MovingPlan& plan, const BurnPass& pass, const Path& into,
                      const Progress& progress, const std::stop_token& stop) {
    Course course(piece, kit, kitFile);
    Moved out;
    out.kind = plan.kind;
    out.frames = frameCountOf(piece);
    out.rate = rateOf(piece);
    out.length = lengthOf(piece);
    const bool may = plan.keepsAlpha && factsOf(plan.kind).alpha;
    const auto through = may ? seeThrough(course, out.frames, stop) : Result<bool>(false);
    if (!through) return passOn(through.error());
    out.alphaKept = *through;
    auto sound = factsOf(plan.kind).sound ? soundOf(piece, kitFile, stop) : nullptr;
    auto sink = writeVideo(videoPlanOf(piece, plan, pass, into, out, sound != nullptr));
    if (!sink) return passOn(sink.error());
    Heard heard(std::move(sound), out.rate);
    Straight8 due;
    Result<void> put;
    std::optional<Beside> encoding;
    for (long long n = 0; n < out.frames; ++n) {
        if (stop.stop_requested()) return fail(Code::cancelled, "Cancelled.");
        const auto frame = course.at(n, stop);
        if (!frame) return passOn(frame.error());
        auto ready = asEncoded(**frame, out.alphaKept, piece, plan, out);
        if (!ready) return passOn(ready.error());
        if (encoding) encoding->finish();
        encoding.reset();
        if (!put) return passOn(put.error());
        if (auto done = heard.give(n, **sink); !done) return passOn(done.error());
        due = std::move(*ready);
        encoding.emplace([&] { put = (*sink)->picture(due); });
        if (progress) progress(static_cast<double>(n + 1) / static_cast<double>(out.frames));
    }
    if (encoding) encoding->finish();
    if (!put) return passOn(put.error());
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
    if (isVideoOf(kit, kitFile, told.file))
        return fail(Code::unwritable,
                    fmt::format("{} is a video of this kit, which is never overwritten.",
                                told.file.string()),
                    "Choose another name.");
    const View view{piece, kit, moment, For::release};
    auto read = readPiece(view, brief, store, Weighing::quickBound, stop);
    if (!read) return passOn(read.error());
    told.readings = read->readings;
    const auto poster = posterOf(*read->frame);
    if (!poster) return passOn(poster.error());
    const Path posterFile =
        folder / (stem + "-poster" + (isOpaque(*read->frame) ? ".jpg" : ".png"));
    // Encoding needs the memory more.
    read->frame.reset();
    store.clear();
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
