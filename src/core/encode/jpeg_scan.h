// SPDX-License-Identifier: GPL-3.0-or-later
// A baseline JPEG read block by block without being decoded: where each of its units lies in the
// file, and the mean of each block. What is changed in it is coded again with the file's own
// Huffman tables; all other bits are copied (ITU-T T.81, F.1.2 and F.2.2).
#pragma once

#include <array>
#include <optional>
#include <vector>

#include "encode/jpeg_over.h"

namespace zl {

class JpegScan {
  public:
    // `jpeg` must outlive it. Nothing when the file is another than one interleaved scan of 8-bit
    // grey or YCbCr by Huffman codes, or breaks off.
    static std::optional<JpegScan> read(ByteView jpeg);

    PixelSize size() const { return size_; }  // as it is stored, before any orientation
    // Each block's mean: an eighth of the picture, rounded up, in sRGB values; opaque.
    Straight8 eighth() const;
    // Segments of the application go along as they are. Nothing when a change needs a code that the
    // file's tables do not have.
    std::optional<JpegChanged> changed(const SampleChange& change) const;

  private:
    struct Code {
        std::uint16_t bits = 0;
        std::uint8_t length = 0;  // 0: there is none
    };
    struct Huffman {
        // By the next bits: the code's length and its symbol; a length of 0: a longer code, or in
        // the whole table no code. Nearly all codes are found in the short one, which stays in the
        // nearest cache.
        static constexpr unsigned shortBits = 9;
        std::array<std::uint16_t, 1u << shortBits> quick{};
        std::vector<std::uint16_t> looked;  // by 16 bits
        std::array<Code, 256> codes{};
        std::uint16_t at(std::uint64_t window) const {
            const std::uint16_t found = quick[window >> (64 - shortBits)];
            return found != 0 ? found : looked[window >> 48];
        }
    };
    struct Component {
        int across = 1, down = 1;  // blocks of it in a unit
        std::array<std::uint16_t, 64> steps{};
        int quantisation = 0, dc = 0, ac = 0, id = 0;
        int columns = 0;                  // blocks in a row of `means`
        std::vector<std::int16_t> means;  // DC coefficients, before their step
    };
    struct Unit {
        std::size_t bit = 0;                   // where it begins in `data_`
        std::array<std::int16_t, 3> before{};  // DC coefficients that it goes on from
    };
    class Reader;
    class Writer;
    using Block = std::array<std::int16_t, 64>;

    bool readHeaders(ByteView jpeg);
    bool readFrame(ByteView body);
    bool readHuffman(ByteView body);
    bool readQuantisation(ByteView body);
    bool readScan(ByteView body);
    bool unstuff(ByteView coded);
    bool index();
    bool readBlock(Reader& in, const Component& component, std::int16_t& before,
                   Block* block) const;
    bool writeBlock(Writer& out, const Component& component, std::int16_t& before,
                    const Block& block) const;
    bool readUnit(std::size_t unit, std::vector<Block>& blocks) const;
    PixelRect boxOf(std::size_t unit) const;
    bool changeUnit(std::size_t unit, std::vector<Block>& blocks, const SampleChange& change,
                    JpegChanged& told) const;
    bool writeInterval(std::size_t interval, const SampleChange& change, Bytes& out,
                       JpegChanged& told) const;
    std::size_t lastUnitOf(std::size_t interval) const;

    ByteView jpeg_;
    PixelSize size_;
    std::size_t scanAt_ = 0;  // the first byte of the coded data
    std::vector<Component> components_;
    std::array<std::array<std::uint16_t, 64>, 4> quantisation_{};
    std::array<Huffman, 4> dc_, ac_;
    int unitAcross_ = 1, unitDown_ = 1;  // blocks of the finest component in a unit
    int unitColumns_ = 0, unitRows_ = 0;
    std::size_t restart_ = 0;  // units between restarts; 0: there are none
    Bytes data_;               // without its stuffing, eight bytes of nothing after each interval
    std::vector<std::size_t> starts_, ends_;  // of the intervals in `data_`, bytes
    std::vector<Unit> units_;
};

}  // namespace zl
