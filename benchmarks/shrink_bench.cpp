// SPDX-License-Identifier: GPL-3.0-or-later
// A JPEG of 24 megapixels made 1280 x 720 and written again, against libvips' own thumbnail
// pipeline.
#include <vips/vips.h>

#include "base/parallel.h"
#include "pair.h"
#include "picture/decode.h"
#include "raster/resample.h"
#include "twelve_layers.h"

namespace zl::bench {
namespace {

void jpegOf24Megapixels(benchmark::State& state) {
    const Bytes bytes = must(encode(demo::duskAtTheBox({6000, 4000}, 7),
                                    {Content::jpeg, 90, Chroma::half, Effort::quick}));
    constexpr PixelSize wanted{1280, 720};
    const Encoding fine{Content::jpeg, 95, Chroma::half, Effort::quick};
    compare(
        state,
        [&] {
            const Picture picture = must(decodeFor(wanted, bytes, "large.jpg"));
            const RealRect box =
                largestInside(RealRect::of(picture.pixels->size()), wanted.width, wanted.height);
            const Ink ink = resampled(picture.pixels, true, box, RealRect::of(wanted),
                                      PixelRect::of(wanted), coreCount());
            benchmark::DoNotOptimize(must(encode(rounded8(ink), fine)).size());
        },
        [&] {
            VipsImage* out = nullptr;
            if (vips_thumbnail_buffer(const_cast<std::uint8_t*>(bytes.data()), bytes.size(), &out,
                                      wanted.width, "height", wanted.height, "crop",
                                      VIPS_INTERESTING_CENTRE, nullptr) != 0)
                std::abort();
            void* data = nullptr;
            std::size_t size = 0;
            if (vips_jpegsave_buffer(out, &data, &size, "Q", 95, nullptr) != 0) std::abort();
            g_object_unref(out);
            g_free(data);
        });
}

BENCHMARK(jpegOf24Megapixels)->UseManualTime()->Iterations(7)->Unit(benchmark::kMillisecond);

}  // namespace
}  // namespace zl::bench
