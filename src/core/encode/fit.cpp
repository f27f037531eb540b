// SPDX-License-Identifier: GPL-3.0-or-later
#include "encode/fit.h"

#include <fmt/core.h>

#include <algorithm>

#include "raster/bleed.h"
#include "raster/decode.h"

namespace zl {
namespace {

constexpr double encodesExpected = 15;  // seven a sampling and one PNG

class Search {
  public:
    Search(const Straight8& frame, const FitOptions& options, std::stop_token stop, const std::function<void(double)>& progress)
        : options_(options), stop_(std::move(stop)), progress_(progress), original_(frame) {
        const bool opaque = isOpaque(frame);
        alphaLost_ = !opaque;
        if (!opaque && options.matte) {
            matted_ = frame.clone();
            flattenOnto(matted_, options.matte->red, options.matte->green, options.matte->blue);
        }
        solid_ = opaque ? &frame : options.matte ? &matted_ : nullptr;
    }

    bool allows(Content format) const {
        return std::find(options_.formats.begin(), options_.formats.end(), format) != options_.formats.end();
    }
    bool hasSolid() const { return solid_ != nullptr; }

    // The bytes when they fit, or when they need not.
    Result<std::optional<Bytes>> attempt(const Encoding& encoding, bool mayExceed = false) {
        if (stop_.stop_requested()) return fail(Code::cancelled, "Cancelled.");
        auto bytes = encode(frameFor(encoding), encoding);
        if (!bytes) return passOn(bytes.error());
        const auto size = static_cast<long long>(bytes->size());
        const bool fits = !options_.limit || size <= *options_.limit;
        tried_.push_back({encoding, size, fits});
        if (progress_) progress_(std::min(0.95, static_cast<double>(tried_.size()) / encodesExpected));
        if (fits || mayExceed) return std::optional(std::move(*bytes));
        return std::optional<Bytes>();
    }

    struct Hit {
        Encoding encoding;
        Bytes bytes;
    };

    // The highest quality that fits. Bytes grow with quality but for ripples of a step, so halving finds it.
    Result<std::optional<Hit>> bestJpeg(Chroma chroma) {
        std::optional<Hit> best;
        int low = 1, high = 100;
        while (low <= high) {
            const int middle = best || low > 1 || high < 100 ? (low + high) / 2 : 75;
            const Encoding encoding{Content::jpeg, middle, chroma, Effort::release};
            auto bytes = attempt(encoding);
            if (!bytes) return passOn(bytes.error());
            if (*bytes) {
                best = Hit{encoding, std::move(**bytes)};
                low = middle + 1;
            } else {
                high = middle - 1;
            }
        }
        return best;
    }

    Result<Fitted> finished(Encoding encoding, Bytes bytes) {
        Fitted fitted;
        fitted.encoding = encoding;
        fitted.alphaKept = !alphaLost_ || factsOf(encoding.format).alpha;
        if (factsOf(encoding.format).alpha) {
            fitted.difference = {};  // lossless
        } else {
            auto back = decode(bytes, "the encoded picture");
            if (!back) return passOn(back.error());
            fitted.difference = difference(*solid_, *back->pixels);
        }
        fitted.bytes = std::move(bytes);
        fitted.tried = std::move(tried_);
        return fitted;
    }

    double nearness(const Hit& hit) const {
        const auto back = decode(hit.bytes, "the encoded picture");
        return back ? ssim(*solid_, *back->pixels) : -1;
    }

    long long smallest() const {
        long long least = 0;
        for (const Tried& t : tried_) least = least == 0 ? t.bytes : std::min(least, t.bytes);
        return least;
    }

  private:
    const Straight8& frameFor(const Encoding& encoding) const { return factsOf(encoding.format).alpha || !solid_ ? original_ : *solid_; }

    const FitOptions& options_;
    std::stop_token stop_;
    const std::function<void(double)>& progress_;
    const Straight8& original_;
    Straight8 matted_;
    const Straight8* solid_ = nullptr;  // what a format without alpha gets; nothing: it would lose alpha
    bool alphaLost_ = false;
    std::vector<Tried> tried_;
};

tl::unexpected<Error> losesAlpha() {
    return fail(Code::limitNotMet, "The picture is see-through, and no format with alpha is allowed or fits.",
                "Choose a colour to lay it on (a matte).");
}

}  // namespace

Result<Fitted> fitToLimit(const Straight8& frame, const FitOptions& options, std::stop_token stop,
                          const std::function<void(double)>& progress) {
    Search search(frame, options, std::move(stop), progress);
    if (options.exactly) {
        if (!factsOf(options.exactly->format).alpha && !search.hasSolid()) return losesAlpha();
        auto bytes = search.attempt(*options.exactly, options.mayExceed);
        if (!bytes) return passOn(bytes.error());
        if (*bytes) return search.finished(*options.exactly, std::move(**bytes));
        return fail(Code::limitNotMet,
                    fmt::format("As {} it has {} bytes, {} are allowed.", nameOf(*options.exactly), grouped(search.smallest()),
                                grouped(*options.limit)),
                    "Let the best format under the limit be found.");
    }
    const bool png = search.allows(Content::png), jpeg = search.allows(Content::jpeg);
    if (!png && !jpeg) return fail(Code::badUsage, "None of the formats asked for can be written.", "Ask for png or jpeg.");
    if (png) {
        const Encoding exact{Content::png, 0, Chroma::full, Effort::release};
        auto bytes = search.attempt(exact);
        if (!bytes) return passOn(bytes.error());
        if (*bytes) return search.finished(exact, std::move(**bytes));
    }
    if (jpeg && !search.hasSolid()) return losesAlpha();
    if (jpeg) {
        auto full = search.bestJpeg(Chroma::full);
        if (!full) return passOn(full.error());
        auto half = search.bestJpeg(Chroma::half);
        if (!half) return passOn(half.error());
        // Nearer to the picture wins; full chroma where they are equal.
        if (*full && (!*half || search.nearness(**full) >= search.nearness(**half)))
            return search.finished((*full)->encoding, std::move((*full)->bytes));
        if (*half) return search.finished((*half)->encoding, std::move((*half)->bytes));
    }
    return fail(Code::limitNotMet,
                fmt::format("Nothing fits into {} bytes: the smallest that was tried has {}.", grouped(options.limit.value_or(0)),
                            grouped(search.smallest())),
                "Raise the limit, allow JPEG or make the frame smaller.");
}

}  // namespace zl
