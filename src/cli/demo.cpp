// SPDX-License-Identifier: GPL-3.0-or-later
#include <fmt/core.h>

#include <memory>

#include "command.h"
#include "demo/demo_kit.h"

namespace zl::cli {

std::function<Result<int>()> declareDemo(Options& options, const Common& common) {
    const auto out = std::make_shared<std::string>();
    options.value("--out", *out, "The folder to write into; it is made when it is missing")
        .required();
    return [out, &common]() -> Result<int> {
        const auto kit = demo::writeDemoKit(*out, common.replacing());
        if (!kit) return passOn(kit.error());
        if (common.json)
            print({{"kit", kit->string()}, {"media", (Path(*out) / "media").string()}});
        else
            fmt::print("{}\n", kit->string());
        return Exit::done;
    };
}

}  // namespace zl::cli
