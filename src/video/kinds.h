// SPDX-License-Identifier: GPL-3.0-or-later
// The kinds of file that are read: containers and codecs of video and sound, no scripts and lists,
// which name other files.
#pragma once

#include <string>

extern "C" {
#include <libavformat/avformat.h>
}

#include "base/file.h"

namespace zl::video {

inline constexpr char formatKinds[] =
    "mov,mp4,m4a,3gp,3g2,mj2,matroska,webm,avi,mpegts,mpeg,mpegvideo,flv,ogg,asf,gif,apng,mxf,nut,"
    "h264,hevc,m4v,ivf,obu,yuv4mpegpipe,dv";
inline constexpr char pictureKinds[] =
    "h264,hevc,vp8,vp9,libvpx,libvpx-vp9,av1,libdav1d,libaom-av1,mpeg1video,mpeg2video,mpeg4,"
    "msmpeg4v2,msmpeg4,h263,h263p,flv,vp6f,svq3,cinepak,wmv1,wmv2,wmv3,vc1,theora,prores,dnxhd,"
    "cfhd,mjpeg,png,apng,gif,qtrle,ffv1,ffvhuff,huffyuv,utvideo,rawvideo,v210,dvvideo,hap,magicyuv,"
    "wrapped_avframe";
inline constexpr char soundKinds[] =
    "aac,aac_latm,mp2,mp2float,mp3,mp3float,opus,libopus,vorbis,ac3,eac3,flac,alac,dca,wmav2,"
    "adpcm_ms,adpcm_ima_wav,pcm_s16le,pcm_s16be,pcm_s24le,pcm_s24be,pcm_s32le,pcm_f32le,pcm_u8,"
    "pcm_mulaw,pcm_alaw";

struct CloseFormat {
    void operator()(AVFormatContext* context) const { avformat_close_input(&context); }
};
using Format = std::unique_ptr<AVFormatContext, CloseFormat>;

// Nothing where it is of no kind that is read. `stopped` is asked while it reads; `io` reads the
// file when it is given.
inline Format openedFormat(const Path& file, AVIOInterruptCB stopped, AVIOContext* io = nullptr) {
    AVFormatContext* context = avformat_alloc_context();
    if (!context) throw std::bad_alloc();
    constexpr int mostStreams = 64;
    context->max_streams = mostStreams;
    context->flags |= AVFMT_FLAG_GENPTS;
    context->interrupt_callback = stopped;
    context->pb = io;
    AVDictionary* options = nullptr;
    av_dict_set(&options, "protocol_whitelist", "file", 0);
    av_dict_set(&options, "format_whitelist", formatKinds, 0);
    // Sound has its codecs in it, too: some containers tell its facts only through them.
    av_dict_set(&options, "codec_whitelist", (std::string(pictureKinds) + "," + soundKinds).c_str(),
                0);
    av_dict_set(&options, "probesize", "5000000", 0);
    const int opened =
        avformat_open_input(&context, ("file:" + file.string()).c_str(), nullptr, &options);
    av_dict_free(&options);
    return Format(opened < 0 ? nullptr : context);
}

}  // namespace zl::video
