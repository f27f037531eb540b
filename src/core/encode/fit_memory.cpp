// SPDX-License-Identifier: GPL-3.0-or-later
#include "encode/fit_memory.h"

#include <memory>
#include <string>

#include "base/cache.h"

namespace zl {
namespace {

struct FitKey {
    std::string pixels;  // SHA-256 of them
    PixelSize size;
    FitOptions options;
    bool operator==(const FitKey&) const = default;
};

// A hash may leave things out; == does not.
struct FitHash {
    std::size_t operator()(const FitKey& key) const {
        return mixed(std::hash<std::string>()(key.pixels), key.options.formats.size());
    }
};

}  // namespace

Result<Fitted> fitOnce(const Straight8& frame, const FitOptions& options,
                       const std::stop_token& stop, const std::function<void(double)>& progress) {
    constexpr std::size_t room = 40'000'000;  // bytes of files
    static Cache<FitKey, std::shared_ptr<const Fitted>, FitHash> memory(room);
    const std::size_t bytes = static_cast<std::size_t>(frame.size().count()) * 4;
    const auto made = memory.get(
        {sha256({frame.bytes(), bytes}), frame.size(), options}, "The picture", stop,
        [&]() -> Result<std::shared_ptr<const Fitted>> {
            auto fitted = fitToLimit(frame, options, stop, progress);
            if (!fitted) return passOn(fitted.error());
            return std::make_shared<const Fitted>(std::move(*fitted));
        },
        [](const auto& fitted) { return fitted->bytes.size() + 10'000; });
    if (!made) return passOn(made.error());
    return **made;
}

}  // namespace zl
