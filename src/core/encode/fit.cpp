// SPDX-License-Identifier: GPL-3.0-or-later
#include "encode/fit.h"

#include "base/json.h"

#include <fmt/core.h>

#include <algorithm>
#include <array>
#include <iterator>
#include <mutex>

#include "base/parallel.h"
#include "encode/best.h"
#include "encode/jpeg_part.h"
#include "encode/palette.h"
#include "encode/quality_search.h"
#include "picture/decode.h"
#include "raster/bleed.h"

namespace zl {
namespace {

constexpr double encodesExpected = 40;  // six a sampling and table, and some exact

class Search {
  public:
    Search(const Straight8& frame, const FitOptions& options, std::stop_token stop,
           const std::function<void(double)>& progress)
        : options_(options),
          stop_(std::move(stop)),
          progress_(progress),
          original_(frame),
          colours_(frame, ColourTable::Layouts::asked) {
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

    struct Hit {
        Encoding encoding;
        Bytes bytes;
    };
    using Log = std::vector<Tried>;

    // The bytes when they fit, or when they need not.
    Result<std::optional<Hit>> attempt(const Encoding& encoding, Log& log, bool mayExceed = false) {
        if (stop_.stop_requested()) return fail(Code::cancelled, "Cancelled.");
        const Straight8& frame = frameFor(encoding);
        auto bytes = encode(frame, encoding, &frame == &original_ ? &colours_ : nullptr);
        if (!bytes) return passOn(bytes.error());
        const auto size = static_cast<long long>(bytes->size());
        const bool fits = !options_.limit || size <= *options_.limit;
        log.push_back({encoding, size, fits});
        tell();
        if (fits || mayExceed) return std::optional(Hit{encoding, std::move(*bytes)});
        return std::optional<Hit>();
    }

    // Of each encoding what fits, at its highest quality where it has one, in their order. They are
    // tried side by side.
    Result<std::vector<Hit>> hitsOf(const std::vector<Encoding>& encodings) {
        struct Road {
            std::vector<Encoding> encodings;  // of palettes all, since they share one
            Log log;
            std::vector<Hit> hits;
            Result<void> status;
        };
        std::vector<Road> roads;
        for (const Encoding& encoding : encodings) {
            if (!hasPalette(encoding) || roads.empty() ||
                !hasPalette(roads.back().encodings.front()))
                roads.emplace_back();
            roads.back().encodings.push_back(encoding);
        }
        // The last ones take longest.
        const auto count = static_cast<int>(roads.size());
        overRows(count, 1, threads(), [&](int from, int to) {
            for (int i = from; i < to; ++i) {
                Road& road = roads[static_cast<std::size_t>(count - 1 - i)];
                road.status = walk(road.encodings, road.hits, road.log);
            }
        });
        std::vector<Hit> hits;
        for (Road& road : roads) {
            tried_.insert(tried_.end(), road.log.begin(), road.log.end());
            std::ranges::move(road.hits, std::back_inserter(hits));
        }
        for (const Road& road : roads)
            if (!road.status) return passOn(road.status.error());
        return hits;
    }

    // The first of the encodings that fits; none when none does.
    Result<std::vector<Hit>> firstOf(const std::vector<Encoding>& encodings) {
        std::vector<Hit> hits;
        for (const Encoding& encoding : encodings)
            if (auto done = walk({encoding}, hits, tried_); !done)
                return passOn(done.error());
            else if (!hits.empty())
                break;
        return hits;
    }

    Result<Fitted> bestOf(std::vector<Hit> hits) {
        const auto worthOf = [&](const Hit& hit) {
            Worth worth{hit.encoding.exact(), static_cast<long long>(hit.bytes.size())};
            if (worth.exact) return worth;
            const auto back = decode(hit.bytes, "the encoded picture");
            worth.ssim = back ? ssim(frameFor(hit.encoding), *back->pixels, coreCount()) : -1;
            return worth;
        };
        std::vector<Worth> worths(hits.size());
        if (hits.size() > 1)
            overRows(static_cast<int>(hits.size()), 1, threads(), [&](int from, int to) {
                for (auto i = static_cast<std::size_t>(from); i < static_cast<std::size_t>(to); ++i)
                    worths[i] = worthOf(hits[i]);
            });
        std::size_t best = 0;
        for (std::size_t i = 1; i < hits.size(); ++i)
            if (isBetter(worths[i], worths[best])) best = i;
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

    Result<Fitted> exactly(const Encoding& encoding, bool mayExceed) {
        auto hit = attempt(encoding, tried_, mayExceed);
        if (!hit) return passOn(hit.error());
        if (*hit) return finished(encoding, std::move((*hit)->bytes));
        return fail(Code::limitNotMet,
                    fmt::format("As {} it has {} bytes, {} are allowed.", nameOf(encoding),
                                grouped(smallest()), grouped(*options_.limit)),
                    "Let the best format under the limit be found.");
    }

    bool canHold(Content format) const { return solid_ || holdsAlphaOf(original_, format); }

    long long smallest() const {
        long long least = 0;
        for (const Tried& t : tried_) least = least == 0 ? t.bytes : std::min(least, t.bytes);
        return least;
    }

  private:
    static bool hasQuality(const Encoding& encoding) {
        return encoding.format == Content::jpeg ||
               (encoding.format == Content::webp && !encoding.exact());
    }

    static bool hasPalette(const Encoding& encoding) {
        return encoding.palette || encoding.format == Content::gif;
    }

    Result<void> walk(const std::vector<Encoding>& encodings, std::vector<Hit>& hits, Log& log) {
        for (const Encoding& encoding : encodings) {
            auto hit = hasQuality(encoding) ? bestQuality(encoding, log) : attempt(encoding, log);
            if (!hit) return passOn(hit.error());
            if (*hit) hits.push_back(std::move(**hit));
        }
        return {};
    }

    // The highest quality that fits.
    Result<std::optional<Hit>> bestQuality(Encoding encoding, Log& log) {
        std::optional<Hit> best;
        QualitySearch search(encoding.format, options_.limit);
        while (const auto quality = search.next()) {
            encoding.quality = *quality;
            auto hit = attempt(encoding, log);
            if (!hit) return passOn(hit.error());
            search.seen(*quality, log.back().bytes);
            if (*hit) best = std::move(**hit);
        }
        return encoding.format == Content::jpeg ? progressively(encoding, std::move(best), log)
                                                : best;
    }

    // In scans a JPEG is mostly a little smaller: the next qualities may fit, too. Two that do not
    // end it, or one that is over the limit by more than sizes ripple.
    Result<std::optional<Hit>> progressively(Encoding encoding, std::optional<Hit> best, Log& log) {
        encoding.progressive = true;
        constexpr int misses = 2, ripple = 50;  // a fiftieth
        int missed = 0;
        for (encoding.quality = best ? best->encoding.quality : 1;
             encoding.quality <= 100 && missed < misses; ++encoding.quality) {
            auto hit = attempt(encoding, log);
            if (!hit) return passOn(hit.error());
            const bool better = *hit && (!best || encoding.quality > best->encoding.quality ||
                                         (*hit)->bytes.size() < best->bytes.size());
            if (better) {
                best = std::move(**hit);
                continue;
            }
            ++missed;
            if (!*hit && log.back().bytes > *options_.limit + *options_.limit / ripple) break;
        }
        return best;
    }

    // As many as the memory has room for, which a JPEG in scans takes most of.
    int threads() const {
        constexpr long long most = 64'000'000;  // px at a time
        return static_cast<int>(
            std::clamp<long long>(most / std::max(1LL, original_.size().count()), 1, coreCount()));
    }

    void tell() {
        const std::scoped_lock lock(telling_);
        ++told_;
        if (progress_) progress_(std::min(0.95, told_ / encodesExpected));
    }

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
    ColourTable colours_;  // of the original
    Log tried_;
    std::mutex telling_;
    int told_ = 0;
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
            return search.exactly(*options.exactly, options.mayExceed);
        }
        const std::vector<Encoding> exact{{Content::png, 0, Chroma::full, Effort::release},
                                          {Content::webp, 0, Chroma::full, Effort::release}};
        std::vector<Encoding> near;
        for (const Table table : {Table::printed, Table::even})
            for (const Chroma chroma : {Chroma::full, Chroma::half, Chroma::wide}) {
                near.push_back({Content::jpeg, 0, chroma, Effort::release});
                near.back().table = table;
            }
        near.push_back({Content::webp, 1, Chroma::full, Effort::release});
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
            std::vector<Encoding> possible;
            for (const Encoding& encoding : *group) {
                if (!search.allows(encoding.format)) continue;
                any = true;
                if (search.canHold(encoding.format)) possible.push_back(encoding);
            }
            held |= !possible.empty();
            // Of fewer colours the most are best.
            auto hits = group == &byFewColours ? search.firstOf(possible) : search.hitsOf(possible);
            if (!hits) return passOn(hits.error());
            if (!hits->empty()) return search.bestOf(std::move(*hits));
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
