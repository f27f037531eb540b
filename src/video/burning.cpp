// SPDX-License-Identifier: GPL-3.0-or-later
// A mark laid on a video: decoded, blended, encoded; the rest is copied.
extern "C" {
#include <libavutil/pixdesc.h>
}

#include <fmt/core.h>

#include <algorithm>
#include <deque>
#include <map>
#include <optional>
#include <string_view>
#include <thread>

#include "container.h"
#include "encoders.h"
#include "kinds.h"
#include "mark.h"
#include "yuv.h"

namespace zl::video {
namespace {

class Burning {
  public:
    Burning(const BurnPlan& plan, const BurnPass& pass, const Progress& progress,
            const std::stop_token& stop)
        : plan_(plan), pass_(pass), progress_(progress), stop_(stop) {}
    Result<Burnt> run(const Path& into);

  private:
    tl::unexpected<Error> unread(const char* why) const {
        return fail(
            Code::unreadable,
            fmt::format("{} cannot be read as a video: {}.", plan_.video.filename().string(), why),
            "Bring an undamaged video file.");
    }
    Result<void> openInput();
    Result<void> openOutput(const AVFrame& first);
    Result<void> addTracks();
    Result<void> copyTrack(unsigned index);
    void copyDescriptions();
    // A packet of the pictures, or nothing at their end.
    Result<void> decode(const AVPacket* packet);
    Result<void> take(Frame frame);
    Result<void> encode(const AVFrame* frame);
    // Of a mark that moves, what it is at that moment.
    Result<void> follow(double seconds, const AVFrame& frame);
    Result<void> copy(AVPacket& packet);
    double secondsOf(std::int64_t pts) const {
        return static_cast<double>(pts - start_) * av_q2d(from_->time_base);
    }

    const BurnPlan& plan_;
    const BurnPass& pass_;
    const Progress& progress_;
    const std::stop_token& stop_;
    Format in_;
    AVStream *from_ = nullptr, *to_ = nullptr;
    std::map<int, AVStream*> copied_;  // by the index of the track that they come from
    std::deque<Packet> early_;         // came before the first picture
    std::optional<Container> out_;
    Codec decoder_, encoder_;
    Packet coded_{av_packet_alloc()};
    std::optional<MarkOnPlanes> mark_;
    std::shared_ptr<const Straight8> shown_;  // of a mark that moves
    std::optional<Yuv> yuv_;  // where the encoder does not take the video's own pixels
    std::map<std::int64_t, std::int64_t> lengths_;  // of frames that are in the encoder, by pts
    std::int64_t start_ = 0, shift_ = 0, last_ = AV_NOPTS_VALUE;
    int format_ = -1, width_ = 0, height_ = 0;
    Burnt told_;
};

Result<void> Burning::openInput() {
    in_ = openedFormat(
        plan_.video,
        {[](void* self) { return static_cast<Burning*>(self)->stop_.stop_requested() ? 1 : 0; },
         this});
    if (!in_) return unread("it is no video of a kind that is read, or it is damaged");
    if (avformat_find_stream_info(in_.get(), nullptr) < 0)
        return unread("it is damaged or breaks off");
    const int at = av_find_best_stream(in_.get(), AVMEDIA_TYPE_VIDEO, -1, -1, nullptr, 0);
    if (at < 0) return unread("there are no moving pictures in it");
    from_ = in_->streams[at];
    if (in_->start_time != AV_NOPTS_VALUE) {
        start_ = av_rescale_q(in_->start_time, AV_TIME_BASE_Q, from_->time_base);
        // A recording of a broadcast begins at any time of day; a file begins at 0.
        if ((in_->iformat->flags & AVFMT_TS_DISCONT) != 0) shift_ = in_->start_time;
    }
    const AVCodec* codec = avcodec_find_decoder(from_->codecpar->codec_id);
    if (!codec) return unread("its codec is not read here");
    decoder_.reset(avcodec_alloc_context3(codec));
    if (!decoder_) throw std::bad_alloc();
    if (avcodec_parameters_to_context(decoder_.get(), from_->codecpar) < 0)
        return unread("it is damaged");
    decoder_->pkt_timebase = from_->time_base;
    decoder_->thread_count = static_cast<int>(std::thread::hardware_concurrency());
    decoder_->max_pixels = mostPixels;
    AVDictionary* options = nullptr;
    av_dict_set(&options, "codec_whitelist", pictureKinds, 0);
    const int opened = avcodec_open2(decoder_.get(), codec, &options);
    av_dict_free(&options);
    if (opened < 0) return unread("its codec is not read here");
    return {};
}

Result<void> Burning::openOutput(const AVFrame& first) {
    const AVPixFmtDescriptor* d = av_pix_fmt_desc_get(static_cast<AVPixelFormat>(first.format));
    const AVDictionaryEntry* alpha = av_dict_get(from_->metadata, "alpha_mode", nullptr, 0);
    if ((d && (d->flags & AV_PIX_FMT_FLAG_ALPHA) != 0) ||
        (alpha && std::string_view(alpha->value) == "1"))
        return fail(Code::badUsage,
                    fmt::format("{} is see-through, and a mark is burned into videos that fill "
                                "their frame.",
                                plan_.video.filename().string()),
                    "Lay both into a moving piece.");
    EncoderWish wish;
    wish.codec = plan_.container == VideoContainer::webm ? PictureCodec::vp9
                 : plan_.container == VideoContainer::matroska && plan_.quality == losslessQuality
                     ? PictureCodec::ffv1
                     : PictureCodec::h264;
    wish.factor = rateFactorOf(plan_.quality);
    wish.bitRate = pass_.bitRate;
    wish.notes = pass_.notes;
    wish.timeBase = from_->time_base;
    const AVRational rate = av_guess_frame_rate(in_.get(), from_, nullptr);
    if (rate.num > 0 && rate.den > 0) wish.rate = rate;
    const AVRational pixel = av_guess_sample_aspect_ratio(in_.get(), from_, nullptr);
    wish.pixelAspect = pixel.num > 0 ? pixel : AVRational{0, 1};
    const auto codec = encoderOf(wish.codec);
    if (!codec) return passOn(codec.error());
    const AVFrame* like = &first;
    mark_ = MarkOnPlanes::of(*plan_.mark, plan_.left, plan_.top, first);
    Frame converted;
    if (!mark_ || !takes(**codec, static_cast<AVPixelFormat>(first.format))) {
        if (plan_.quality == losslessQuality)
            return fail(Code::badUsage,
                        fmt::format("{} has pixels that cannot be kept exactly in {}.",
                                    plan_.video.filename().string(), wordsOf(plan_.container)),
                        "Choose a quality instead, or a Matroska file.");
        yuv_.emplace(PixelSize{first.width, first.height}, false);
        auto made = yuv_->ofFrame(first);
        if (!made) return passOn(made.error());
        converted = std::move(*made);
        like = converted.get();
        mark_ = MarkOnPlanes::of(*plan_.mark, plan_.left, plan_.top, *like);
    }
    if (auto encoder = openedEncoder(wish, *like))
        encoder_ = std::move(*encoder);
    else
        return passOn(encoder.error());
    told_.codec = avcodec_get_name((*codec)->id);
    format_ = first.format;
    width_ = first.width;
    height_ = first.height;
    if (auto done = addTracks(); !done) return done;
    copyDescriptions();
    if (auto done = out_->header(); !done) return done;
    while (!early_.empty()) {
        const Packet packet = std::move(early_.front());
        early_.pop_front();
        if (auto done = copy(*packet); !done) return done;
    }
    return {};
}

// In the order in which they stand in the video.
Result<void> Burning::addTracks() {
    for (unsigned i = 0; i < in_->nb_streams; ++i) {
        if (in_->streams[i] != from_) {
            if (auto done = copyTrack(i); !done) return done;
            continue;
        }
        to_ = &out_->encoded(*encoder_);
        to_->disposition = from_->disposition;
        to_->avg_frame_rate = from_->avg_frame_rate;
        to_->r_frame_rate = from_->r_frame_rate;
        av_dict_copy(&to_->metadata, from_->metadata, 0);
        for (int k = 0; k < from_->nb_side_data; ++k) {
            const AVPacketSideData& side = from_->side_data[k];
            // What a decoder was told of its buffers is not true of the new pictures.
            if (side.type == AV_PKT_DATA_CPB_PROPERTIES) continue;
            if (std::uint8_t* room = av_stream_new_side_data(to_, side.type, side.size))
                std::copy_n(side.data, side.size, room);
            if (side.type == AV_PKT_DATA_DISPLAYMATRIX && plan_.container != VideoContainer::mp4)
                return fail(Code::badUsage,
                            fmt::format("{} is a recording that is turned when it is shown, and "
                                        "only an MP4 keeps that.",
                                        plan_.video.filename().string()),
                            "Choose an MP4.");
        }
    }
    return {};
}

Result<void> Burning::copyTrack(unsigned index) {
    const AVStream& track = *in_->streams[index];
    const AVMediaType kind = track.codecpar->codec_type;
    const char* codec = avcodec_get_name(track.codecpar->codec_id);
    const bool sound = kind == AVMEDIA_TYPE_AUDIO;
    const std::string words = fmt::format("{} ({})",
                                          sound                             ? "sound"
                                          : kind == AVMEDIA_TYPE_SUBTITLE   ? "subtitles"
                                          : kind == AVMEDIA_TYPE_ATTACHMENT ? "an attachment"
                                          : kind == AVMEDIA_TYPE_VIDEO      ? "a further picture"
                                                                            : "a data track",
                                          codec);
    const bool cover = (track.disposition & AV_DISPOSITION_ATTACHED_PIC) != 0;
    const bool fits = track.codecpar->codec_id != AV_CODEC_ID_NONE &&
                      avformat_query_codec(out_->format().oformat, track.codecpar->codec_id,
                                           FF_COMPLIANCE_NORMAL) == 1 &&
                      (!cover || plan_.container == VideoContainer::mp4) &&
                      kind != AVMEDIA_TYPE_DATA;
    if (!fits && sound)
        return fail(Code::badUsage,
                    fmt::format("The sound of {} is {}, which {} cannot hold.",
                                plan_.video.filename().string(), codec, wordsOf(plan_.container)),
                    "A Matroska file takes any sound.");
    if (!fits) {
        told_.left.push_back(words);
        return {};
    }
    AVStream& to = out_->copied(track);
    to.disposition = track.disposition;
    to.avg_frame_rate = track.avg_frame_rate;
    av_dict_copy(&to.metadata, track.metadata, 0);
    for (int k = 0; k < track.nb_side_data; ++k)
        if (std::uint8_t* room =
                av_stream_new_side_data(&to, track.side_data[k].type, track.side_data[k].size))
            std::copy_n(track.side_data[k].data, track.side_data[k].size, room);
    copied_[static_cast<int>(index)] = &to;
    told_.copied.push_back(words);
    return {};
}

void Burning::copyDescriptions() {
    AVFormatContext& out = out_->format();
    av_dict_copy(&out.metadata, in_->metadata, 0);
    // What the old file said of itself as a file.
    for (const char* key : {"major_brand", "minor_version", "compatible_brands", "encoder"})
        av_dict_set(&out.metadata, key, nullptr, 0);
    if (in_->nb_chapters == 0) return;
    out.chapters = static_cast<AVChapter**>(av_calloc(in_->nb_chapters, sizeof(AVChapter*)));
    if (!out.chapters) throw std::bad_alloc();
    for (unsigned i = 0; i < in_->nb_chapters; ++i) {
        const AVChapter& from = *in_->chapters[i];
        auto* to = static_cast<AVChapter*>(av_mallocz(sizeof(AVChapter)));
        if (!to) throw std::bad_alloc();
        const std::int64_t shift = av_rescale_q(shift_, AV_TIME_BASE_Q, from.time_base);
        to->id = from.id;
        to->time_base = from.time_base;
        to->start = from.start - shift;
        to->end = from.end - shift;
        av_dict_copy(&to->metadata, from.metadata, 0);
        out.chapters[out.nb_chapters++] = to;
    }
}

Result<void> Burning::encode(const AVFrame* frame) {
    if (avcodec_send_frame(encoder_.get(), frame) < 0)
        return fail(Code::unwritable, "A frame could not be encoded.");
    while (avcodec_receive_packet(encoder_.get(), coded_.get()) >= 0) {
        if (const auto length = lengths_.find(coded_->pts); length != lengths_.end()) {
            coded_->duration = length->second;
            lengths_.erase(length);
        }
        if (auto done = out_->put(*coded_, encoder_->time_base, *to_); !done) return done;
    }
    return {};
}

Result<void> Burning::copy(AVPacket& packet) {
    const auto to = copied_.find(packet.stream_index);
    if (to == copied_.end()) return {};
    const AVRational base = in_->streams[packet.stream_index]->time_base;
    const std::int64_t shift = av_rescale_q(shift_, AV_TIME_BASE_Q, base);
    if (packet.pts != AV_NOPTS_VALUE) packet.pts -= shift;
    if (packet.dts != AV_NOPTS_VALUE) packet.dts -= shift;
    told_.otherBytes += packet.size;
    return out_->put(packet, base, *to->second);
}

Result<void> Burning::take(Frame frame) {
    if (!encoder_) {
        if (auto done = openOutput(*frame); !done) return done;
    }
    if (frame->format != format_ || frame->width != width_ || frame->height != height_)
        return fail(Code::unreadable,
                    fmt::format("{} changes its size or its kind of pixels in its course, which "
                                "is not taken.",
                                plan_.video.filename().string()));
    // Without times of its own each frame lasts as long as the rate says.
    const std::int64_t usual =
        std::max<std::int64_t>(1, av_rescale_q(1, av_inv_q(encoder_->framerate), from_->time_base));
    std::int64_t pts = frame->best_effort_timestamp;
    if (pts == AV_NOPTS_VALUE) pts = last_ == AV_NOPTS_VALUE ? start_ : last_ + usual;
    if (last_ != AV_NOPTS_VALUE && pts <= last_) pts = last_ + 1;
    last_ = pts;
    const std::int64_t length = frame->pkt_duration > 0 ? frame->pkt_duration : usual;
    if (yuv_) {
        auto made = yuv_->ofFrame(*frame);
        if (!made) return passOn(made.error());
        frame = std::move(*made);
    }
    const double weight = plan_.time.weightAt(secondsOf(pts), plan_.length);
    if (weight > 0) {
        if (auto done = follow(secondsOf(pts) - plan_.time.from, *frame); !done) return done;
        if (av_frame_make_writable(frame.get()) < 0) throw std::bad_alloc();
        mark_->blend(*frame, weight);
        ++told_.marked;
    }
    ++told_.frames;
    frame->pts = pts - av_rescale_q(shift_, AV_TIME_BASE_Q, from_->time_base);
    frame->pict_type = AV_PICTURE_TYPE_NONE;
    lengths_[frame->pts] = length;
    if (progress_ && plan_.length > 0)
        progress_(std::clamp(secondsOf(pts) / plan_.length, 0.0, 1.0));
    return encode(frame.get());
}

Result<void> Burning::follow(double seconds, const AVFrame& frame) {
    if (!plan_.moving) return {};
    const auto now = plan_.moving(std::max(0.0, seconds));
    if (!now) return passOn(now.error());
    if (*now == shown_) return {};
    shown_ = *now;
    mark_ = MarkOnPlanes::of(*shown_, plan_.left, plan_.top, frame);
    return {};
}

Result<void> Burning::decode(const AVPacket* packet) {
    // What is damaged is left out, as a player leaves it out.
    if (avcodec_send_packet(decoder_.get(), packet) < 0 && packet) return {};
    for (;;) {
        Frame frame(av_frame_alloc());
        if (!frame) throw std::bad_alloc();
        if (avcodec_receive_frame(decoder_.get(), frame.get()) < 0) return {};
        if (auto done = take(std::move(frame)); !done) return done;
    }
}

Result<Burnt> Burning::run(const Path& into) {
    if (auto done = openInput(); !done)
        return stop_.stop_requested() ? fail(Code::cancelled, "Cancelled.") : passOn(done.error());
    auto out = Container::begin(muxerOf(plan_.container), into);
    if (!out) return passOn(out.error());
    out_ = std::move(*out);
    const Packet packet(av_packet_alloc());
    while (!stop_.stop_requested() && av_read_frame(in_.get(), packet.get()) >= 0) {
        Result<void> done;
        if (packet->stream_index == from_->index)
            done = decode(packet.get());
        else if (encoder_)
            done = copy(*packet);
        else
            early_.emplace_back(av_packet_clone(packet.get()));
        if (!done) return passOn(done.error());
        av_packet_unref(packet.get());
    }
    if (stop_.stop_requested()) return fail(Code::cancelled, "Cancelled.");
    if (auto done = decode(nullptr); !done) return passOn(done.error());
    if (!encoder_) return unread("there is no whole frame in it");
    if (auto done = encode(nullptr); !done) return passOn(done.error());
    if (auto done = out_->finish(); !done) return passOn(done.error());
    if (progress_) progress_(1);
    return told_;
}

}  // namespace
}  // namespace zl::video

extern "C" __attribute__((visibility("default"))) zl::Result<zl::Burnt> zl_burn_video(
    const zl::BurnPlan& plan, const zl::BurnPass& pass, const zl::Path& into,
    const zl::Progress& progress, const std::stop_token& stop) {
    av_log_set_level(AV_LOG_QUIET);
    return zl::video::Burning(plan, pass, progress, stop).run(into);
}
