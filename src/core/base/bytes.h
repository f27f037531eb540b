// SPDX-License-Identifier: GPL-3.0-or-later
// Bytes of a file and their fingerprint.
#pragma once

#include <cstdint>
#include <span>
#include <string>
#include <vector>

namespace zl {

using Bytes = std::vector<std::uint8_t>;
using ByteView = std::span<const std::uint8_t>;

// SHA-256 (FIPS 180-4) as 64 lower-case hexadecimal digits; any length, none included.
std::string sha256(ByteView bytes);

// RFC 4648, section 4.
std::string base64(ByteView bytes);

// 1118204 -> "1,118,204".
std::string grouped(long long count);

}  // namespace zl
