// SPDX-License-Identifier: GPL-3.0-or-later
#include "usage.h"

#include <fmt/core.h>

#include <CLI/CLI.hpp>
#include <algorithm>

#include "command.h"

namespace zl::cli {
namespace {

// Up to `mark`, and what comes behind it; all of it where there is none.
std::pair<std::string, std::string> parted(const std::string& text, const std::string& mark) {
    const std::size_t at = text.find(mark);
    if (at == std::string::npos) return {text, ""};
    return {text.substr(0, at), text.substr(at + mark.size())};
}

std::string missing(const std::string& name) {
    return (name.starts_with('-') ? name : "The " + name) + " is missing.";
}

Error unknownWord(const CLI::App& command, const std::string& hint) {
    const std::vector<std::string> words = command.remaining();
    const auto option =
        std::ranges::find_if(words, [](const std::string& w) { return w.starts_with('-'); });
    if (option == words.end())
        return {
            Code::badUsage,
            fmt::format("\"{}\" is one word too many for {}.", words.front(), command.get_name()),
            hint};
    std::vector<std::string> known;
    for (const CLI::Option* one : command.get_options())
        for (const std::string& name : one->get_lnames()) known.push_back("--" + name);
    const std::string word = parted(*option, "=").first, near = didYouMean(word, known);
    return {Code::badUsage, fmt::format("{} has no option {}.", command.get_name(), word),
            near.empty() ? hint : near};
}

}  // namespace

Error usageError(const CLI::App& app, const CLI::ParseError& error) {
    const auto given = app.get_subcommands();
    if (given.empty())
        return {Code::badUsage, "The command line does not say what to do.", "See: zledge --help"};
    const CLI::App& command = *given.front();
    const std::string what = error.what(),
                      hint = fmt::format("See: zledge {} --help", command.get_name());
    const auto sentence = [&](const std::string& words) {
        return Error{Code::badUsage, words, hint};
    };
    // By the kind that the parser tells; its own words are half sentences.
    const auto is = [&](CLI::ExitCodes code) {
        return error.get_exit_code() == static_cast<int>(code);
    };
    if (is(CLI::ExitCodes::RequiredError))
        return sentence(missing(parted(what, " is required").first));
    if (is(CLI::ExitCodes::ExtrasError)) return unknownWord(command, hint);
    const auto [name, rest] = parted(what, ": ");
    if (is(CLI::ExitCodes::ArgumentMismatch))
        return sentence(name + (rest.find("missing") != std::string::npos
                                    ? " needs a value."
                                    : " is given more than once."));
    if (is(CLI::ExitCodes::ConversionError)) {
        const auto [option, value] = parted(rest, " = ");
        return sentence(fmt::format("{} cannot be \"{}\".", option, value));
    }
    return sentence(rest.empty() ? what + "." : fmt::format("{}: {}", name, rest));
}

}  // namespace zl::cli
