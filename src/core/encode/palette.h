// SPDX-License-Identifier: GPL-3.0-or-later
// A frame in 256 colours or fewer. They are found once, which is the slow part, for every format
// that is written with them.
#pragma once

#include <memory>
#include <mutex>
#include <vector>

#include "base/bytes.h"
#include "base/result.h"
#include "raster/raster.h"

namespace zl {

// Safe from any thread: whoever comes first does the work, the others wait for it. Deterministic.
class ColourTable {
  public:
    enum class Layouts {
        asked,  // only what is asked for
        both  // the plain one, which is quick, is found together with the colours: nobody waits for
              // the dithered one to get it
    };
    // Straight 8-bit sRGB; must outlive this.
    explicit ColourTable(const Straight8& frame, Layouts layouts = Layouts::asked, int most = 256);
    ~ColourTable();
    ColourTable(const ColourTable&) = delete;
    ColourTable& operator=(const ColourTable&) = delete;

    // PNG with PLTE, tRNS where a colour is see-through, and sRGB (ISO/IEC 15948). Errors:
    // Code::unwritable.
    [[nodiscard]] Result<Bytes> asPng(bool dither);
    // GIF89a, of an opaque frame only.
    [[nodiscard]] Result<Bytes> asGif(bool dither);
    // What either of them shows: both formats hold the pixels of a palette exactly.
    [[nodiscard]] Result<Straight8> picture(bool dither);

  private:
    // The frame's pixels by their number in `colours`, which are packed as the frame's are.
    struct Indexed {
        std::vector<std::uint8_t> pixels;
        std::vector<std::uint32_t> colours;
    };
    using Kept = std::shared_ptr<const Indexed>;
    [[nodiscard]] Result<void> quantise();
    [[nodiscard]] Result<Kept> laidOut(bool dither);
    [[nodiscard]] Result<Kept> indexed(bool dither);

    const Straight8& frame_;
    Layouts layouts_;
    int most_;                        // colours
    std::once_flag found_, laid_[2];  // plain, dithered
    std::mutex mutex_;                // the library's state is for one thread at a time
    struct Quantised;
    std::unique_ptr<Quantised> quantised_;
    Result<void> status_;
    Result<Kept> indexed_[2];
};

}  // namespace zl
