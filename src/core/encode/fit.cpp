// SPDX-License-Identifier: GPL-3.0-or-later
#include "encode/fit.h"

#include "base/json.h"

#include <fmt/core.h>

#include <algorithm>
#include <array>

#include "base/parallel.h"
#include "encode/best.h"
#include "encode/jpeg_part.h"
#include "picture/decode.h"
#include "raster/bleed.h"

namespace zl {
namespace {

constexpr double encodesExpected = 60;  // ten a sampling and table, and one exact

class Search {
  public:
    Search(const Straight8& frame, const FitOptions& options, std::stop_token stop,
           const std::function<void(double)>& progress)
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
        return std::find(options_.formats.begin(), options_.formats.end(), format) !=
               options_.formats.end();
    }

    // The bytes when they fit, or when they need not.
    Result<std::optional<Bytes>> attempt(const Encoding& encoding, bool mayExceed = false) {
        if (stop_.stop_requested()) return fail(Code::cancelled, "Cancelled.");
        auto bytes = encode(frameFor(encoding), encoding);
        if (!bytes) return passOn(bytes.error());
        const auto size = static_cast<long long>(bytes->size());
        const bool fits = !options_.limit || size <= *options_.limit;
        tried_.push_back({encoding, size, fits});
        if (progress_)
            progress_(std::min(0.95, static_cast<double>(tried_.size()) / encodesExpected));
        if (fits || mayExceed) return std::optional(std::move(*bytes));
        return std::optional<Bytes>();
    }

    struct Hit {
        Encoding encoding;
        Bytes bytes;
    };

    // The highest quality that fits. Bytes grow with quality but for ripples of a step, so halving
    // finds it.
    Result<std::optional<Hit>> bestQuality(Encoding encoding) {
        std::optional<Hit> best;
        int low = 1, high = 100;
        while (low <= high) {
            encoding.quality = best || low > 1 || high < 100 ? (low + high) / 2 : 75;
            auto bytes = attempt(encoding);
            if (!bytes) return passOn(bytes.error());
            if (*bytes) {
                best = Hit{encoding, std::move(**bytes)};
                low = encoding.quality + 1;
            } else {
                high = encoding.quality - 1;
            }
        }
        return encoding.format == Content::jpeg ? progressively(encoding, std::move(best)) : best;
    }

    // In scans a JPEG is mostly a little smaller: the next qualities may fit, too.
    Result<std::optional<Hit>> progressively(Encoding encoding, std::optional<Hit> best) {
        encoding.progressive = true;
        constexpr int misses = 2;
        int missed = 0;
        for (encoding.quality = best ? best->encoding.quality : 1;
             encoding.quality <= 100 && missed < misses; ++encoding.quality) {
            auto bytes = attempt(encoding);
            if (!bytes) return passOn(bytes.error());
            const bool better = *bytes && (!best || encoding.quality > best->encoding.quality ||
                                           (*bytes)->size() < best->bytes.size());
            if (better)
                best = Hit{encoding, std::move(**bytes)};
            else
                ++missed;
        }
        return best;
    }

    Result<Fitted> bestOf(std::vector<Hit> hits) {
        const auto worthOf = [&](const Hit& hit) {
            Worth worth{hit.encoding.exact(), static_cast<long long>(hit.bytes.size())};
            if (worth.exact) return worth;
            const auto back = decode(hit.bytes, "the encoded picture");
            worth.ssim = back ? ssim(frameFor(hit.encoding), *back->pixels, coreCount()) : -1;
            return worth;
        };
        std::size_t best = 0;
        std::optional<Worth> bestYet;
        for (std::size_t i = 0; i < hits.size() && hits.size() > 1; ++i) {
            const Worth worth = worthOf(hits[i]);
            if (bestYet && !isBetter(worth, *bestYet)) continue;
            bestYet = worth;
            best = i;
        }
        return finished(hits[best].encoding, std::move(hits[best].bytes));
    }

    Result<Fitted> finished(Encoding encoding, Bytes bytes) {
        Fitted fitted;
        fitted.encoding = encoding;
        fitted.alphaKept = !alphaLost_ || holdsAlphaOf(original_, encoding.format);
        if (!encoding.exact()) {
            auto back = decode(bytes, "the encoded picture");
            if (!back) return passOn(back.error());
            fitted.difference = difference(frameFor(encoding), *back->pixels, coreCount());
        }
        fitted.bytes = std::move(bytes);
        fitted.tried = std::move(tried_);
        return fitted;
    }

    bool canHold(Content format) const { return solid_ || holdsAlphaOf(original_, format); }

    long long smallest() const {
        long long least = 0;
        for (const Tried& t : tried_) least = least == 0 ? t.bytes : std::min(least, t.bytes);
        return least;
    }

  private:
    const Straight8& frameFor(const Encoding& encoding) const {
        return !solid_ || holdsAlphaOf(original_, encoding.format) ? original_ : *solid_;
    }

    const FitOptions& options_;
    std::stop_token stop_;
    const std::function<void(double)>& progress_;
    const Straight8& original_;
    Straight8 matted_;
    const Straight8* solid_ =
        nullptr;  // what a format without alpha gets; nothing: it would lose alpha
    bool alphaLost_ = false;
    std::vector<Tried> tried_;
};

tl::unexpected<Error> losesAlpha() {
    return fail(Code::limitNotMet,
                "The picture is see-through, and no format with alpha is allowed or fits.",
                "Choose a colour to lay it on (a matte).");
}

}  // namespace

std::optional<Fitted> keptAsItIs(ByteView file, const FitOptions& options) {
    if (std::find(options.formats.begin(), options.formats.end(), Content::jpeg) ==
            options.formats.end() ||
        options.exactly)
        return {};
    auto stripped = strippedJpeg(file);
    if (!stripped || (options.limit && static_cast<long long>(stripped->size()) > *options.limit))
        return {};
    Fitted kept;
    kept.encoding = {Content::jpeg, 0, Chroma::full, Effort::release};
    kept.difference = {1, 0};
    kept.bytes = std::move(*stripped);
    return kept;
}

Result<Fitted> fitToLimit(const Straight8& frame, const FitOptions& options, std::stop_token stop,
                          const std::function<void(double)>& progress) {
    return unlessTooLarge("The picture", [&]() -> Result<Fitted> {
        Search search(frame, options, std::move(stop), progress);
        if (options.exactly) {
            if (!search.canHold(options.exactly->format)) return losesAlpha();
            auto bytes = search.attempt(*options.exactly, options.mayExceed);
            if (!bytes) return passOn(bytes.error());
            if (*bytes) return search.finished(*options.exactly, std::move(**bytes));
            return fail(
                Code::limitNotMet,
                fmt::format("As {} it has {} bytes, {} are allowed.", nameOf(*options.exactly),
                            grouped(search.smallest()), grouped(*options.limit)),
                "Let the best format under the limit be found.");
        }
        const std::vector<Encoding> exact{{Content::png, 0, Chroma::full, Effort::release},
                                          {Content::webp, 0, Chroma::full, Effort::release}};
        std::vector<Encoding> near;
        for (const Table table : {Table::printed, Table::even})
            for (const Chroma chroma : {Chroma::full, Chroma::half, Chroma::wide}) {
                near.push_back({Content::jpeg, 0, chroma, Effort::release});
                near.back().table = table;
            }
        near.push_back({Content::webp, 0, Chroma::full, Effort::release});
        near.push_back({Content::png, 0, Chroma::full, Effort::release, true});
        near.push_back({Content::gif, 0, Chroma::full, Effort::release});
        // The last resort: fewer colours, as many as fit.
        std::vector<Encoding> byFewColours;
        for (const int colours : {128, 64, 32, 16, 8, 4, 2}) {
            byFewColours.push_back({Content::png, 0, Chroma::full, Effort::release, true});
            byFewColours.back().colours = colours;
        }
        bool any = false, held = false;
        const std::array<const std::vector<Encoding>*, 3> groups{&exact, &near, &byFewColours};
        for (const std::vector<Encoding>* group : groups) {
            std::vector<Search::Hit> hits;
            for (const Encoding& encoding : *group) {
                if (!search.allows(encoding.format)) continue;
                any = true;
                if (!search.canHold(encoding.format)) continue;
                held = true;
                if (group == &near &&
                    (encoding.format == Content::jpeg || encoding.format == Content::webp)) {
                    auto best = search.bestQuality(encoding);
                    if (!best) return passOn(best.error());
                    if (*best) hits.push_back(std::move(**best));
                } else {
                    auto bytes = search.attempt(encoding);
                    if (!bytes) return passOn(bytes.error());
                    if (*bytes) hits.push_back({encoding, std::move(**bytes)});
                }
                // Of fewer colours the most are best.
                if (!hits.empty() && group == &byFewColours) break;
            }
            if (!hits.empty()) return search.bestOf(std::move(hits));
        }
        if (!any)
            return fail(Code::badUsage, "None of the formats asked for can be written.",
                        "Ask for png, jpeg, gif or webp.");
        if (!held) return losesAlpha();
        return fail(Code::limitNotMet,
                    fmt::format("Nothing fits into {} bytes: the smallest that was tried has {}.",
                                grouped(options.limit.value_or(0)), grouped(search.smallest())),
                    "Raise the limit, allow JPEG or make the frame smaller.");
    });
}

OrderedJson jsonOf(const std::vector<Tried>& tried) {
    OrderedJson all = OrderedJson::array();
    for (const Tried& t : tried) {
        const bool jpeg = t.encoding.format == Content::jpeg,
                   ofQuality =
                       jpeg || (t.encoding.format == Content::webp && t.encoding.quality > 0);
        all.push_back(
            {{"format", factsOf(t.encoding.format).id},
             {"quality", ofQuality ? OrderedJson(t.encoding.quality) : OrderedJson(nullptr)},
             {"chroma", jpeg ? OrderedJson(samplingOf(t.encoding.chroma)) : OrderedJson(nullptr)},
             {"palette", t.encoding.palette},
             {"bytes", t.bytes},
             {"fits", t.fits}});
    }
    return all;
}

}  // namespace zl
