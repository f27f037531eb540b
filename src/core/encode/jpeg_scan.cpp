// SPDX-License-Identifier: GPL-3.0-or-later
#include "encode/jpeg_scan.h"

#include <algorithm>
#include <cmath>
#include <cstring>

namespace zl {
namespace {

constexpr std::size_t side = 8, blockSize = 64;

// T.81, figure A.6: the place in its block of the k-th coefficient of the file.
constexpr std::array<std::uint8_t, blockSize> zigzag{
    0,  1,  8,  16, 9,  2,  3,  10, 17, 24, 32, 25, 18, 11, 4,  5,  12, 19, 26, 33, 40, 48,
    41, 34, 27, 20, 13, 6,  7,  14, 21, 28, 35, 42, 49, 56, 57, 50, 43, 36, 29, 22, 15, 23,
    30, 37, 44, 51, 58, 59, 52, 45, 38, 31, 39, 46, 53, 60, 61, 54, 47, 55, 62, 63};

int wordAt(ByteView bytes, std::size_t at) {
    return bytes[at] << 8 | bytes[at + 1];
}

// T.81, F.2.2.1: the value that `size` bits stand for.
int extended(std::uint64_t bits, unsigned size) {
    const int value = static_cast<int>(bits);
    return value < 1 << (size - 1) ? value - (1 << size) + 1 : value;
}

constexpr std::uint8_t filling = 0xFF, startOfPicture = 0xD8, endOfPicture = 0xD9,
                       firstRestart = 0xD0, lastRestart = 0xD7, startOfScan = 0xDA;

int ceilOver(int value, int by) {
    return (value + by - 1) / by;
}

// Codes are followed by a zero byte where one of them is 0xFF (T.81, B.1.1.5).
void addStuffed(Bytes& out, ByteView coded) {
    std::size_t from = 0;
    while (from < coded.size()) {
        const void* found = std::memchr(coded.data() + from, filling, coded.size() - from);
        const std::size_t to =
            found
                ? static_cast<std::size_t>(static_cast<const std::uint8_t*>(found) - coded.data()) +
                      1
                : coded.size();
        out.insert(out.end(), coded.begin() + static_cast<std::ptrdiff_t>(from),
                   coded.begin() + static_cast<std::ptrdiff_t>(to));
        if (found) out.push_back(0);
        from = to;
    }
}

}  // namespace

class JpegScan::Reader {
  public:
    Reader(const Bytes& data, std::size_t bit) : data_(data.data()), bit_(bit) {}
    std::size_t bit() const { return bit_; }
    // The next bits, the first one highest; at least 57 of them are good.
    std::uint64_t window() const {
        std::uint64_t word = 0;
        std::memcpy(&word, data_ + (bit_ >> 3), sizeof word);
        return __builtin_bswap64(word) << (bit_ & 7);
    }
    void advance(unsigned bits) { bit_ += bits; }

  private:
    const std::uint8_t* data_;
    std::size_t bit_;
};

class JpegScan::Writer {
  public:
    void put(std::uint32_t bits, unsigned count) {
        while (count > 0) {
            const unsigned now = std::min(count, 8 - filled_);
            count -= now;
            last_ = static_cast<std::uint8_t>(last_ << now | ((bits >> count) & ((1u << now) - 1)));
            filled_ += now;
            if (filled_ == 8) flush();
        }
    }
    void copy(const Bytes& data, std::size_t from, std::size_t to) {
        while (from < to && filled_ != 0) put(data[from >> 3] >> (7 - (from & 7)) & 1u, 1), ++from;
        const std::size_t bytes = (to - from) / 8, at = bytes_.size();
        const unsigned shift = from & 7;
        const std::uint8_t* source = data.data() + (from >> 3);
        bytes_.resize(at + bytes);
        if (shift == 0)
            std::copy_n(source, bytes, bytes_.data() + at);
        else
            for (std::size_t i = 0; i < bytes; ++i)
                bytes_[at + i] =
                    static_cast<std::uint8_t>(source[i] << shift | source[i + 1] >> (8 - shift));
        for (from += bytes * 8; from < to; ++from) put(data[from >> 3] >> (7 - (from & 7)) & 1u, 1);
    }
    // The rest of the last byte is filled with ones (T.81, F.1.2.3).
    const Bytes& finished() {
        while (filled_ != 0) put(1, 1);
        return bytes_;
    }

  private:
    void flush() {
        bytes_.push_back(last_);
        last_ = 0;
        filled_ = 0;
    }
    Bytes bytes_;
    std::uint8_t last_ = 0;
    unsigned filled_ = 0;
};

std::optional<JpegScan> JpegScan::read(ByteView jpeg) {
    JpegScan scan;
    scan.jpeg_ = jpeg;
    if (!scan.readHeaders(jpeg) || !scan.unstuff(jpeg.subspan(scan.scanAt_)) || !scan.index())
        return {};
    return scan;
}

bool JpegScan::readHeaders(ByteView jpeg) {
    if (jpeg.size() < 4 || jpeg[0] != filling || jpeg[1] != startOfPicture) return false;
    std::size_t at = 2;
    constexpr std::uint8_t baseline = 0xC0, extendedFrame = 0xC1, huffman = 0xC4,
                           quantisation = 0xDB, restarts = 0xDD, colourTransform = 0xEE;
    while (at + 4 <= jpeg.size() && jpeg[at] == filling) {
        const std::uint8_t marker = jpeg[at + 1];
        if (marker == filling) {
            ++at;
            continue;
        }
        const std::size_t length = static_cast<std::size_t>(wordAt(jpeg, at + 2));
        if (length < 2 || at + 2 + length > jpeg.size()) return false;
        const ByteView body = jpeg.subspan(at + 4, length - 2);
        bool good = true;
        if (marker == baseline || marker == extendedFrame)
            good = readFrame(body);
        else if (marker > extendedFrame && marker <= 0xCF && marker != huffman)
            good = false;  // progressive, lossless, arithmetic
        else if (marker == huffman)
            good = readHuffman(body);
        else if (marker == quantisation)
            good = readQuantisation(body);
        else if (marker == restarts)
            good = body.size() == 2 && (restart_ = static_cast<std::size_t>(wordAt(body, 0)), true);
        else if (marker == colourTransform)  // its twelfth byte tells that three are YCbCr: 1
            good = body.size() < 12 || body[11] == 1 || components_.size() == 1;
        if (!good) return false;
        at += 2 + length;
        if (marker != startOfScan) continue;
        scanAt_ = at;
        return readScan(body);
    }
    return false;
}

bool JpegScan::readFrame(ByteView body) {
    if (body.size() < 6 || body[0] != 8 || !components_.empty()) return false;
    size_ = {wordAt(body, 3), wordAt(body, 1)};
    const std::size_t count = body[5];
    if (size_.empty() || size_.count() > mostPixels || (count != 1 && count != 3) ||
        body.size() != 6 + 3 * count)
        return false;
    for (std::size_t i = 0; i < count; ++i) {
        Component one;
        one.id = body[6 + 3 * i];
        one.across = count == 1 ? 1 : body[7 + 3 * i] >> 4;
        one.down = count == 1 ? 1 : body[7 + 3 * i] & 15;
        one.quantisation = body[8 + 3 * i];
        if (one.across < 1 || one.across > 4 || one.down < 1 || one.down > 4 ||
            one.quantisation > 3)
            return false;
        unitAcross_ = std::max(unitAcross_, one.across);
        unitDown_ = std::max(unitDown_, one.down);
        components_.push_back(std::move(one));
    }
    // Named so, they are red, green and blue.
    if (count == 3 && components_[0].id == 'R' && components_[1].id == 'G') return false;
    constexpr int px = static_cast<int>(side);
    unitColumns_ = ceilOver(size_.width, px * unitAcross_);
    unitRows_ = ceilOver(size_.height, px * unitDown_);
    for (Component& one : components_) {
        if (unitAcross_ % one.across != 0 || unitDown_ % one.down != 0) return false;
        one.columns = unitColumns_ * one.across;
        one.means.resize(static_cast<std::size_t>(one.columns) *
                         static_cast<std::size_t>(unitRows_ * one.down));
    }
    return true;
}

bool JpegScan::readHuffman(ByteView body) {
    while (!body.empty()) {
        constexpr std::size_t lengths = 16;
        if (body.size() < 1 + lengths || body[0] >> 4 > 1 || (body[0] & 15) > 3) return false;
        Huffman& table = (body[0] >> 4 == 0 ? dc_ : ac_)[body[0] & 15];
        table = {};
        table.looked.assign(std::size_t{1} << 16, 0);
        std::size_t symbol = 1 + lengths;
        unsigned code = 0;
        for (unsigned length = 1; length <= lengths; ++length, code <<= 1)
            for (int i = 0; i < body[length]; ++i, ++code, ++symbol) {
                if (symbol >= body.size() || code >= 1u << length) return false;
                table.codes[body[symbol]] = {static_cast<std::uint16_t>(code),
                                             static_cast<std::uint8_t>(length)};
                const unsigned free = static_cast<unsigned>(lengths) - length;
                if (length <= Huffman::shortBits)
                    std::fill_n(table.quick.begin() + (code << (Huffman::shortBits - length)),
                                1u << (Huffman::shortBits - length),
                                static_cast<std::uint16_t>(body[symbol] << 8 | length));
                std::fill_n(table.looked.begin() + static_cast<std::ptrdiff_t>(code << free),
                            std::size_t{1} << free,
                            static_cast<std::uint16_t>(body[symbol] << 8 | length));
            }
        body = body.subspan(symbol);
    }
    return true;
}

bool JpegScan::readQuantisation(ByteView body) {
    while (!body.empty()) {
        const bool wide = body[0] >> 4 == 1;
        const std::size_t bytes = 1 + blockSize * (wide ? 2 : 1);
        if ((body[0] & 15) > 3 || body[0] >> 4 > 1 || body.size() < bytes) return false;
        for (std::size_t k = 0; k < blockSize; ++k)
            quantisation_[body[0] & 15][zigzag[k]] = static_cast<std::uint16_t>(
                wide ? wordAt(body, 1 + 2 * k) : static_cast<int>(body[1 + k]));
        body = body.subspan(bytes);
    }
    return true;
}

bool JpegScan::readScan(ByteView body) {
    const std::size_t count = components_.size();
    if (count == 0 || body.size() != 4 + 2 * count || body[0] != count) return false;
    for (std::size_t i = 0; i < count; ++i) {
        Component& one = components_[i];
        one.dc = body[2 + 2 * i] >> 4;
        one.ac = body[2 + 2 * i] & 15;
        if (body[1 + 2 * i] != one.id || one.dc > 3 || one.ac > 3 ||
            dc_[static_cast<std::size_t>(one.dc)].looked.empty() ||
            ac_[static_cast<std::size_t>(one.ac)].looked.empty())
            return false;
        one.steps = quantisation_[static_cast<std::size_t>(one.quantisation)];
        for (const std::uint16_t step : one.steps)
            if (step == 0) return false;
    }
    return body[1 + 2 * count] == 0 && body[2 + 2 * count] == blockSize - 1 &&
           body[3 + 2 * count] == 0;
}

// Whether the scan is followed by the end of the picture.
bool JpegScan::unstuff(ByteView coded) {
    data_.reserve(coded.size() + 512);
    starts_.push_back(0);
    std::size_t from = 0;
    while (from < coded.size()) {
        const void* found = std::memchr(coded.data() + from, filling, coded.size() - from);
        if (!found) return false;
        const auto at =
            static_cast<std::size_t>(static_cast<const std::uint8_t*>(found) - coded.data());
        data_.insert(data_.end(), coded.begin() + static_cast<std::ptrdiff_t>(from),
                     coded.begin() + static_cast<std::ptrdiff_t>(at));
        if (at + 1 >= coded.size()) return false;
        const std::uint8_t next = coded[at + 1];
        from = at + 2;
        if (next == 0) {
            data_.push_back(filling);
        } else if (next == filling) {
            from = at + 1;
        } else if (next >= firstRestart && next <= lastRestart && restart_ > 0) {
            ends_.push_back(data_.size());
            starts_.push_back(data_.size());
        } else {
            if (next != endOfPicture) return false;
            ends_.push_back(data_.size());
            // A block is at most 64 codes of 31 bits: what reads beyond the end stays in here.
            data_.resize(data_.size() + 64 * 4 + sizeof(std::uint64_t));
            return true;
        }
    }
    return false;
}

bool JpegScan::readBlock(Reader& in, const Component& component, std::int16_t& before,
                         Block* block) const {
    const Huffman &dc = dc_[static_cast<std::size_t>(component.dc)],
                  &ac = ac_[static_cast<std::size_t>(component.ac)];
    std::uint64_t bits = in.window();
    std::uint16_t looked = dc.at(bits);
    unsigned length = looked & 255u, size = looked >> 8;
    constexpr unsigned mostDc = 11;
    if (length == 0 || size > mostDc) return false;
    if (size > 0)
        before = static_cast<std::int16_t>(before + extended(bits << length >> (64 - size), size));
    in.advance(length + size);
    if (block) (*block)[0] = before;
    for (unsigned k = 1; k < blockSize; ++k) {
        bits = in.window();
        looked = ac.at(bits);
        length = looked & 255u;
        size = looked >> 8 & 15u;
        if (length == 0) return false;
        const unsigned run = looked >> 12;
        in.advance(length + size);
        if (size == 0) {
            if (run == 0) return true;  // nothing more in this block
            if (run != 15) return false;
            k += 15;
            continue;
        }
        k += run;
        if (k >= blockSize) return false;
        if (block)
            (*block)[zigzag[k]] =
                static_cast<std::int16_t>(extended(bits << length >> (64 - size), size));
    }
    return true;
}

bool JpegScan::index() {
    const std::size_t units =
        static_cast<std::size_t>(unitColumns_) * static_cast<std::size_t>(unitRows_);
    const std::size_t intervals = restart_ == 0 ? 1 : (units + restart_ - 1) / restart_;
    if (starts_.size() != intervals || ends_.size() != intervals) return false;
    units_.reserve(units + intervals);
    for (std::size_t interval = 0; interval < intervals; ++interval) {
        Reader in(data_, starts_[interval] * 8);
        std::array<std::int16_t, 3> before{};
        const std::size_t end = lastUnitOf(interval);
        for (std::size_t unit = units_.size(); unit < end; ++unit) {
            units_.push_back({in.bit(), before});
            const int row = static_cast<int>(unit) / unitColumns_,
                      column = static_cast<int>(unit) % unitColumns_;
            for (std::size_t c = 0; c < components_.size(); ++c) {
                Component& one = components_[c];
                for (int y = 0; y < one.down; ++y)
                    for (int x = 0; x < one.across; ++x) {
                        if (!readBlock(in, one, before[c], nullptr)) return false;
                        one.means[static_cast<std::size_t>((row * one.down + y) * one.columns +
                                                           column * one.across + x)] = before[c];
                    }
            }
            if (in.bit() > ends_[interval] * 8) return false;
        }
        ends_[interval] = in.bit();  // bits from here on: what follows is filling
    }
    return true;
}

// The number of units up to the end of that interval.
std::size_t JpegScan::lastUnitOf(std::size_t interval) const {
    const std::size_t units =
        static_cast<std::size_t>(unitColumns_) * static_cast<std::size_t>(unitRows_);
    return restart_ == 0 ? units : std::min(units, (interval + 1) * restart_);
}

Straight8 JpegScan::eighth() const {
    constexpr int px = static_cast<int>(side);
    Straight8 out(PixelSize{ceilOver(size_.width, px), ceilOver(size_.height, px)});
    const auto meanOf = [&](std::size_t c, int x, int y) {
        const Component& one = components_[c];
        const int dc = one.means[static_cast<std::size_t>((y * one.down / unitDown_) * one.columns +
                                                          x * one.across / unitAcross_)];
        return dc * static_cast<double>(one.steps[0]) / px;
    };
    const auto whole = [](double v) {
        return std::clamp(static_cast<int>(std::lround(v)), 0, 255);
    };
    for (int y = 0; y < out.height(); ++y)
        for (int x = 0; x < out.width(); ++x) {
            const double luma = meanOf(0, x, y) + 128;
            const bool grey = components_.size() == 1;
            const double cb = grey ? 0 : meanOf(1, x, y), cr = grey ? 0 : meanOf(2, x, y);
            // ITU-T T.871.
            out.row(y)[x] =
                packed(whole(luma + 1.402 * cr), whole(luma - 0.344136286 * cb - 0.714136286 * cr),
                       whole(luma + 1.772 * cb), 255);
        }
    return out;
}

bool JpegScan::readUnit(std::size_t unit, std::vector<Block>& blocks) const {
    Reader in(data_, units_[unit].bit);
    auto before = units_[unit].before;
    blocks.clear();
    for (std::size_t c = 0; c < components_.size(); ++c)
        for (int i = 0; i < components_[c].across * components_[c].down; ++i) {
            blocks.push_back({});
            if (!readBlock(in, components_[c], before[c], &blocks.back())) return false;
        }
    return true;
}

PixelRect JpegScan::boxOf(std::size_t unit) const {
    const int width = static_cast<int>(side) * unitAcross_,
              height = static_cast<int>(side) * unitDown_;
    const int left = static_cast<int>(unit) % unitColumns_ * width,
              top = static_cast<int>(unit) / unitColumns_ * height;
    return {left, top, left + width, top + height};
}

bool JpegScan::changeUnit(std::size_t unit, std::vector<Block>& blocks, const SampleChange& change,
                          JpegChanged& told) const {
    const PixelRect box = boxOf(unit);
    bool any = false;
    std::size_t next = 0;
    for (std::size_t c = 0; c < components_.size(); ++c) {
        const Component& one = components_[c];
        const int across = unitAcross_ / one.across, down = unitDown_ / one.down;
        for (int y = 0; y < one.down; ++y)
            for (int x = 0; x < one.across; ++x) {
                constexpr int px = static_cast<int>(side);
                const bool changed = changeBlock(
                    std::span<std::int16_t, 64>(blocks[next++]),
                    std::span<const std::uint16_t, 64>(one.steps), change, static_cast<int>(c),
                    box.left + x * px * across, box.top + y * px * down, across, down);
                told.changed += changed;
                any = any || changed;
            }
    }
    return any;
}

bool JpegScan::writeBlock(Writer& out, const Component& component, std::int16_t& before,
                          const Block& block) const {
    const auto sizeOf = [](int value) {
        return value == 0 ? 0u
                          : 32u - static_cast<unsigned>(
                                      __builtin_clz(static_cast<unsigned>(std::abs(value))));
    };
    const auto put = [&](const Huffman& table, unsigned symbol, int value, unsigned size) {
        const Code code = table.codes[symbol];
        if (code.length == 0) return false;
        out.put(code.bits, code.length);
        const int bits = value < 0 ? value + (1 << size) - 1 : value;
        out.put(static_cast<std::uint32_t>(bits), size);
        return true;
    };
    const Huffman &dc = dc_[static_cast<std::size_t>(component.dc)],
                  &ac = ac_[static_cast<std::size_t>(component.ac)];
    const int step = block[0] - before;
    if (sizeOf(step) > 11 || !put(dc, sizeOf(step), step, sizeOf(step))) return false;
    before = block[0];
    unsigned run = 0;
    for (std::size_t k = 1; k < blockSize; ++k) {
        const int value = block[zigzag[k]];
        if (value == 0) {
            ++run;
            continue;
        }
        for (; run > 15; run -= 16)
            if (!put(ac, 0xF0, 0, 0)) return false;
        const unsigned size = sizeOf(value);
        if (size > 10 || !put(ac, run << 4 | size, value, size)) return false;
        run = 0;
    }
    return run == 0 || put(ac, 0, 0, 0);
}

bool JpegScan::writeInterval(std::size_t interval, const SampleChange& change, Bytes& out,
                             JpegChanged& told) const {
    const std::size_t first = interval * restart_, last = lastUnitOf(interval);
    const PixelRect touched = change.box().intersected(PixelRect::of(size_));
    Writer writer;
    std::size_t copied = starts_[interval] * 8;
    // Whether the unit before was coded with other means than the file's, and those.
    bool astray = false;
    std::array<std::int16_t, 3> before{};
    std::vector<Block> blocks;
    const auto write = [&](std::size_t unit) {
        writer.copy(data_, copied, units_[unit].bit);
        if (!astray) before = units_[unit].before;
        std::size_t next = 0;
        for (std::size_t c = 0; c < components_.size(); ++c)
            for (int i = 0; i < components_[c].across * components_[c].down; ++i)
                if (!writeBlock(writer, components_[c], before[c], blocks[next++])) return false;
        copied = unit + 1 < last ? units_[unit + 1].bit : ends_[interval];
        return true;
    };
    for (std::size_t unit = first; unit < last; ++unit) {
        const bool may = !boxOf(unit).intersected(touched).empty() && change.touches(boxOf(unit));
        if (!may && !astray) {
            // The next one that may be touched, in this row or the next.
            const int column = static_cast<int>(unit) % unitColumns_;
            const int width = static_cast<int>(side) * unitAcross_;
            if (touched.empty()) break;
            const int from = touched.left / width;
            if (column < from)
                unit += static_cast<std::size_t>(from - column) - 1;
            else if (column * width >= touched.right)
                unit += static_cast<std::size_t>(unitColumns_ - column) - 1;
            continue;
        }
        if (!readUnit(unit, blocks)) return false;
        const bool changed = may && changeUnit(unit, blocks, change, told);
        if (!changed && !astray) continue;
        if (!write(unit)) return false;
        astray = changed;
    }
    writer.copy(data_, copied, ends_[interval]);
    addStuffed(out, writer.finished());
    return true;
}

std::optional<JpegChanged> JpegScan::changed(const SampleChange& change) const {
    JpegChanged told;
    told.bytes.reserve(jpeg_.size() + jpeg_.size() / 16 + 1024);
    told.bytes.assign(jpeg_.begin(), jpeg_.begin() + static_cast<std::ptrdiff_t>(scanAt_));
    for (const Component& one : components_) {
        const int px = static_cast<int>(side);
        told.blocks +=
            static_cast<long long>(ceilOver(ceilOver(size_.width * one.across, unitAcross_), px)) *
            ceilOver(ceilOver(size_.height * one.down, unitDown_), px);
    }
    for (std::size_t interval = 0; interval < starts_.size(); ++interval) {
        if (interval > 0) {
            told.bytes.push_back(filling);
            told.bytes.push_back(static_cast<std::uint8_t>(firstRestart + (interval - 1) % 8));
        }
        if (!writeInterval(interval, change, told.bytes, told)) return {};
    }
    told.bytes.push_back(filling);
    told.bytes.push_back(endOfPicture);
    return told;
}

}  // namespace zl
