// SPDX-License-Identifier: GPL-3.0-or-later
// Releasing: the piece's best file under its limit, written whole or not at all, with a receipt
// beside it.
#pragma once

#include <functional>
#include <stop_token>

#include "base/file.h"
#include "measure/measure.h"
#include "release/moving_kinds.h"

namespace zl {

struct Released {
    std::string piece;  // its id
    Path file, receipt;
    Content content = Content::unknown;
    std::optional<Moved> moved{};  // of a piece that moves; its content is unknown then
    PixelSize size;
    long long bytes = 0;
    std::optional<long long> limit;
    std::string sha256;
    bool alphaKept = true;
    Encoding encoding;
    Difference difference;
    std::vector<Tried> tried;
    std::vector<Reading> readings;
    std::vector<Path> beside;  // slices and pages of link regions
    std::string pageRefused;   // why the page of link regions was not written; empty: it was, or
                               // there are none
};

// Writes FILE and NAME.receipt.json into `folder`, which must exist; of a piece with slices each as
// NAME-SLICE, of one with link regions a page NAME.html that shows the picture with them, and one
// beside each slice that has some. `briefs` says what slices are held against. Errors:
// Code::limitNotMet and nothing is written when the outcome would not meet the limit;
// Code::unwritable; Code::cancelled. Progress goes from 0 to 1.
[[nodiscard]] Result<Released> releasePiece(const Piece& piece, const Kit& kit, const Brief& brief,
                                            InkStore& store, const Path& folder, Replace replace,
                                            std::stop_token stop = {},
                                            const std::function<void(double)>& progress = {},
                                            const Briefs* briefs = nullptr);

// A page of link regions and its picture, which belongs beside it.
struct Mapped {
    std::string html, pictureName;
    Bytes picture;
    std::size_t regions = 0;
};
// Of the whole frame, or of a slice by its name; the picture is called `stem` with its format's
// ending. Code::badUsage when there is no such slice or no link region, Code::limitNotMet when an
// address is refused or the picture cannot be encoded.
[[nodiscard]] Result<Mapped> mapPiece(const Piece& piece, const Kit& kit, const Briefs& briefs,
                                      const std::string& slice, const std::string& stem,
                                      InkStore& store, std::stop_token stop = {});

// Several pieces of a kit, one after the other.
struct ReleaseOrder {
    std::vector<std::string> pieces;  // their ids, each in the kit and once
    Path folder;                      // must exist
    Replace replace = Replace::no;
    // What does not meet its limit in the format it is set to goes out in the best one that does.
    bool bestInstead = false;
    std::optional<Path> kitFile{};     // where the kit lies, for the videos of its clips
    std::optional<double> posterAt{};  // s; nothing: the one that tells most
};
// All pieces of the kit but variants, or those that are named, into a folder that is made when it
// is missing. Code::badUsage for a piece that is not there, Code::unreadable for one whose brief is
// not here, Code::unwritable for the folder.
[[nodiscard]] Result<ReleaseOrder> orderFor(const Kit& kit, const Briefs& briefs,
                                            const std::vector<std::string>& named,
                                            const Path& folder);
struct ReleaseOutcome {
    std::string piece;
    Result<Released> released;  // an error leaves the other pieces as they are
    bool bestInstead = false;
};
// `told` hears of each as soon as it is known; progress is of the piece that is being released. One
// that was cancelled is the last. Code::unreadable in a piece's outcome when its brief is not here.
std::vector<ReleaseOutcome> releaseAll(
    const ReleaseOrder& order, const Kit& kit, const Briefs& briefs, InkStore& store,
    const std::stop_token& stop = {},
    const std::function<void(const Piece&, double)>& progress = {},
    const std::function<void(const ReleaseOutcome&)>& told = {});

// Its media type.
std::string_view typeOf(const Released& released);
// As the command line writes it; the receipt beside the file holds more.
OrderedJson jsonOf(const Released& released);
// A whole order: "files", "refused", and one file's facts at the top, too.
OrderedJson jsonOf(const std::vector<ReleaseOutcome>& all);
// The worst reading of what was released; fail where a piece does not meet its limit.
Verdict worstOf(const std::vector<ReleaseOutcome>& all);
OrderedJson receiptOf(const Released& released, const Piece& piece);

}  // namespace zl
