// SPDX-License-Identifier: GPL-3.0-or-later
// Every loader of the core behind one shape: any bytes go in, and it returns, whatever they are.
// Shared by the fuzzers and by the test that feeds mangled seeds to them.
#pragma once

#include <sys/mman.h>
#include <unistd.h>

#include <functional>
#include <string>
#include <vector>

#include "base/arithmetic.h"
#include "base/data_files.h"
#include "base/file.h"
#include "base/json.h"
#include "brief/brief.h"
#include "encode/jpeg_scan.h"
#include "film/strip.h"
#include "lettering/lettering.h"
#include "picture/decode.h"
#include "stamp/ink_change.h"
#include "store/kit_file.h"
#include "store/stamp_json.h"
#include "support/support.h"
#include "video/video.h"

namespace zl::test {

struct Loader {
    std::string name;
    std::function<bool(ByteView)> feed;  // whether the bytes were taken
};

// A file without a name that holds the bytes.
class Nameless {
  public:
    explicit Nameless(ByteView bytes) : file_(::memfd_create("bytes", MFD_CLOEXEC)) {
        for (std::size_t done = 0; done < bytes.size();) {
            const ssize_t n = ::write(file_, bytes.data() + done, bytes.size() - done);
            if (n <= 0) break;
            done += static_cast<std::size_t>(n);
        }
    }
    Nameless(const Nameless&) = delete;
    Nameless& operator=(const Nameless&) = delete;
    ~Nameless() { ::close(file_); }
    Path path() const { return "/proc/self/fd/" + std::to_string(file_); }

  private:
    int file_;
};

inline std::vector<Loader> loaders() {
    const auto kitSchema = std::make_shared<Json>(schemaNamed("kit.schema.json").value());
    const auto briefSchema = std::make_shared<Json>(schemaNamed("brief.schema.json").value());
    const auto text = [](ByteView bytes) { return std::string(bytes.begin(), bytes.end()); };
    return {
        {"picture",
         [](ByteView bytes) {
             // A header may promise what its pixels do not keep; both roads are gone.
             static_cast<void>(readFacts(bytes, "picture"));
             return decode(bytes, "picture").has_value();
         }},
        {"kit",
         [kitSchema](ByteView bytes) { return unpackKit(bytes, *kitSchema, "kit").has_value(); }},
        {"kit-text",  // what stands inside a kit, past its container
         [kitSchema](ByteView bytes) { return kitFromText(bytes, *kitSchema, "kit").has_value(); }},
        {"brief",
         [briefSchema](ByteView bytes) {
             return parseBrief(bytes, *briefSchema, "brief").has_value();
         }},
        {"font",
         [](ByteView bytes) {
             return familiesIn(makeAsset(Bytes(bytes.begin(), bytes.end()), "font")).has_value();
         }},
        {"video",
         [](ByteView bytes) {
             const Nameless file(bytes);
             return Video::open(file.path()).has_value();
         }},
        {"still",  // its first frame, its last and what is quick of them
         [](ByteView bytes) {
             const Nameless file(bytes);
             auto video = Video::open(file.path());
             if (!video) return false;
             const bool first = video->frame(0).has_value();
             static_cast<void>(video->keyFrame(0, {64, 64}));
             static_cast<void>(video->frame(video->facts().frames - 1));
             return first;
         }},
        {"strip",
         [](ByteView bytes) {
             const Folder folder;
             if (!writeFile(folder / "id.strip", bytes, Replace::no)) return false;
             const auto strip = Strip::kept(folder.path(), "id");
             return strip && strip->looked() && strip->nearest(0.5);
         }},
        {"stamp", [](ByteView bytes) { return parseStamp(bytes, "stamp").has_value(); }},
        {"scan",  // a JPEG looked at and changed in its coefficients
         [](ByteView bytes) {
             const auto scan = JpegScan::read(bytes);
             if (!scan) return false;
             Ink ink;
             ink.box = {2, 3, 22, 13};
             ink.eight =
                 std::make_shared<const Straight8>(Straight8::cleared(ink.box.size(), 0x80FF40FFu));
             static_cast<void>(scan->eighth());
             static_cast<void>(scan->changed(InkChange({ink}, scan->size(), 1)));
             return true;
         }},
        {"field", [text](ByteView bytes) { return evaluate(text(bytes)).has_value(); }},
        {"colour", [text](ByteView bytes) { return parseColour(text(bytes)).has_value(); }},
    };
}

}  // namespace zl::test
