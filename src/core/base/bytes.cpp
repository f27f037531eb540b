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
    const std::string digits = std::to_string(count);
    std::string out;
    for (std::size_t i = 0; i < digits.size(); ++i) {
        const std::size_t left = digits.size() - i;  // digits from here on
        if (i > 0 && left % 3 == 0 && digits[i - 1] != '-') out += ',';
        out += digits[i];
    }
    return out;
}

std::string base64(ByteView bytes) {
    const std::unique_ptr<char, decltype(&g_free)> text(g_base64_encode(bytes.data(), bytes.size()),
                                                        &g_free);
    return text.get();
}

}  // namespace zl
