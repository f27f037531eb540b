// SPDX-License-Identifier: GPL-3.0-or-later
#include "base/bytes.h"

#include <glib.h>

namespace zl {

std::string sha256(ByteView bytes) {
    gchar* digest = g_compute_checksum_for_data(G_CHECKSUM_SHA256, bytes.data(), bytes.size());
    std::string text = digest;
    g_free(digest);
    return text;
}

std::string grouped(long long count) {
    std::string digits = std::to_string(count);
    const std::size_t first = digits.front() == '-' ? 1 : 0;
    for (std::size_t at = digits.size(); at > first + 3;) {
        at -= 3;
        digits.insert(at, ",");
    }
    return digits;
}

}  // namespace zl
