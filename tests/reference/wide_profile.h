// SPDX-License-Identifier: GPL-3.0-or-later
// A profile of wide red and green, written by hand (ICC.1): made by ImageCms's own builder from
// sRGB with other names it would be sRGB again. In Python, it leaves `icc` and its `colorants`.
#pragma once

namespace zl::test {

inline constexpr char wideProfile[] = R"(
import struct
def s15(v): return struct.pack('>i', round(v * 65536))
def xyz(*v): return b'XYZ ' + bytes(4) + b''.join(s15(x) for x in v)
gamma = b'curv' + bytes(4) + struct.pack('>IH', 1, int(2.2 * 256)) + bytes(2)
text = b'desc' + bytes(4) + struct.pack('>I', 5) + b'Wide\0' + bytes(8 + 3 + 67)
text += bytes(-len(text) % 4)
colorants = [[0.6097, 0.3111, 0.0195], [0.2053, 0.6257, 0.0609], [0.1492, 0.0632, 0.7446]]
tags = [(b'desc', text), (b'wtpt', xyz(0.9642, 1, 0.8249)), (b'rXYZ', xyz(*colorants[0])),
        (b'gXYZ', xyz(*colorants[1])), (b'bXYZ', xyz(*colorants[2])),
        (b'rTRC', gamma), (b'gTRC', gamma), (b'bTRC', gamma),
        (b'cprt', b'text' + bytes(4) + b'None\0' + bytes(3))]
table, data, at = b'', b'', 128 + 4 + 12 * len(tags)
for name, body in tags:
    table += name + struct.pack('>II', at + len(data), len(body)); data += body
head = struct.pack('>I4sI4s4s4s', at + len(data), b'none', 0x02100000, b'mntr', b'RGB ', b'XYZ ')
head += bytes(12) + b'acsp' + bytes(28) + s15(0.9642) + s15(1) + s15(0.8249)
head += bytes(128 - len(head))
icc = head + struct.pack('>I', len(tags)) + table + data
)";

}  // namespace zl::test
