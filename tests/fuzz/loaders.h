// SPDX-License-Identifier: GPL-3.0-or-later
// Every loader of the core behind one shape: any bytes go in, and it returns, whatever they are.
// Shared by the fuzzers and by the test that feeds mangled seeds to them.
#pragma once

#include <functional>
#include <string>
#include <vector>

#include "base/arithmetic.h"
#include "base/data_files.h"
#include "base/file.h"
#include "base/json.h"
#include "brief/brief.h"
#include "lettering/lettering.h"
#include "picture/decode.h"
#include "store/kit_file.h"

namespace zl::test {

struct Loader {
    std::string name;
    std::function<bool(ByteView)> feed;  // whether the bytes were taken
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
        {"field", [text](ByteView bytes) { return evaluate(text(bytes)).has_value(); }},
        {"colour", [text](ByteView bytes) { return parseColour(text(bytes)).has_value(); }},
    };
}

}  // namespace zl::test
