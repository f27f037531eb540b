// SPDX-License-Identifier: GPL-3.0-or-later
#include "release/table.h"

#include <algorithm>
#include <array>
#include <atomic>
#include <mutex>
#include <optional>

#include "base/parallel.h"
#include "encode/best.h"
#include "encode/palette.h"
#include "picture/decode.h"
#include "raster/bleed.h"

namespace zl {
namespace {

constexpr int fineQuality = 95;

bool ofQuality(const Encoding& e) {
    return e.format == Content::jpeg || (e.format == Content::webp && e.quality > 0);
}

// The highest quality up to fineQuality that fits, in at most eight encodes; fineQuality when none
// does.
Result<std::pair<Encoding, Bytes>> fittingQuality(const Straight8& frame, Encoding encoding,
                                                  const std::optional<long long>& limit,
                                                  const std::stop_token& stop) {
    encoding.quality = fineQuality;
    auto first = encode(frame, encoding);
    if (!first || !limit || static_cast<long long>(first->size()) <= *limit)
        return first ? Result<std::pair<Encoding, Bytes>>(std::pair(encoding, std::move(*first)))
                     : passOn(first.error());
    std::pair<Encoding, Bytes> best{encoding, std::move(*first)};
    for (int low = 1, high = fineQuality - 1; low <= high && !stop.stop_requested();) {
        encoding.quality = (low + high) / 2;
        auto bytes = encode(frame, encoding);
        if (!bytes) return passOn(bytes.error());
        if (static_cast<long long>(bytes->size()) <= *limit) {
            low = encoding.quality + 1;
            best = {encoding, std::move(*bytes)};
        } else {
            high = encoding.quality - 1;
        }
    }
    return best;
}

// A picture and what several rows need of it: its palette, and how far that is from the picture,
// each found once.
class Source {
  public:
    explicit Source(const Straight8& shown)
        : picture(shown), original(shown), palette(shown, ColourTable::Layouts::both) {}
    std::optional<Difference> ofPalette(bool dither, int threads) {
        const std::scoped_lock lock(mutex_[dither]);
        auto& known = known_[dither];
        if (!known)
            if (const auto shown = palette.picture(dither)) known = original.to(*shown, threads);
        return known;
    }
    const Straight8& picture;
    const Original original;
    ColourTable palette;

  private:
    std::array<std::mutex, 2> mutex_;
    std::array<std::optional<Difference>, 2> known_;
};

// `encoded` is told of the row when it has its bytes, and says how many threads may measure it.
// `solid`: what a format without alpha gets; nothing: it has no colour to lie on.
TableRow rowOf(Source& frame, Source* solid, bool seeThrough, const Encoding& asked,
               const Brief& brief, const std::stop_token& stop,
               const std::function<int(const TableRow&)>& encoded) {
    TableRow row;
    row.encoding = asked;
    const bool holds = !seeThrough || holdsAlphaOf(frame.picture, asked.format);
    if (seeThrough) row.alpha = holds ? AlphaOutcome::kept : AlphaOutcome::lost;
    if (!holds && !solid) {
        row.why = {"table.wants-matte", {}};
        return row;
    }
    Source& source = holds ? frame : *solid;
    Result<std::pair<Encoding, Bytes>> made = fail(Code::cancelled, "Cancelled.");
    if (ofQuality(asked)) {
        made = fittingQuality(source.picture, asked, brief.limit, stop);
    } else if (auto bytes = encode(source.picture, asked, &source.palette)) {
        made = std::pair(asked, std::move(*bytes));
    } else {
        made = passOn(bytes.error());
    }
    if (!made) {
        row.why = {"table.cannot", {made.error().what}};
        return row;
    }
    row.encoding = made->first;
    row.bytes = static_cast<long long>(made->second.size());
    row.fits = !brief.limit || row.bytes <= *brief.limit;
    row.file = std::make_shared<const Bytes>(std::move(made->second));
    const int threads = encoded(row);
    const bool ofPalette =
        row.encoding.palette || (asked.format == Content::gif && &source == solid);
    if (ofPalette) {
        if (const auto known = source.ofPalette(row.encoding.dither, threads))
            row.difference = *known;
    } else if (!row.encoding.exact()) {
        if (const auto back = decode(*row.file, "the encoded picture"))
            row.difference = source.original.to(*back->pixels, threads);
    }
    row.measured = true;
    return row;
}

void explain(std::vector<TableRow>& rows, const Brief& brief) {
    TableRow* best = nullptr;
    const auto usable = [&](const TableRow& r) {
        return r.file && r.fits &&
               (r.alpha != AlphaOutcome::lost || brief.alpha != AlphaDemand::seeThrough);
    };
    for (TableRow& row : rows) {
        if (!usable(row)) continue;
        const auto worth = [](const TableRow& r) {
            return Worth{r.encoding.exact(), r.bytes, r.difference.ssim};
        };
        if (!best || isBetter(worth(row), worth(*best))) best = &row;
    }
    const TableRow* png = nullptr;
    for (const TableRow& row : rows)
        if (row.encoding.format == Content::png && !row.encoding.palette) png = &row;
    for (TableRow& row : rows) {
        if (!row.file) continue;
        row.best = &row == best;
        const TableRow* full = nullptr;
        for (const TableRow& other : rows)
            if (other.encoding.format == Content::jpeg && other.encoding.chroma == Chroma::full)
                full = &other;
        if (row.best)
            row.why = row.encoding.exact() ? Message{"table.exact", {}}
                      : png && !png->fits && row.encoding.format == Content::jpeg
                          ? Message{"table.jpegs-job", {}}
                          : Message{"table.nearest", {}};
        else if (!row.fits)
            row.why = {"table.over", {row.bytes - brief.limit.value_or(0)}};
        else if (row.alpha == AlphaOutcome::lost)
            row.why = {"table.solid", {}};
        else if (png && png->fits && !row.encoding.exact() && row.bytes > png->bytes)
            row.why = {"table.larger", {}};
        else if (row.encoding.palette || row.encoding.format == Content::gif)
            row.why = {row.encoding.dither ? "table.dithered" : "table.bands", {}};
        else if (full && row.encoding.chroma == Chroma::half &&
                 row.encoding.format == Content::jpeg &&
                 row.difference.de00P99 > full->difference.de00P99 + 0.5)
            row.why = {"table.chroma", {}};
        else if (row.encoding.exact())
            row.why = {"table.exact-too", {}};
        else
            row.why = {"table.smaller", {}};
    }
}

}  // namespace

std::vector<Encoding> tableOf(const Brief& brief) {
    std::vector<Encoding> rows;
    const auto add = [&](Encoding e) { rows.push_back(e); };
    for (const Content content : {Content::png, Content::jpeg, Content::gif, Content::webp}) {
        if (!brief.accepts(factsOf(content).id)) continue;
        switch (content) {
            case Content::png:
                add({Content::png, 0, Chroma::full, Effort::release});
                add({Content::png, 0, Chroma::full, Effort::release, true, true});
                add({Content::png, 0, Chroma::full, Effort::release, true, false});
                break;
            case Content::jpeg:
                add({Content::jpeg, fineQuality, Chroma::full, Effort::release});
                add({Content::jpeg, fineQuality, Chroma::half, Effort::release});
                break;
            case Content::gif:
                add({Content::gif, 0, Chroma::full, Effort::release});
                break;
            default:
                add({Content::webp, 0, Chroma::full, Effort::release});
                add({Content::webp, fineQuality, Chroma::full, Effort::release});
        }
    }
    return rows;
}

Result<std::vector<TableRow>> releaseTable(
    const Straight8& frame, const Brief& brief, const std::optional<Colour>& matte,
    std::stop_token stop, const std::function<void(std::size_t, const TableRow&)>& told) {
    return unlessTooLarge("The picture", [&]() -> Result<std::vector<TableRow>> {
        const std::vector<Encoding> asked = tableOf(brief);
        const bool seeThrough = !isOpaque(frame);
        Straight8 matted;
        if (seeThrough && matte) {
            matted = frame.clone();
            flattenOnto(matted, matte->red, matte->green, matte->blue);
        }
        Source asIs(frame), laidOn(matted);
        Source* const solid = !seeThrough ? &asIs : matte ? &laidOn : nullptr;
        std::vector<TableRow> rows(asked.size());
        // The slowest (a palette that is dithered) goes first, so that no thread is left alone with
        // it at the end; what waits for it follows, and what is quick is last.
        std::vector<std::size_t> order(asked.size());
        for (std::size_t i = 0; i < order.size(); ++i) order[i] = i;
        const auto turn = [&](std::size_t i) {
            const Encoding& e = asked[i];
            return e.palette && e.dither ? 0 : e.format == Content::gif ? 1 : e.palette ? 2 : 3;
        };
        std::stable_sort(order.begin(), order.end(),
                         [&](std::size_t a, std::size_t b) { return turn(a) < turn(b); });
        // All but one thread take from the slow end, one from the quick end: the first row is there
        // at once.
        std::mutex mutex;
        std::size_t front = 0, back = order.size();
        const auto run = [&](bool fromTheQuickEnd) {
            while (!stop.stop_requested()) {
                std::size_t index = 0;
                {
                    const std::scoped_lock lock(mutex);
                    if (front == back) return;
                    index = order[fromTheQuickEnd ? --back : front++];
                }
                TableRow row = rowOf(
                    asIs, solid, seeThrough, asked[index], brief, stop, [&](const TableRow& early) {
                        const std::scoped_lock lock(mutex);
                        if (told && !stop.stop_requested()) told(index, early);
                        return front == back ? coreCount() : 1;  // the last one is measured by all
                    });
                const std::scoped_lock lock(mutex);
                rows[index] = std::move(row);
                if (told && !stop.stop_requested()) told(index, rows[index]);
            }
        };
        std::atomic<bool> quickTaken{false};
        Crew::mine().share(coreCount() - 1, [&] { run(!quickTaken.exchange(true)); });
        if (stop.stop_requested()) return fail(Code::cancelled, "Cancelled.");
        explain(rows, brief);
        return rows;
    });
}

}  // namespace zl
