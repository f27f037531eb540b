// SPDX-License-Identifier: GPL-3.0-or-later
#include "facts.h"

namespace zl::video {

std::vector<SoundTrack> soundIn(const AVFormatContext& format) {
    std::vector<SoundTrack> all;
    for (unsigned i = 0; i < format.nb_streams; ++i) {
        const AVStream& stream = *format.streams[i];
        const AVCodecParameters& coded = *stream.codecpar;
        if (coded.codec_type != AVMEDIA_TYPE_AUDIO) continue;
        const AVDictionaryEntry* language = av_dict_get(stream.metadata, "language", nullptr, 0);
        all.push_back(
            {avcodec_get_name(coded.codec_id),
             language && std::string_view(language->value) != "und" ? language->value : "",
             coded.ch_layout.nb_channels, coded.sample_rate});
    }
    return all;
}

}  // namespace zl::video
