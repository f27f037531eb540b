// SPDX-License-Identifier: GPL-3.0-or-later
#include "encoders.h"

extern "C" {
#include <libavutil/opt.h>
}

#include <fmt/core.h>

#include <algorithm>
#include <cmath>

#include "pixels.h"

namespace zl::video {
namespace {

constexpr int encodingThreads = 4;  // the bytes depend on it, so it is the same everywhere

struct Named {
    const char *encoder, *name, *comesWith;
};
Named namedOf(PictureCodec codec) {
    switch (codec) {
        case PictureCodec::h264:
            return {"libx264", "H.264", "libx264"};
        case PictureCodec::vp9:
            return {"libvpx-vp9", "VP9", "libvpx"};
        case PictureCodec::webp:
            return {"libwebp_anim", "Animated WebP", "libwebp"};
        case PictureCodec::gif:
            return {"gif", "GIF", "FFmpeg's libraries"};
        case PictureCodec::ffv1:
            break;
    }
    return {"ffv1", "FFV1", "FFmpeg's libraries"};
}

void setH264(AVCodecContext& c, const EncoderWish& wish) {
    av_opt_set(c.priv_data, "preset", "veryfast", 0);
    if (wish.factor == 0) {
        av_opt_set_int(c.priv_data, "qp", 0, 0);
        return;
    }
    if (wish.bitRate > 0)
        c.bit_rate = wish.bitRate;
    else
        av_opt_set_double(c.priv_data, "crf", wish.factor, 0);
    if (wish.notes.empty()) return;
    // The first run is encoded by quality as if it were the only one; where it is too large, what
    // it wrote down tells the second where bits are needed.
    c.flags |= wish.bitRate > 0 ? AV_CODEC_FLAG_PASS2 : AV_CODEC_FLAG_PASS1;
    av_opt_set(c.priv_data, "fastfirstpass", "0", 0);
    av_opt_set(c.priv_data, "stats", wish.notes.c_str(), 0);
}

void setVp9(AVCodecContext& c, const EncoderWish& wish) {
    av_opt_set(c.priv_data, "deadline", "good", 0);
    av_opt_set_int(c.priv_data, "cpu-used", 4, 0);
    av_opt_set_int(c.priv_data, "row-mt", 1, 0);
    av_opt_set_int(c.priv_data, "tile-columns", 2, 0);
    if (wish.factor == 0) {
        av_opt_set_int(c.priv_data, "lossless", 1, 0);
        return;
    }
    // Its quantizers go to 63 where x264's go to 51.
    const double same = std::round(wish.factor * 63 / 51);
    if (wish.bitRate > 0) {
        c.bit_rate = wish.bitRate;
        c.rc_max_rate = wish.bitRate * 3 / 2;
        av_opt_set_int(c.priv_data, "overshoot-pct", 5, 0);
    } else {
        av_opt_set_int(c.priv_data, "crf", static_cast<long long>(same), 0);
    }
}

void setWebp(AVCodecContext& c, const EncoderWish& wish) {
    if (wish.factor == 0)
        av_opt_set_int(c.priv_data, "lossless", 1, 0);
    else
        av_opt_set_double(c.priv_data, "quality", std::clamp(127 - 2.5 * wish.factor, 1.0, 100.0),
                          0);
}

}  // namespace

PictureCodec pictureCodecOf(VideoKind kind) {
    return kind == VideoKind::webm       ? PictureCodec::vp9
           : kind == VideoKind::matroska ? PictureCodec::ffv1
           : kind == VideoKind::webp     ? PictureCodec::webp
           : kind == VideoKind::gif      ? PictureCodec::gif
                                         : PictureCodec::h264;
}

Result<const AVCodec*> encoderOf(PictureCodec codec) {
    const Named named = namedOf(codec);
    if (const AVCodec* found = avcodec_find_encoder_by_name(named.encoder)) return found;
    return fail(Code::unwritable, fmt::format("{} cannot be encoded here.", named.name),
                fmt::format("Install FFmpeg's libraries with {}.", named.comesWith));
}

bool takes(const AVCodec& codec, AVPixelFormat format) {
    for (const AVPixelFormat* one = codec.pix_fmts; one && *one != AV_PIX_FMT_NONE; ++one)
        if (*one == format) return true;
    return false;
}

Result<Codec> openedEncoder(const EncoderWish& wish, const AVFrame& like) {
    const auto codec = encoderOf(wish.codec);
    if (!codec) return passOn(codec.error());
    Codec encoder(avcodec_alloc_context3(*codec));
    if (!encoder) throw std::bad_alloc();
    AVCodecContext& c = *encoder;
    c.width = like.width;
    c.height = like.height;
    c.pix_fmt = static_cast<AVPixelFormat>(like.format);
    c.time_base = wish.timeBase;
    c.framerate = wish.rate;
    c.sample_aspect_ratio = wish.pixelAspect;
    c.thread_count = encodingThreads;
    c.color_range = like.color_range;
    c.colorspace = like.colorspace;
    c.color_primaries = like.color_primaries;
    c.color_trc = like.color_trc;
    c.chroma_sample_location = like.chroma_location;
    if (like.interlaced_frame != 0) {
        c.flags |= AV_CODEC_FLAG_INTERLACED_DCT | AV_CODEC_FLAG_INTERLACED_ME;
        c.field_order = like.top_field_first != 0 ? AV_FIELD_TT : AV_FIELD_BB;
    }
    c.flags |= AV_CODEC_FLAG_BITEXACT;
    // An animation has no header of its own.
    if (wish.codec != PictureCodec::webp && wish.codec != PictureCodec::gif)
        c.flags |= AV_CODEC_FLAG_GLOBAL_HEADER;
    const double rate = av_q2d(wish.rate);
    c.gop_size = std::max(1, static_cast<int>(std::lround(std::min(rate, 1000.0) * wish.between)));
    if (wish.codec == PictureCodec::h264) setH264(c, wish);
    if (wish.codec == PictureCodec::vp9) setVp9(c, wish);
    if (wish.codec == PictureCodec::webp) setWebp(c, wish);
    if (avcodec_open2(&c, *codec, nullptr) < 0)
        return fail(Code::unwritable,
                    fmt::format("{} does not take a video of {} x {} px so.",
                                namedOf(wish.codec).name, like.width, like.height),
                    "Choose another format.");
    return encoder;
}

}  // namespace zl::video
