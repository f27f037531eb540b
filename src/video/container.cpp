// SPDX-License-Identifier: GPL-3.0-or-later
#include "container.h"

#include <cerrno>

namespace zl::video {

const char* muxerOf(VideoContainer container) {
    return container == VideoContainer::mp4    ? "mp4"
           : container == VideoContainer::webm ? "webm"
                                               : "matroska";
}

const char* muxerOf(VideoKind kind) {
    return kind == VideoKind::mp4    ? "mp4"
           : kind == VideoKind::webm ? "webm"
           : kind == VideoKind::webp ? "webp"
           : kind == VideoKind::gif  ? "gif"
                                     : "matroska";
}

const char* wordsOf(VideoContainer container) {
    return container == VideoContainer::mp4    ? "an MP4"
           : container == VideoContainer::webm ? "a WebM"
                                               : "a Matroska file";
}

void Container::Close::operator()(AVFormatContext* context) const {
    // What is in memory has no file's size to tell: it is let go in one piece.
    if (context->pb && context->opaque) {
        std::uint8_t* left = nullptr;
        avio_close_dyn_buf(context->pb, &left);
        av_free(left);
    } else if (context->pb) {
        avio_closep(&context->pb);
    }
    avformat_free_context(context);
}

Result<void> Container::refused(int error) const {
    if (error == AVERROR(ENOSPC))
        return fail(Code::unwritable, "The video could not be written: the disk is full.",
                    "Free some room or choose another folder.");
    return fail(Code::unwritable, "The video could not be written.", "Choose another folder.");
}

Result<Container> Container::begin(const char* muxer, const Path& into) {
    Container made;
    AVFormatContext* context = nullptr;
    if (avformat_alloc_output_context2(&context, nullptr, muxer, nullptr) < 0)
        return fail(Code::unwritable, "That kind of file cannot be written here.",
                    "Install the whole of FFmpeg's libraries.");
    made.format_.reset(context);
    context->flags |= AVFMT_FLAG_BITEXACT;  // neither a date nor a version
    if (into.empty()) {
        made.inMemory_ = true;
        context->opaque = context;  // told apart when it is let go
        if (avio_open_dyn_buf(&context->pb) < 0) throw std::bad_alloc();
        return made;
    }
    if (const int error =
            avio_open(&context->pb, ("file:" + into.string()).c_str(), AVIO_FLAG_WRITE);
        error < 0)
        return passOn(made.refused(error).error());
    return made;
}

AVStream& Container::added() {
    AVStream* track = avformat_new_stream(format_.get(), nullptr);
    if (!track) throw std::bad_alloc();
    last_.push_back(AV_NOPTS_VALUE);
    return *track;
}

AVStream& Container::copied(const AVStream& from) {
    AVStream& track = added();
    if (avcodec_parameters_copy(track.codecpar, from.codecpar) < 0) throw std::bad_alloc();
    // A tag of another container says nothing here.
    if (format_->oformat->codec_tag &&
        av_codec_get_id(format_->oformat->codec_tag, track.codecpar->codec_tag) !=
            track.codecpar->codec_id)
        track.codecpar->codec_tag = 0;
    track.time_base = from.time_base;
    return track;
}

AVStream& Container::encoded(const AVCodecContext& encoder) {
    AVStream& track = added();
    if (avcodec_parameters_from_context(track.codecpar, &encoder) < 0) throw std::bad_alloc();
    track.time_base = encoder.time_base;
    track.avg_frame_rate = encoder.framerate;
    track.sample_aspect_ratio = encoder.sample_aspect_ratio;
    return track;
}

Result<void> Container::header(AVDictionary** options) {
    const int error = avformat_write_header(format_.get(), options);
    if (error == AVERROR(ENOSPC)) return refused(error);
    if (error < 0)
        return fail(Code::unwritable, "The video's tracks do not go into that kind of file.",
                    "Choose another format.");
    return {};
}

Result<void> Container::put(AVPacket& packet, AVRational base, const AVStream& track) {
    av_packet_rescale_ts(&packet, base, track.time_base);
    packet.stream_index = track.index;
    packet.pos = -1;
    // Two packets that another container told with one time would be refused.
    std::int64_t& last = last_[static_cast<std::size_t>(track.index)];
    if (packet.dts != AV_NOPTS_VALUE) {
        if (last != AV_NOPTS_VALUE && packet.dts <= last &&
            track.codecpar->codec_type != AVMEDIA_TYPE_SUBTITLE) {
            packet.dts = last + 1;
            if (packet.pts != AV_NOPTS_VALUE) packet.pts = std::max(packet.pts, packet.dts);
        }
        last = packet.dts;
    }
    const int error = av_interleaved_write_frame(format_.get(), &packet);
    return error < 0 ? refused(error) : Result<void>{};
}

Result<Bytes> Container::finish() {
    if (const int error = av_write_trailer(format_.get()); error < 0)
        return passOn(refused(error).error());
    if (!inMemory_) {
        if (const int error = avio_closep(&format_->pb); error < 0)
            return passOn(refused(error).error());
        return Bytes{};
    }
    std::uint8_t* data = nullptr;
    const int size = avio_close_dyn_buf(format_->pb, &data);
    format_->pb = nullptr;
    Bytes out;
    if (data && size > 0) out.assign(data, data + size);
    av_free(data);
    return out;
}

}  // namespace zl::video
