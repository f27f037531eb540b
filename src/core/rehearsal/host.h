// SPDX-License-Identifier: GPL-3.0-or-later
// The stand-in host: a folder that behaves as a destination does. It looks at the bytes, never at
// the name, holds a file against the brief and keeps what it accepts as a draft; publishing shows
// the draft, recompressed to the host's own display sizes; another file may replace a published
// one. It speaks to no network. It can be told to misbehave, as destinations do; nothing is ever
// lost on this side.
#pragma once

#include <functional>
#include <memory>
#include <stop_token>
#include <vector>

#include "base/file.h"
#include "readings/reading.h"

namespace zl {

struct HostSaid {
    Verdict verdict = Verdict::pass;  // fail: this is why it was refused
    std::string what;                 // "Content is PNG"
    std::string beside;               // "by its bytes"
};

// What the host was told to do wrong.
struct Trouble {
    enum class What {
        none,
        refusesFormat,
        refusesFrame,
        refusesWeight,
        cutsOff,
        slow,
        coarse,
        losesDraft
    } what = What::none;
    double amount = 0;  // of cutsOff: bytes that get through at a time; of slow: seconds
    bool operator==(const Trouble&) const = default;
};

struct HostAnswer {
    bool accepted = false;
    std::optional<long long>
        brokeOffAt;  // bytes that have arrived; handing the same file over again goes on from there
    std::vector<HostSaid> said;                // accepted or not, what it looked at
    Path kept;                                 // where the accepted file lies; empty when refused
    std::vector<std::string> reasons() const;  // why it was refused; empty when accepted
};

enum class HostState { nothing, draft, published, draftOverPublished };
std::string_view nameOf(
    HostState state);  // "nothing", "draft", "published", "draft over published"

// The picture as the host shows it at that width: resampled and written again as a JPEG of quality
// 80 with half chroma (a see-through one as a PNG), then read back. Common practice, no source.
inline constexpr int displayQuality = 80, coarseQuality = 40;
[[nodiscard]] Result<Bytes> displayCopy(const Straight8& picture, int width,
                                        int quality = displayQuality);

// One folder a piece. A refused file changes nothing in it.
class StandInHost {
  public:
    explicit StandInHost(Path folder, Trouble trouble = {})
        : folder_(std::move(folder)), trouble_(trouble) {}

    // Accepted files become the draft. Errors are only for a folder that cannot be written, and
    // Code::cancelled; a file that cannot be read is refused, with the reason. Progress goes from 0
    // to 1.
    [[nodiscard]] Result<HostAnswer> handOver(ByteView bytes, const std::string& fileName,
                                              const std::string& pieceId, const Brief& brief,
                                              std::stop_token stop = {},
                                              const std::function<void(double)>& progress = {});
    // The draft becomes what is shown; its display copies are made. Code::badUsage without a draft,
    // Code::unreadable when the host lost it.
    [[nodiscard]] Result<void> publish(const std::string& pieceId, const Brief& brief);
    int copyQuality() const {
        return trouble_.what == Trouble::What::coarse ? coarseQuality : displayQuality;
    }
    HostState state(const std::string& pieceId) const;
    // The draft, else what is published; nothing when neither is there.
    std::optional<Path> accepted(const std::string& pieceId) const;
    std::optional<Path> published(const std::string& pieceId) const;

  private:
    std::optional<Path> kept(const std::string& pieceId, std::string_view stem) const;
    [[nodiscard]] Result<bool> arrives(ByteView bytes, const std::string& pieceId,
                                       HostAnswer& answer);
    [[nodiscard]] Result<Path> keep(const std::string& pieceId, std::string_view stem,
                                    ByteView bytes, const std::string& ending);
    Path folder_;
    Trouble trouble_;
};

}  // namespace zl
