// SPDX-License-Identifier: GPL-3.0-or-later
// What the core says: an id and its numbers. One table (words/) holds the sentence for each id.
#pragma once

#include <string>
#include <variant>
#include <vector>

namespace zl {

using MessageValue = std::variant<long long, double, std::string>;

struct Message {
    std::string id;  // "frame.wrong-shape"; empty: nothing to say
    std::vector<MessageValue> with;
    bool operator==(const Message&) const = default;
};

}  // namespace zl
