// SPDX-License-Identifier: GPL-3.0-or-later
// The adapter of FFmpeg's libraries: one file, its first stream of pictures, frames by their
// number.
extern "C" {
#include <libavcodec/avcodec.h>
#include <libavformat/avformat.h>
#include <libavutil/display.h>
#include <libavutil/pixdesc.h>
}

#include "video/video.h"

#include <fmt/core.h>

#include <algorithm>
#include <cmath>
#include <deque>
#include <optional>
#include <thread>

#include "facts.h"
#include "fields.h"
#include "held.h"
#include "hevc.h"
#include "kinds.h"
#include "pixels.h"
#include "screen.h"
#include "skim.h"
#include "webp.h"

namespace zl::video {
namespace {

struct Entry {
    std::int64_t pts = 0, duration = 0;
    bool key = false;
};

tl::unexpected<Error> unread(const std::string& name, const std::string& why) {
    return fail(Code::unreadable, fmt::format("{} cannot be read as a video: {}.", name, why),
                "Bring an undamaged video file.");
}

class Source final : public VideoSource {
  public:
    static Result<std::unique_ptr<VideoSource>> open(const Path& file, const std::stop_token& stop);

    const VideoFacts& facts() const override { return facts_; }
    double timeOf(long long number) const override { return secondsOf(entry(number).pts); }
    Result<VideoFrame> coded(long long number, const std::stop_token& stop) override;
    Result<SeenFrame> keyFrame(long long number, PixelSize size,
                               const std::stop_token& stop) override;
    Result<SeenFrame> quick(long long number, PixelSize size, const std::stop_token& stop) override;
    Result<void> play(long long from, PixelSize size, const PlayedFrame& told,
                      const std::stop_token& stop) override;
    Result<void> each(const LookThrough& how, const std::function<bool(Passing&)>& told,
                      const std::stop_token& stop) override;
    Result<std::unique_ptr<VideoSource>> again(int threads,
                                               const std::stop_token& stop) const override;

  private:
    const Entry& entry(long long number) const {
        return (*index_)[static_cast<std::size_t>(number)];
    }
    // The number of the frame of that time stamp; nothing where there is none.
    std::optional<long long> numberOf(std::int64_t pts) const;
    Result<void> openFile(const Path& file);
    Result<void> openDecoder();
    Result<bool> readStamps(AVFormatContext& from);
    Result<void> readIndex();
    Result<void> readFacts();
    void readShape(const AVFrame& first);

    double secondsOf(std::int64_t pts) const {
        return static_cast<double>(pts - start_) * av_q2d(stream_->time_base);
    }
    // From the key frame before `pts`, or so many seconds earlier.
    bool seek(std::int64_t pts, double earlier);
    // The frame of exactly that time stamp; nothing when another one came first.
    Frame decodedAt(std::int64_t pts, const std::stop_token& stop);
    Frame countedAt(long long number, const std::stop_token& stop);
    Frame decoded(long long number, const std::stop_token& stop) {
        return facts_.ratesTold ? decodedAt(entry(number).pts, stop) : countedAt(number, stop);
    }
    // The frames around it woven apart.
    Frame deinterlaced(Frame frame, long long number, const std::stop_token& stop);
    // Keeps a frame that was passed, for who steps back.
    void keep(const AVFrame& frame);
    Frame kept(std::int64_t pts) const;
    // The next packet of the pictures; false at the end.
    bool nextPacket(AVFormatContext& from);
    // The next frame; nothing at the end.
    // `wanted` is asked of each packet before it is decoded.
    Frame nextFrame(const std::stop_token& stop,
                    const std::function<bool(const AVPacket&)>& wanted);
    // Decodes what other pictures need, and leaves the rest out where `needed` is false.
    bool letIn(const AVPacket& packet, bool needed);

    std::string name_;
    std::stop_token stop_;
    Format format_;
    Codec decoder_;
    Packet packet_{av_packet_alloc()};
    AVStream* stream_ = nullptr;
    Path file_;
    std::shared_ptr<std::vector<Entry>> index_ =
        std::make_shared<std::vector<Entry>>();  // in the
                                                 // order in which frames are shown; done when
                                                 // opened
    std::optional<std::int64_t> firstKey_;
    std::int64_t start_ = 0;                    // of the file, in the stream's ticks
    bool hasKeys_ = false, awaitsKey_ = false;  // it was sought, and no key frame came yet
    int topLayer_ = 0;  // of an HEVC stream: the highest of its temporal sub-layers
    int threads_ = 0;   // that decode; 0: as many as there are processors
    std::int64_t last_ = AV_NOPTS_VALUE;   // time stamp of the frame that came last
    std::int64_t asked_ = AV_NOPTS_VALUE;  // of the frame that was asked for last
    std::deque<Frame> tail_;               // what was passed last
    Screen screen_;
    bool ended_ = false;  // the decoder was told that nothing more comes
    VideoFacts facts_;
};

Result<void> Source::openFile(const Path& file) {
    format_ = openedFormat(
        file,
        {[](void* self) { return static_cast<Source*>(self)->stop_.stop_requested() ? 1 : 0; },
         this});
    if (!format_) return unread(name_, "it is no video of a kind that is read, or it is damaged");
    AVFormatContext* context = format_.get();
    if (avformat_find_stream_info(context, nullptr) < 0)
        return unread(name_, "it is damaged or breaks off");
    const int at = av_find_best_stream(context, AVMEDIA_TYPE_VIDEO, -1, -1, nullptr, 0);
    if (at < 0 || (context->streams[at]->disposition & AV_DISPOSITION_ATTACHED_PIC) != 0)
        return unread(name_, "there are no moving pictures in it");
    stream_ = context->streams[at];
    for (unsigned i = 0; i < context->nb_streams; ++i)
        if (context->streams[i] != stream_) context->streams[i]->discard = AVDISCARD_ALL;
    if (context->start_time != AV_NOPTS_VALUE)
        start_ = av_rescale_q(context->start_time, AV_TIME_BASE_Q, stream_->time_base);
    return {};
}

Result<void> Source::openDecoder() {
    const AVCodecParameters& coded = *stream_->codecpar;
    const AVCodec* codec = avcodec_find_decoder(coded.codec_id);
    // FFmpeg's own VP9 decoder drops alpha without a word.
    const AVDictionaryEntry* alpha = av_dict_get(stream_->metadata, "alpha_mode", nullptr, 0);
    if (alpha && std::string_view(alpha->value) == "1") {
        const char* with = coded.codec_id == AV_CODEC_ID_VP9   ? "libvpx-vp9"
                           : coded.codec_id == AV_CODEC_ID_VP8 ? "libvpx"
                                                               : nullptr;
        if (const AVCodec* other = with ? avcodec_find_decoder_by_name(with) : nullptr)
            codec = other;
    }
    if (!codec) return unread(name_, "its codec is not read here");
    decoder_.reset(avcodec_alloc_context3(codec));
    if (!decoder_) throw std::bad_alloc();
    if (avcodec_parameters_to_context(decoder_.get(), &coded) < 0)
        return unread(name_, "it is damaged");
    decoder_->pkt_timebase = stream_->time_base;
    // Each thread has frames of its own: of a large video few of them fit.
    constexpr long long pixelsOfThreads = 17'000'000;
    const long long pixels = std::max(1ll, static_cast<long long>(coded.width) * coded.height);
    decoder_->thread_count = threads_ > 0
                                 ? threads_
                                 : static_cast<int>(std::clamp<long long>(
                                       pixelsOfThreads / pixels, 1,
                                       static_cast<long long>(std::thread::hardware_concurrency()) +
                                           (threads_ == aheadThreads ? 2 : 1)));
    decoder_->max_pixels = mostPixels;
    AVDictionary* options = nullptr;
    av_dict_set(&options, "codec_whitelist", pictureKinds, 0);
    const int opened = avcodec_open2(decoder_.get(), codec, &options);
    av_dict_free(&options);
    if (opened < 0) return unread(name_, "its codec is not read here");
    return {};
}

// All time stamps, by reading the container and decoding nothing; false where one is not told.
Result<bool> Source::readStamps(AVFormatContext& from) {
    constexpr std::size_t mostFrames = 20'000'000;
    bool told = true;
    index_->clear();
    firstKey_.reset();
    while (nextPacket(from)) {
        if (stop_.stop_requested()) return fail(Code::cancelled, "Cancelled.");
        const bool key = (packet_->flags & AV_PKT_FLAG_KEY) != 0,
                   shown = (packet_->flags & AV_PKT_FLAG_DISCARD) == 0;
        if (stream_->codecpar->codec_id == AV_CODEC_ID_HEVC)
            if (const auto picture = hevcPictureIn(*packet_, *stream_->codecpar))
                topLayer_ = std::max(topLayer_, picture->layer);
        told = told && packet_->pts != AV_NOPTS_VALUE;
        if (key && !firstKey_) firstKey_ = packet_->pts;
        if (shown && packet_->size > 0) index_->push_back({packet_->pts, packet_->duration, key});
        av_packet_unref(packet_.get());
        if (index_->size() > mostFrames) return unread(name_, "it has too many frames");
    }
    if (stop_.stop_requested()) return fail(Code::cancelled, "Cancelled.");
    return told;
}

Result<void> Source::readIndex() {
    // What is not told where pictures are only skimmed is found by who reads them.
    Result<bool> told = false;
    if (const auto skim = Skim::of(file_, *format_->iformat);
        skim && skim->format().nb_streams == format_->nb_streams) {
        for (unsigned i = 0; i < format_->nb_streams; ++i)
            skim->format().streams[i]->discard = format_->streams[i]->discard;
        told = readStamps(skim->format());
    }
    if (told && (!*told || index_->empty())) told = readStamps(*format_);
    if (!told) return passOn(told.error());
    if (index_->empty()) return unread(name_, "there is no frame in it");
    facts_.ratesTold = *told;
    const AVRational rate = av_guess_frame_rate(format_.get(), stream_, nullptr);
    const double usual = rate.num > 0 && rate.den > 0 ? av_q2d(rate) : 25;
    if (!*told)  // counted in the order in which they are decoded
        for (std::size_t i = 0; i < index_->size(); ++i)
            (*index_)[i].pts =
                start_ + static_cast<std::int64_t>(std::llround(
                             static_cast<double>(i) / (usual * av_q2d(stream_->time_base))));
    std::stable_sort(index_->begin(), index_->end(),
                     [](const Entry& a, const Entry& b) { return a.pts < b.pts; });
    // A stream that was caught in its middle begins with frames whose key frame is not there.
    if (*told && firstKey_)
        std::erase_if(*index_, [&](const Entry& e) { return e.pts < *firstKey_; });
    if (index_->empty()) return unread(name_, "there is no whole frame in it");
    hasKeys_ = std::any_of(index_->begin(), index_->end(), [](const Entry& e) { return e.key; });
    return {};
}

// How it is to be turned and widened (the display matrix is counter-clockwise).
void Source::readShape(const AVFrame& first) {
    facts_.size = facts_.shown = {first.width, first.height};
    const AVRational pixel = av_guess_sample_aspect_ratio(format_.get(), stream_, nullptr);
    if (pixel.num > 0 && pixel.den > 0) facts_.pixelAspect = av_q2d(pixel);
    if (facts_.pixelAspect < 0.1 || facts_.pixelAspect > 10) facts_.pixelAspect = 1;
    if (const std::uint8_t* side =
            av_stream_get_side_data(stream_, AV_PKT_DATA_DISPLAYMATRIX, nullptr)) {
        const auto* matrix = reinterpret_cast<const std::int32_t*>(side);
        const double turned = av_display_rotation_get(matrix);
        if (!std::isnan(turned))
            facts_.quarters = ((static_cast<int>(std::lround(-turned / 90)) % 4) + 4) % 4;
        const double area =
            static_cast<double>(matrix[0]) * matrix[4] - static_cast<double>(matrix[1]) * matrix[3];
        facts_.mirrored = area < 0;
        if (facts_.mirrored && facts_.quarters % 2 == 0)
            facts_.quarters = matrix[0] < 0 ? 0 : 2;  // mirrored left to right, or top to bottom
    }
    const double x = std::max(1.0, facts_.pixelAspect), y = std::max(1.0, 1 / facts_.pixelAspect);
    facts_.shown = {static_cast<int>(std::lround(first.width * x)),
                    static_cast<int>(std::lround(first.height * y))};
    if (facts_.quarters % 2 != 0) std::swap(facts_.shown.width, facts_.shown.height);
}

Result<void> Source::readFacts() {
    facts_.container = format_->iformat->name;
    facts_.codec = avcodec_get_name(stream_->codecpar->codec_id);
    const std::vector<Entry>& index = *index_;
    facts_.frames = static_cast<long long>(index.size());
    const double tick = av_q2d(stream_->time_base);
    std::int64_t least = INT64_MAX, most = 0;
    for (std::size_t i = 1; i < index.size(); ++i) {
        const std::int64_t step = index[i].pts - index[i - 1].pts;
        least = std::min(least, step);
        most = std::max(most, step);
    }
    const double span = static_cast<double>(index.back().pts - index.front().pts) * tick;
    const AVRational rate = av_guess_frame_rate(format_.get(), stream_, nullptr);
    // Steps that differ by a tick or two are roundings; by more, the rate varies.
    const double mean = index.size() > 1 ? span / static_cast<double>(index.size() - 1) : 0;
    facts_.variableRate = index.size() > 2 && static_cast<double>(most - least) * tick >
                                                  std::max(2.5 * tick, 0.1 * mean);
    facts_.fps = !facts_.variableRate && rate.num > 0 && rate.den > 0 ? av_q2d(rate)
                 : mean > 0                                           ? 1 / mean
                                                                      : 0;
    const double last = index.back().duration > 0
                            ? static_cast<double>(index.back().duration) * tick
                            : (facts_.fps > 0 ? 1 / facts_.fps : 0);
    facts_.duration = secondsOf(index.back().pts) + last;
    facts_.sound = soundIn(*format_);
    const Frame first =
        facts_.ratesTold ? decodedAt(index.front().pts, stop_) : countedAt(0, stop_);
    if (stop_.stop_requested()) return fail(Code::cancelled, "Cancelled.");
    if (!first) return unread(name_, "its first frame is damaged or encrypted");
    const AVPixFmtDescriptor* d = av_pix_fmt_desc_get(static_cast<AVPixelFormat>(first->format));
    facts_.depth = d ? d->comp[0].depth : 8;
    facts_.alpha = d && (d->flags & (AV_PIX_FMT_FLAG_ALPHA | AV_PIX_FMT_FLAG_PAL)) != 0;
    facts_.interlaced = first->interlaced_frame != 0;
    facts_.colour = colourOf(*first);
    readShape(*first);
    return {};
}

bool Source::nextPacket(AVFormatContext& from) {
    while (av_read_frame(&from, packet_.get()) >= 0) {
        if (packet_->stream_index == stream_->index) return true;
        av_packet_unref(packet_.get());
    }
    return false;
}

Frame Source::nextFrame(const std::stop_token& stop,
                        const std::function<bool(const AVPacket&)>& wanted) {
    Frame frame(av_frame_alloc());
    if (!frame) throw std::bad_alloc();
    while (!stop.stop_requested()) {
        const int got = avcodec_receive_frame(decoder_.get(), frame.get());
        if (got == 0) return frame;
        if (got != AVERROR(EAGAIN) || ended_) return nullptr;
        if (!nextPacket(*format_)) {
            ended_ = true;
            avcodec_send_packet(decoder_.get(), nullptr);
            continue;
        }
        // Some containers are sought to any place, and some decoders begin anywhere, with pictures
        // that nothing is right in.
        if (awaitsKey_ && (packet_->flags & AV_PKT_FLAG_KEY) == 0) {
            av_packet_unref(packet_.get());
            continue;
        }
        awaitsKey_ = false;
        // What is damaged is left out; the frames after it may be whole.
        if (wanted(*packet_)) static_cast<void>(avcodec_send_packet(decoder_.get(), packet_.get()));
        av_packet_unref(packet_.get());
    }
    return nullptr;
}

bool Source::letIn(const AVPacket& packet, bool needed) {
    decoder_->skip_frame = needed ? AVDISCARD_DEFAULT : AVDISCARD_NONREF;
    if (needed || stream_->codecpar->codec_id != AV_CODEC_ID_HEVC) return true;
    const auto picture = hevcPictureIn(packet, *stream_->codecpar);
    return !picture || picture->needsKeeping || picture->layer < topLayer_;
}

bool Source::seek(std::int64_t pts, double earlier) {
    const auto back = static_cast<std::int64_t>(earlier / av_q2d(stream_->time_base));
    const std::int64_t first = index_->front().pts;
    const std::int64_t to = std::max(first, pts - back);
    const bool fromStart = to == first && earlier > 0;
    // Some containers have time stamps before those that are shown; others know no earlier ones.
    constexpr double lead = 100;  // s
    const auto before = first - static_cast<std::int64_t>(lead / av_q2d(stream_->time_base));
    const auto sought = [&](std::int64_t at, int how) {
        return av_seek_frame(format_.get(), stream_->index, at, how) >= 0;
    };
    if (!(fromStart && sought(before, AVSEEK_FLAG_BACKWARD)) && !sought(to, AVSEEK_FLAG_BACKWARD) &&
        !sought(0, AVSEEK_FLAG_BYTE))
        return false;
    avcodec_flush_buffers(decoder_.get());
    ended_ = false;
    last_ = AV_NOPTS_VALUE;
    awaitsKey_ = facts_.ratesTold && hasKeys_;
    return true;
}

std::optional<long long> Source::numberOf(std::int64_t pts) const {
    const auto at = std::lower_bound(index_->begin(), index_->end(), pts,
                                     [](const Entry& e, std::int64_t v) { return e.pts < v; });
    if (at == index_->end() || at->pts != pts) return {};
    return at - index_->begin();
}

void Source::keep(const AVFrame& frame) {
    constexpr long long mostBytes = 64'000'000;
    constexpr std::size_t most = 16;
    Frame copy(av_frame_clone(&frame));
    if (!copy) return;
    const long long bytes = std::max(1ll, 3ll * frame.width * frame.height);
    tail_.push_back(std::move(copy));
    while (tail_.size() > most ||
           (tail_.size() > 1 && static_cast<long long>(tail_.size()) * bytes > mostBytes))
        tail_.pop_front();
}

Frame Source::kept(std::int64_t pts) const {
    for (const Frame& frame : tail_)
        if (frame->best_effort_timestamp == pts) return Frame(av_frame_clone(frame.get()));
    return nullptr;
}

Frame Source::decodedAt(std::int64_t pts, const std::stop_token& stop) {
    if (Frame there = kept(pts)) return there;
    constexpr long long none = -1'000;
    const long long number = numberOf(pts).value_or(none),
                    before = numberOf(last_).value_or(2 * none),
                    asked = numberOf(asked_).value_or(2 * none);
    asked_ = pts;
    // Who steps gets the frames before the wanted one, too: the next step back finds them.
    constexpr long long near = 2, behind = 10, ahead = 24;
    const bool steps = number >= 0 && std::abs(number - asked) <= near;
    const std::int64_t whole = steps ? entry(std::max(0ll, number - behind)).pts : pts;
    const auto search = [&]() -> Frame {
        while (Frame frame = nextFrame(stop, [&](const AVPacket& packet) {
                   // What no other frame needs is not decoded on the way.
                   return letIn(packet, packet.pts == AV_NOPTS_VALUE || packet.pts >= whole);
               })) {
            last_ = frame->best_effort_timestamp;
            keep(*frame);
            if (last_ == pts) return frame;
            if (last_ != AV_NOPTS_VALUE && last_ > pts) break;
        }
        return nullptr;
    };
    if (before < number && number - before <= ahead && !ended_)
        if (Frame frame = search()) return frame;
    tail_.clear();
    // Where an open group of pictures, or a stream that was cut, gives a later frame first, the
    // search begins earlier.
    const double length = secondsOf(index_->back().pts) - secondsOf(index_->front().pts) + 1;
    for (double earlier = 0; !stop.stop_requested(); earlier = earlier == 0 ? 1 : 4 * earlier) {
        if (!seek(pts, earlier)) return nullptr;
        if (Frame frame = search()) return frame;
        if (earlier > length) return nullptr;
    }
    return nullptr;
}

Frame Source::countedAt(long long number, const std::stop_token& stop) {
    if (!seek(index_->front().pts, 1)) return nullptr;
    decoder_->skip_frame = AVDISCARD_DEFAULT;
    Frame frame;
    for (long long i = 0; i <= number; ++i)
        if (!(frame = nextFrame(stop, [](const AVPacket&) { return true; }))) return nullptr;
    return frame;
}

Frame Source::deinterlaced(Frame frame, long long number, const std::stop_token& stop) {
    Frame before = number > 0 ? decoded(number - 1, stop) : nullptr;
    Frame after = number + 1 < facts_.frames ? decoded(number + 1, stop) : nullptr;
    return Frame(wovenApart(before.get(), frame.get(), after.get()));
}

Result<VideoFrame> Source::coded(long long number, const std::stop_token& stop) {
    stop_ = stop;
    Frame frame = decoded(number, stop);
    if (stop.stop_requested()) return fail(Code::cancelled, "Cancelled.");
    if (!frame)
        return fail(Code::unreadable,
                    fmt::format("Frame {} of {} is damaged or was not kept.", number, name_),
                    "Choose another frame.");
    if (PixelSize{frame->width, frame->height} != facts_.size)
        return fail(
            Code::unreadable,
            fmt::format("{} changes its size at frame {}, which is not read.", name_, number));
    VideoFrame out;
    if (frame->interlaced_frame != 0)
        if (Frame whole = deinterlaced(Frame(av_frame_clone(frame.get())), number, stop)) {
            frame = std::move(whole);
            out.deinterlaced = true;
        }
    if (stop.stop_requested()) return fail(Code::cancelled, "Cancelled.");
    auto pixels = pixelsOf(*frame);
    if (!pixels) return passOn(pixels.error());
    out.pixels = std::move(pixels->eight);
    out.deep = std::move(pixels->deep);
    out.toned = pixels->toned;
    out.number = number;
    out.time = timeOf(number);
    return out;
}

Result<SeenFrame> Source::keyFrame(long long number, PixelSize size, const std::stop_token& stop) {
    stop_ = stop;
    const std::int64_t pts = entry(number).pts;
    for (double earlier = 0; earlier < 100 && seek(pts, earlier);
         earlier = earlier == 0 ? 1 : 4 * earlier) {
        decoder_->skip_frame = AVDISCARD_NONKEY;
        // One packet, then all that the decoder holds: no frame after it is needed.
        bool sent = false;
        while (!sent && nextPacket(*format_)) {
            if ((packet_->flags & AV_PKT_FLAG_KEY) != 0)
                sent = avcodec_send_packet(decoder_.get(), packet_.get()) == 0;
            av_packet_unref(packet_.get());
            if (stop.stop_requested()) return fail(Code::cancelled, "Cancelled.");
        }
        avcodec_send_packet(decoder_.get(), nullptr);
        ended_ = true;
        Frame frame(av_frame_alloc());
        if (!frame) throw std::bad_alloc();
        const bool got = avcodec_receive_frame(decoder_.get(), frame.get()) == 0;
        decoder_->skip_frame = AVDISCARD_DEFAULT;
        const auto at = got ? numberOf(frame->best_effort_timestamp) : std::nullopt;
        if (!got || (at && *at > number)) continue;
        auto pixels = screen_.of(*frame, size);
        if (!pixels) return passOn(pixels.error());
        const long long which = at.value_or(number);
        return SeenFrame{std::move(*pixels), which, timeOf(which)};
    }
    return fail(Code::unreadable, fmt::format("{} has no key frame there.", name_));
}

Result<SeenFrame> Source::quick(long long number, PixelSize size, const std::stop_token& stop) {
    stop_ = stop;
    const Frame frame = decoded(number, stop);
    if (!frame)
        return fail(Code::unreadable, fmt::format("Frame {} of {} is damaged.", number, name_));
    auto pixels = screen_.of(*frame, size);
    if (!pixels) return passOn(pixels.error());
    return SeenFrame{std::move(*pixels), number, timeOf(number)};
}

Result<void> Source::play(long long from, PixelSize size, const PlayedFrame& told,
                          const std::stop_token& stop) {
    stop_ = stop;
    long long number = from;
    tail_.clear();  // the decoder has to stand at the frame, not only to have it
    // A frame that cannot be had is passed over.
    for (Frame frame = decoded(from, stop); !stop.stop_requested();) {
        if (!frame) return fail(Code::unreadable, fmt::format("{} cannot be played.", name_));
        if (!told(number, timeOf(number), [&] { return screen_.of(*frame, size); })) return {};
        decoder_->skip_frame = AVDISCARD_DEFAULT;
        do {
            frame = nextFrame(stop, [](const AVPacket&) { return true; });
            if (!frame) break;
            last_ = frame->best_effort_timestamp;
            const auto at = numberOf(last_);
            number = at.value_or(number + 1);
        } while (number < from);
        if (!frame || number >= facts_.frames) break;
    }
    if (stop.stop_requested()) return fail(Code::cancelled, "Cancelled.");
    return {};
}

Result<void> Source::each(const LookThrough& how, const std::function<bool(Passing&)>& told,
                          const std::stop_token& stop) {
    stop_ = stop;
    if (!seek(index_->front().pts, 1))
        return fail(Code::unreadable, fmt::format("{} cannot be looked through.", name_));
    double due = -1;
    while (Frame frame =
               nextFrame(stop, [&](const AVPacket& packet) { return letIn(packet, false); })) {
        const auto number = numberOf(frame->best_effort_timestamp);
        if (!number) continue;
        Passing passing;
        if (how.glances) passing.glance = glanceAt(*frame);
        passing.glance.number = *number;
        passing.glance.time = timeOf(*number);
        if (passing.glance.time >= due) {
            due = passing.glance.time + how.step;
            if (how.lumaWidth > 0) shrinkLuma(*frame, how.lumaWidth, passing);
            if (!how.picture.empty())
                if (auto picture = screen_.of(*frame, how.picture))
                    passing.picture = std::move(*picture);
        }
        if (!told(passing)) break;
    }
    decoder_->skip_frame = AVDISCARD_DEFAULT;
    last_ = AV_NOPTS_VALUE;
    if (stop.stop_requested()) return fail(Code::cancelled, "Cancelled.");
    return {};
}

Result<std::unique_ptr<VideoSource>> Source::again(int threads, const std::stop_token& stop) const {
    auto source = std::make_unique<Source>();
    source->threads_ = threads;
    source->name_ = name_;
    source->file_ = file_;
    source->stop_ = stop;
    if (auto done = source->openFile(file_); !done) return passOn(done.error());
    if (auto done = source->openDecoder(); !done) return passOn(done.error());
    source->index_ = index_;
    source->topLayer_ = topLayer_;
    source->hasKeys_ = hasKeys_;
    source->facts_ = facts_;
    source->start_ = start_;
    return source;
}

Result<std::unique_ptr<VideoSource>> Source::open(const Path& file, const std::stop_token& stop) {
    av_log_set_level(AV_LOG_QUIET);  // a broken file is told by an Error's sentence
    auto source = std::make_unique<Source>();
    source->name_ = file.filename().string();
    source->file_ = file;
    source->stop_ = stop;
    for (const auto step : {&Source::openDecoder, &Source::readIndex, &Source::readFacts}) {
        if (!source->format_)
            if (auto done = source->openFile(file); !done)
                return stop.stop_requested() ? fail(Code::cancelled, "Cancelled.")
                                             : passOn(done.error());
        if (auto done = (source.get()->*step)(); !done) return passOn(done.error());
    }
    return source;
}

}  // namespace
}  // namespace zl::video

extern "C" __attribute__((visibility("default"))) zl::Result<std::unique_ptr<zl::VideoSource>>
zl_open_video(const zl::Path& file, const std::stop_token& stop) {
    return zl::video::isWebp(file) ? zl::video::openWebp(file, stop)
                                   : zl::video::Source::open(file, stop);
}
