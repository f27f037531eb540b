// SPDX-License-Identifier: GPL-3.0-or-later
// JPEGs under a limit against Pillow's own, each quality in each sampling, optimised and in scans;
// PNGs against optipng and zopflipng.
#include <fmt/core.h>

#include <cmath>

#include "corpus.h"
#include "encode/difference.h"
#include "encode/encode.h"
#include "encode/fit.h"
#include "picture/decode.h"

namespace zl::truth {
namespace {

std::string printed(const std::string& command) {
    FILE* pipe = ::popen(command.c_str(), "r");
    std::string out;
    char part[4096];
    for (std::size_t n = 0; (n = std::fread(part, 1, sizeof part, pipe)) > 0;) out.append(part, n);
    if (::pclose(pipe) != 0) throw std::runtime_error("failed: " + command);
    return out;
}

// The JPEGs of Pillow's that fit under each limit, of the highest quality that fits in each
// sampling. A file of half as much again as the largest limit is not followed by one that fits.
constexpr auto bruteForce = R"(
import io, sys
from PIL import Image
picture = Image.open(sys.argv[1]).convert('RGB')
limits = [int(word) for word in sys.argv[3:]]
for sampling in (0, 1, 2):
    best = {}
    for quality in range(1, 101):
        sizes = []
        for progressive in (False, True):
            out = io.BytesIO()
            picture.save(out, 'JPEG', quality=quality, subsampling=sampling, optimize=True,
                    progressive=progressive)
            sizes.append(len(out.getvalue()))
            for limit in limits:
                if sizes[-1] <= limit: best[limit] = out.getvalue()
        if min(sizes) > 1.5 * max(limits): break
    for limit, data in best.items():
        open(f'{sys.argv[2]}{limit}-{sampling}.jpg', 'wb').write(data)
)";

TEST(Fit, IsNoWorseThanBruteForce) {
    auto all = items("photos");
    std::erase_if(all, [](const Item& i) { return i.name.find('-') != std::string::npos; });
    if (all.size() > 12) all.resize(12);
    const test::Folder folder;
    if (const auto done = writeFile(folder / "brute.py", test::bytesOf(bruteForce), Replace::yes);
        !done)
        FAIL();
    const auto stemOf = [&](std::size_t i) { return (folder / fmt::format("{}-", i)).string(); };
    forAll(all, [&](std::size_t i) {
        printed(fmt::format("'{}' '{}' '{}' '{}' 60000 20000", test::referencePython(),
                            (folder / "brute.py").string(), all[i].file.string(), stemOf(i)));
    });
    std::string seen;
    for (const long long limit : {60'000LL, 20'000LL}) {
        std::vector<double> ahead(all.size());
        forAll(all, [&](std::size_t i) {
            const Straight8 photo = pictureOf(all[i]);
            FitOptions options;
            options.formats = {Content::jpeg};
            options.limit = limit;
            const auto ours = fitToLimit(photo, options);
            double theirs = -1;
            for (int sampling = 0; sampling < 3; ++sampling) {
                const auto bytes = readFile(fmt::format("{}{}-{}.jpg", stemOf(i), limit, sampling));
                if (bytes)
                    theirs =
                        std::max(theirs, ssim(photo, *test::good(decode(*bytes, "theirs")).pixels));
            }
            if (!ours && theirs < 0) return;  // nothing fits for either
            ahead[i] = (ours ? ours->difference.ssim : -1) - theirs;
            if (ahead[i] < 0)
                list(fmt::format("fit behind at {}", limit), all[i],
                     fmt::format("{:.4f}", ahead[i]));
        });
        double mean = 0;
        for (const double a : ahead) mean += a / static_cast<double>(all.size());
        seen += fmt::format("{}{:+.4f}", seen.empty() ? "" : " / ", mean);
        EXPECT_GE(mean, 0) << limit;
    }
    row(fmt::format("`fit`, mean SSIM in front of brute force on {} photographs, 60 kB / 20 kB",
                    all.size()),
        seen, "≥ 0 in front");
}

TEST(Png, IsNearlyAsSmallAsTheBestOfTwoOptimisers) {
    auto all = items("icons");
    all.resize(24);
    const test::Folder folder;
    std::vector<double> ours(all.size()), best(all.size());
    forAll(all, [&](std::size_t i) {
        const Straight8 icon = pictureOf(all[i]);
        const auto bytes = test::good(encode(icon, {}));
        ours[i] = static_cast<double>(bytes.size());
        const std::string in = (folder / fmt::format("{}.png", i)).string(), one = in + ".one.png",
                          two = in + ".two.png";
        if (!writeFile(in, bytes, Replace::yes)) return;
        printed(
            fmt::format("optipng -quiet -o2 -out '{}' '{}' && zopflipng -y --keepchunks=sRGB '{}' "
                        "'{}' >/dev/null",
                        one, in, in, two));
        best[i] = static_cast<double>(
            std::min(std::filesystem::file_size(one), std::filesystem::file_size(two)));
        if (ours[i] > 1.1 * best[i])
            list("png larger", all[i], fmt::format("{:.0f} against {:.0f}", ours[i], best[i]));
    });
    double logs = 0;
    for (std::size_t i = 0; i < all.size(); ++i)
        logs += std::log(ours[i] / best[i]) / static_cast<double>(all.size());
    // Both keep what says that the colours are sRGB, as ours does (ISO/IEC 15948, 11.3.3.5).
    row(fmt::format("PNG of {} icons, bytes for one of the best of optipng -o2 and zopflipng "
                    "(geometric mean)",
                    all.size()),
        fmt::format("{:.3f}", std::exp(logs)), "≤ 1.03");
    EXPECT_LE(std::exp(logs), 1.03);
}

}  // namespace
}  // namespace zl::truth
