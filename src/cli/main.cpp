// SPDX-License-Identifier: GPL-3.0-or-later
// zledge: the core from the command line. Parses words, calls the core, prints.
#include <fmt/core.h>

#include <CLI/CLI.hpp>
#include <algorithm>
#include <array>
#include <memory>

#include "base/json.h"
#include "command.h"
#include "usage.h"

namespace zl::cli {

std::span<const Command> allCommands() {
    static const std::array<Command, 21> table{{
        {"briefs", "Lists the briefs: the destinations and what they demand", false, declareBriefs},
        {"check", "Measures a picture file against a brief, or the pieces of a kit", true,
         declareCheck},
        {"render", "Writes a piece as a release would", true, declareRender},
        {"crop", "Crops to a shape; never stretches", true, declareCrop},
        {"fit", "Finds the best quality under a limit", true, declareFit},
        {"cut", "Cuts a picture out: its flat background off, its subject, a circle, round corners",
         true, declareCut},
        {"edges", "Measures the edge of a cut-out, and maps its faults", true, declareEdges},
        {"resize", "Scales to a frame: covers it, fits into it or pads it", true, declareResize},
        {"finish", "Puts an outline, a shadow, a glow or a bevel on a picture's ink", true,
         declareFinish},
        {"letter", "Writes lettering as a picture, tight to its ink", true, declareLetter},
        {"over", "Lays a mark over a picture", true, declareOver},
        {"release", "Writes the pieces of a kit in their best format, with receipts", true,
         declareRelease},
        {"rehearse", "Hands a file to the stand-in host and draws where it is met", true,
         declareRehearse},
        {"video", "Tells the facts of a video", false, declareVideo},
        {"still", "Takes frames out of a video, exact and at their full size", true, declareStill},
        {"burn",
         "Lays a mark on every frame of a video; sound, chapters and times stay. A host that lays "
         "marks on by itself needs no such copy, and its mark can be changed later",
         true, declareBurn},
        {"legible", "Tells whether a mark stands out for the whole of a video", false,
         declareLegible},
        {"stamp", "Puts one mark on many photographs; the originals stay as they are", true,
         declareStamp},
        {"map", "Writes the link regions of a piece as an HTML image map", true, declareMap},
        {"report", "Writes one page about a whole kit: pieces, readings, surfaces", true,
         declareReport},
        {"demo", "Writes the demo kit and its media", true, declareDemo},
    }};
    return table;
}

int exitFor(Code code) {
    switch (code) {
        case Code::badUsage:
            return Exit::badUsage;
        case Code::unreadable:
            return Exit::unreadable;
        case Code::unwritable:
            return Exit::unwritable;
        case Code::limitNotMet:
            return Exit::readingFailed;
        case Code::cancelled:
            return Exit::readingFailed;
    }
    return Exit::badUsage;
}

namespace {

// On standard error, and under --json as a document, too.
int refused(const Error& error, bool json) {
    fmt::print(stderr, "zledge: {}\n", error.sentence());
    if (json)
        print({{"error", {{"what", error.what}, {"hint", error.hint}}},
               {"exit", exitFor(error.code)}});
    return exitFor(error.code);
}

}  // namespace
}  // namespace zl::cli

int main(int argc, char** argv) {
    using namespace zl::cli;
    CLI::App app("zledge: prepares and measures the pictures that surround a video or a stream",
                 "zledge");
    app.set_version_flag("--version", "zledge " ZL_VERSION);
    app.require_subcommand(1);
    std::array<Common, 24> commons{};
    std::function<zl::Result<int>()> chosen;
    std::size_t i = 0;
    for (const Command& command : allCommands()) {
        Common& common = commons.at(i++);
        CLI::App* sub = app.add_subcommand(command.name, command.help);
        sub->add_flag("--json", common.json, "One JSON document on standard output");
        if (command.writes)
            sub->add_flag("--replace", common.replace, "Replace a file that stands there already");
        Options options(*sub);
        sub->final_callback([&chosen, run = command.declare(options, common)] { chosen = run; });
    }
    app.footer(
        "Exit status: 0 done and no reading failed, 1 a reading failed or a limit is not met, 2 "
        "bad usage,\n"
        "3 an input is unreadable, 4 an output could not be written.");
    // Asked of the words themselves: where they are wrong nothing was taken from them.
    const bool json = std::any_of(argv, argv + argc,
                                  [](const char* word) { return word == std::string("--json"); });
    if (argc > 1 && argv[1][0] != '-') {
        std::vector<std::string> known;
        for (const Command& command : allCommands()) known.emplace_back(command.name);
        if (std::find(known.begin(), known.end(), argv[1]) == known.end()) {
            const std::string near = didYouMean(argv[1], known);
            return refused({zl::Code::badUsage, fmt::format("There is no command \"{}\".", argv[1]),
                            near.empty() ? "See: zledge --help" : near},
                           json);
        }
    }
    try {
        app.parse(argc, argv);
    } catch (const CLI::ParseError& error) {
        constexpr int asked = 0;  // help, or the version
        return error.get_exit_code() == asked ? app.exit(error)
                                              : refused(usageError(app, error), json);
    }
    const zl::Result<int> result = chosen();
    endProgress();
    return result ? *result : refused(result.error(), json);
}
