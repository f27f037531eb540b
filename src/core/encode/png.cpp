// SPDX-License-Identifier: GPL-3.0-or-later
#include "encode/png.h"

#include <libdeflate.h>

#include <fmt/core.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <cstdlib>
#include <cstring>
#include <limits>
#include <optional>
#include <string_view>
#include <tuple>
#include <unordered_map>
#include <unordered_set>

#include "base/owned.h"

#include "picture/vips_part.h"

namespace zl {
namespace {

// trialLevel tells which filter is best as well as releaseLevel does, in half of the time
// (docs/performance.md).
constexpr int quickLevel = 1, trialLevel = 4, releaseLevel = 6, thoroughLevel = 12;

enum Filter : std::uint8_t { none, sub, up, average, paeth };  // ISO/IEC 15948, 9.2

tl::unexpected<Error> unwritten(const std::string& why) {
    return fail(Code::unwritable, fmt::format("The picture could not be written as PNG: {}.", why));
}

void addNumber(Bytes& to, std::size_t number) {
    for (int shift = 24; shift >= 0; shift -= 8)
        to.push_back(static_cast<std::uint8_t>(number >> shift));
}

// ISO/IEC 15948, 5.3
void addChunk(Bytes& to, std::string_view name, ByteView body) {
    addNumber(to, body.size());
    const std::size_t checked = to.size();
    to.insert(to.end(), name.begin(), name.end());
    to.insert(to.end(), body.begin(), body.end());
    addNumber(to, libdeflate_crc32(0, to.data() + checked, to.size() - checked));
}

struct Header {
    PixelSize size;
    int depth = 8;
    int colourType = 0;  // 0: grey, 2: RGB, 3: palette, 4: grey and alpha, 6: RGBA
};

Result<Bytes> deflated(ByteView rows, int level) {
    const Owned<libdeflate_compressor, libdeflate_free_compressor> compressor(
        libdeflate_alloc_compressor(level));
    if (!compressor) return unwritten("there is no memory for it");
    Bytes data(libdeflate_zlib_compress_bound(compressor.get(), rows.size()));
    data.resize(libdeflate_zlib_compress(compressor.get(), rows.data(), rows.size(), data.data(),
                                         data.size()));
    return data;
}

// `palette`: the chunks between header and data.
Result<Bytes> fileOf(const Header& header, ByteView palette, ByteView rows, int level) {
    const auto data = deflated(rows, level);
    if (!data) return data;
    Bytes facts;
    addNumber(facts, static_cast<std::size_t>(header.size.width));
    addNumber(facts, static_cast<std::size_t>(header.size.height));
    for (const int value : {header.depth, header.colourType, 0, 0, 0})
        facts.push_back(static_cast<std::uint8_t>(value));
    Bytes out{0x89, 'P', 'N', 'G', '\r', '\n', 0x1A, '\n'};
    addChunk(out, "IHDR", facts);
    addChunk(out, "sRGB", Bytes{0});  // perceptual
    out.insert(out.end(), palette.begin(), palette.end());
    addChunk(out, "IDAT", *data);
    addChunk(out, "IEND", {});
    return out;
}

// Where there are several, each row takes the one with the least sum of absolute differences
// (ISO/IEC 15948, 12.8).
constexpr std::array everyFilter{none, sub, up, average, paeth};
constexpr std::array noFilter{none};   // flat and drawn pictures, and grain
constexpr std::array leftFilter{sub};  // smooth ones
constexpr std::array upFilter{up}, averageFilter{average}, paethFilter{paeth};

// One row; `before`: the row above it. `step`: bytes of a pixel; in front of both rows lie as many
// zeros.
void filterRow(Filter filter, const std::uint8_t* row, const std::uint8_t* before, int count,
               int step, std::uint8_t* __restrict to) {
    const std::uint8_t *left = row - step, *corner = before - step;
    switch (filter) {
        case none:
            std::copy_n(row, count, to);
            return;
        case sub:
            for (int i = 0; i < count; ++i) to[i] = static_cast<std::uint8_t>(row[i] - left[i]);
            return;
        case up:
            for (int i = 0; i < count; ++i) to[i] = static_cast<std::uint8_t>(row[i] - before[i]);
            return;
        case average:
            for (int i = 0; i < count; ++i)
                to[i] = static_cast<std::uint8_t>(row[i] - ((left[i] + before[i]) >> 1));
            return;
        case paeth:
            for (int i = 0; i < count; ++i) {
                const int a = left[i], b = before[i], c = corner[i];
                const int toA = std::abs(b - c), toB = std::abs(a - c),
                          toC = std::abs(a + b - 2 * c);
                const int nearer = toB <= toC ? b : c;
                to[i] = static_cast<std::uint8_t>(row[i] - (toA <= toB && toA <= toC ? a : nearer));
            }
    }
}

// By what a row's filter is chosen: the least sum of absolute differences (ISO/IEC 15948, 12.8),
// the least entropy of its bytes (Shannon 1948), or what deflates least behind the rows before it.
enum class Choice { sum, entropy, deflated };

class Rows {
  public:
    // `step`: bytes of a pixel: grey, grey and alpha, RGB or RGBA.
    Rows(const Straight8& frame, int step, Choice choice = Choice::sum)
        : frame_(frame), step_(step), choice_(choice) {
        for (Bytes& row : rows_) row.resize(static_cast<std::size_t>(step_ + count()));
        candidate_.resize(static_cast<std::size_t>(count()));
    }

    // Those of [from, to), each with its filter's number in front: the one of `filters` that gives
    // the least.
    void add(int from, int to, std::span<const Filter> filters, Bytes& out) {
        for (int y = from; y < to; ++y) {
            load(y, rows_[0]);
            if (y > 0)
                load(y - 1, rows_[1]);
            else
                std::fill(rows_[1].begin(), rows_[1].end(), std::uint8_t{0});
            const std::size_t at = out.size();
            out.resize(at + 1 + static_cast<std::size_t>(count()));
            double least = std::numeric_limits<double>::max();
            for (const Filter filter : filters) {
                std::uint8_t* const into =
                    filters.size() == 1 ? out.data() + at + 1 : candidate_.data();
                filterRow(filter, rows_[0].data() + step_, rows_[1].data() + step_, count(), step_,
                          into);
                const double cost =
                    filters.size() > 1 ? costOf(filter, ByteView(out).first(at)) : 0;
                if (cost >= least) continue;
                least = cost;
                out[at] = filter;
                if (filters.size() > 1) std::copy_n(into, count(), out.data() + at + 1);
            }
        }
    }

  private:
    int count() const { return frame_.width() * step_; }

    // Of the candidate, filtered so.
    double costOf(Filter filter, ByteView before) {
        if (choice_ == Choice::sum) {
            int sum = 0;
            for (int i = 0; i < count(); ++i)
                sum += std::abs(static_cast<int>(
                    static_cast<std::int8_t>(candidate_[static_cast<std::size_t>(i)])));
            return sum;
        }
        if (choice_ == Choice::entropy) {
            std::array<int, 256> counts{};
            for (int i = 0; i < count(); ++i) ++counts[candidate_[static_cast<std::size_t>(i)]];
            double bits = 0;
            for (const int n : counts)
                if (n > 0) bits -= n * std::log2(static_cast<double>(n) / count());
            return bits;
        }
        constexpr std::size_t window = 12288;  // bytes of the rows before it
        const ByteView seen = before.last(std::min(window, before.size()));
        tail_.assign(seen.begin(), seen.end());
        tail_.push_back(filter);
        tail_.insert(tail_.end(), candidate_.begin(), candidate_.end());
        const auto size = deflated(tail_, trialLevel);
        return size ? static_cast<double>(size->size()) : std::numeric_limits<double>::max();
    }

    void load(int y, Bytes& to) const {
        const std::uint32_t* row = frame_.row(y);
        std::uint8_t* bytes = to.data() + step_;
        if (step_ == 4) {
            std::memcpy(bytes, row, static_cast<std::size_t>(count()));
            return;
        }
        if (step_ <= 2) {
            for (int x = 0; x < frame_.width(); ++x) {
                bytes[step_ * x] = static_cast<std::uint8_t>(row[x]);
                if (step_ == 2) bytes[2 * x + 1] = static_cast<std::uint8_t>(row[x] >> 24);
            }
            return;
        }
        for (int x = 0; x < frame_.width(); ++x)
            for (int i = 0; i < 3; ++i)
                bytes[3 * x + i] = static_cast<std::uint8_t>(row[x] >> (8 * i));
    }

    const Straight8& frame_;
    int step_;
    std::array<Bytes, 2> rows_;  // the row, and the one above it
    Choice choice_;
    Bytes candidate_, tail_;
};

// Where a tenth of the rows hardly shrinks, what repeats is chance, and a long search for it saves
// less than one byte in a hundred.
Result<int> levelOf(const Bytes& rows) {
    constexpr std::size_t share = 10, hardly = 3;
    const std::size_t few = rows.size() / share;
    const auto tried = deflated(ByteView(rows).subspan((rows.size() - few) / 2, few), quickLevel);
    if (!tried) return passOn(tried.error());
    return tried->size() * hardly > few ? trialLevel : releaseLevel;
}

// Rows of a frame, evenly spread.
struct Bands {
    int count = 1, height = 0;
};

Bytes filtered(const Straight8& frame, int step, std::span<const Filter> filters, Bands bands,
               Choice choice = Choice::sum) {
    Rows rows(frame, step, choice);
    Bytes out;
    out.reserve(static_cast<std::size_t>(bands.count) * static_cast<std::size_t>(bands.height) *
                (static_cast<std::size_t>(frame.width()) * static_cast<std::size_t>(step) + 1));
    for (int band = 0; band < bands.count; ++band) {
        const int from = (2 * band + 1) * (frame.height() - bands.height) / (2 * bands.count);
        rows.add(from, from + bands.height, filters, out);
    }
    return out;
}

Result<Bytes> fileOf(const Straight8& frame, int step, ByteView rows, int level) {
    constexpr std::array colourTypes{0, 4, 2, 6};
    return fileOf({frame.size(), 8, colourTypes[static_cast<std::size_t>(step - 1)]}, {}, rows,
                  level);
}

Result<Bytes> encoded(const Straight8& frame, int step, std::span<const Filter> filters, int level,
                      Bands bands) {
    return fileOf(frame, step, filtered(frame, step, filters, bands), level);
}

// What is tried with every filter: one row in ten, at least enough of them; all of them where those
// are most.
Bands triedOf(const Straight8& frame) {
    constexpr int enough = 3 << 15, share = 10,
                  bandHeight = 12;  // pixels; one in so many rows; rows
    const int count =
        std::max({1, enough / frame.width() / bandHeight, frame.height() / share / bandHeight});
    return count * bandHeight >= frame.height() ? Bands{1, frame.height()}
                                                : Bands{count, bandHeight};
}

// That a release is never larger than the quick look is seen by writing both. Where the quick
// look's filter is chosen and a sample of it is clearly smaller when deflated harder, so is the
// whole, and it is not written twice.
// Marks and icons are small: every filter is tried on all of them, and the best two are deflated as
// hard as can be.
Result<Bytes> allTried(const Straight8& frame, int step) {
    const Bands whole{1, frame.height()};
    struct Tried {
        std::size_t bytes;
        Bytes rows;
    };
    std::vector<Tried> tried;
    const auto offer = [&](std::span<const Filter> filters, Choice choice) {
        Bytes rows = filtered(frame, step, filters, whole, choice);
        if (const auto data = deflated(rows, releaseLevel))
            tried.push_back({data->size(), std::move(rows)});
    };
    for (const std::span<const Filter> filters : {std::span<const Filter>(noFilter),
                                                  {leftFilter},
                                                  {upFilter},
                                                  {averageFilter},
                                                  {paethFilter}})
        offer(filters, Choice::sum);
    for (const Choice choice : {Choice::sum, Choice::entropy, Choice::deflated})
        offer(everyFilter, choice);
    std::ranges::stable_sort(tried, {}, &Tried::bytes);
    constexpr std::size_t most = 2;  // a third saves less than one byte in a thousand
    Result<Bytes> best = unwritten("there is no memory for it");
    for (std::size_t i = 0; i < std::min(most, tried.size()); ++i) {
        auto file = fileOf(frame, step, tried[i].rows, thoroughLevel);
        if (!best || (file && file->size() < best->size())) best = std::move(file);
    }
    auto quick = encoded(frame, step, leftFilter, quickLevel, whole);
    return best && quick && quick->size() < best->size() ? std::move(quick) : std::move(best);
}

Result<Bytes> inChannels(const Straight8& frame, int step, Effort effort) {
    constexpr std::size_t few =
        1 << 18;  // bytes of a file that is deflated so soon that all of it is tried
    constexpr double clearly = 0.95;
    const Bands whole{1, frame.height()};
    if (effort == Effort::quick) return encoded(frame, step, leftFilter, quickLevel, whole);
    constexpr long long small = 200'000;  // bytes before they are deflated
    if (frame.size().count() * step <= small) {
        return allTried(frame, step);
    }
    Bands tried = triedOf(frame);
    std::size_t quickSample = 0;
    if (tried.height != whole.height) {
        const auto quick = encoded(frame, step, leftFilter, quickLevel, tried);
        if (!quick) return quick;
        quickSample = quick->size();
        const auto rows =
            static_cast<std::size_t>(tried.count) * static_cast<std::size_t>(tried.height);
        if (quickSample * static_cast<std::size_t>(frame.height()) / rows <= few) tried = whole;
    }
    const bool sampled = tried.height != whole.height;
    Bytes best;
    std::span<const Filter> chosen;
    for (const std::span<const Filter> filters :
         {std::span<const Filter>(noFilter), {leftFilter}, {everyFilter}}) {
        auto file = encoded(frame, step, filters, sampled ? trialLevel : releaseLevel, tried);
        if (!file) return file;
        if (!best.empty() && file->size() >= best.size()) continue;
        best = std::move(*file);
        chosen = filters;
    }
    bool smaller = false;
    if (sampled) {
        smaller = chosen.data() == leftFilter.data() &&
                  static_cast<double>(best.size()) < clearly * static_cast<double>(quickSample);
        auto file = encoded(frame, step, chosen, releaseLevel, whole);
        if (!file) return file;
        best = std::move(*file);
    }
    if (smaller) return best;
    auto quick = encoded(frame, step, leftFilter, quickLevel, whole);
    return !quick || quick->size() < best.size() ? std::move(quick) : std::move(best);
}

// The frame's colours, up to 256, in the order of their lightness; nothing when there are more.
std::optional<std::vector<std::uint32_t>> fewColoursOf(const Straight8& frame) {
    constexpr std::size_t most = 256;
    std::unordered_set<std::uint32_t> found;
    std::uint32_t last = 0;
    for (const std::uint32_t p : frame.pixels()) {
        if (p == last && !found.empty()) continue;
        last = p;
        found.insert(p);
        if (found.size() > most) return {};
    }
    std::vector<std::uint32_t> colours(found.begin(), found.end());
    // See-through ones first: tRNS ends with the last of them (ISO/IEC 15948, 11.3.2.1).
    std::sort(colours.begin(), colours.end(), [](std::uint32_t a, std::uint32_t b) {
        const auto key = [](std::uint32_t p) {
            return std::tuple(alphaOf(p) == 255, greenOf(p) * 2 + redOf(p) + blueOf(p), p);
        };
        return key(a) < key(b);
    });
    return colours;
}

std::vector<std::uint8_t> numbersOf(const Straight8& frame,
                                    const std::vector<std::uint32_t>& colours) {
    std::unordered_map<std::uint32_t, std::uint8_t> number;
    for (std::size_t i = 0; i < colours.size(); ++i)
        number[colours[i]] = static_cast<std::uint8_t>(i);
    std::vector<std::uint8_t> numbers;
    numbers.reserve(static_cast<std::size_t>(frame.size().count()));
    for (const std::uint32_t p : frame.pixels()) numbers.push_back(number[p]);
    return numbers;
}

bool isGrey(const Straight8& frame) {
    for (const std::uint32_t p : frame.pixels())
        if (redOf(p) != greenOf(p) || redOf(p) != blueOf(p)) return false;
    return true;
}

}  // namespace

// Grey where all is grey, and a palette where few colours are, hold the same pixels in fewer bytes.
Result<Bytes> encodePng(const Straight8& frame, bool opaque, Effort effort, bool reduced) {
    const bool grey = reduced && isGrey(frame);
    auto best = inChannels(frame, grey ? (opaque ? 1 : 2) : (opaque ? 3 : 4), effort);
    if (!best || effort == Effort::quick || !reduced) return best;
    if (const auto colours = fewColoursOf(frame)) {
        auto indexed = encodeIndexedPng(numbersOf(frame, *colours), frame.size(), *colours);
        if (indexed && indexed->size() < best->size()) return indexed;
    }
    return best;
}

Result<Bytes> encodeIndexedPng(const std::vector<std::uint8_t>& numbers, PixelSize size,
                               const std::vector<std::uint32_t>& colours) {
    const int depth = colours.size() <= 2    ? 1
                      : colours.size() <= 4  ? 2
                      : colours.size() <= 16 ? 4
                                             : 8;
    Bytes names, alphas, palette;
    for (const std::uint32_t c : colours) {
        for (const int shift : {0, 8, 16}) names.push_back(static_cast<std::uint8_t>(c >> shift));
        alphas.push_back(static_cast<std::uint8_t>(alphaOf(c)));
    }
    addChunk(palette, "PLTE", names);
    while (!alphas.empty() && alphas.back() == 255) alphas.pop_back();
    if (!alphas.empty()) addChunk(palette, "tRNS", alphas);
    // Not filtered: neighbouring numbers say nothing of each other (ISO/IEC 15948, 12.8).
    const auto width = static_cast<std::size_t>(size.width),
               perByte = static_cast<std::size_t>(8 / depth);
    Bytes rows;
    rows.reserve((width / perByte + 2) * static_cast<std::size_t>(size.height));
    for (std::size_t at = 0; at < numbers.size(); at += width) {
        rows.push_back(none);
        if (perByte == 1) {
            const auto row = std::span(numbers).subspan(at, width);
            rows.insert(rows.end(), row.begin(), row.end());
            continue;
        }
        for (std::size_t x = 0; x < width; x += perByte) {
            unsigned together = 0;
            for (std::size_t i = 0; i < perByte; ++i)
                together = together << depth | (x + i < width ? numbers[at + x + i] : 0u);
            rows.push_back(static_cast<std::uint8_t>(together));
        }
    }
    constexpr std::size_t small = 100'000;  // bytes before they are deflated
    const auto level = rows.size() <= small ? Result<int>(thoroughLevel) : levelOf(rows);
    return level ? fileOf({size, depth, 3}, palette, rows, *level) : passOn(level.error());
}

Result<Bytes> encodePng16(PixelSize size, std::span<const std::uint16_t> rgba) {
    bool opaque = true;
    for (std::size_t i = 3; i < rgba.size(); i += 4) opaque = opaque && rgba[i] == 65535;
    vips_part::start();
    const vips_part::Image whole(vips_image_new_from_memory(
        rgba.data(), rgba.size_bytes(), size.width, size.height, 4, VIPS_FORMAT_USHORT));
    VipsImage *bands = nullptr, *tagged = nullptr;
    void* data = nullptr;
    std::size_t count = 0;
    int status = -1;
    if (whole && vips_extract_band(whole.get(), &bands, 0, "n", opaque ? 3 : 4, nullptr) == 0) {
        const vips_part::Image held(bands);
        if (vips_copy(bands, &tagged, "interpretation", VIPS_INTERPRETATION_RGB16, nullptr) == 0) {
            const vips_part::Image last(tagged);
            status = vips_pngsave_buffer(tagged, &data, &count, "compression", 4, "bitdepth", 16,
                                         "strip", TRUE, nullptr);
        }
    }
    if (status != 0) {
        vips_part::forgetError();
        return fail(Code::unwritable, "The picture could not be written as PNG.",
                    "Choose another format.");
    }
    const auto* first = static_cast<const std::uint8_t*>(data);
    Bytes bytes(first, first + count);
    g_free(data);
    return bytes;
}

}  // namespace zl
