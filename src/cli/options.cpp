// SPDX-License-Identifier: GPL-3.0-or-later
#include "options.h"

#include <fmt/format.h>

#include <CLI/CLI.hpp>
#include <algorithm>
#include <optional>

#include "base/file.h"

namespace zl::cli {

Option& Option::required() {
    option_.required();
    return *this;
}

template <class Number>
Option& Option::between(Number least, Number most) {
    option_.check([least, most](const std::string& word) {
        Number value{};
        if (CLI::detail::lexical_cast(word, value) && value >= least && value <= most)
            return std::string();
        return fmt::format("\"{}\" is no number from {} to {}.", word, least, most);
    });
    return *this;
}
template Option& Option::between(int, int);
template Option& Option::between(long long, long long);
template Option& Option::between(double, double);

Option& Option::oneOf(const std::vector<std::string>& words) {
    option_.check([words](const std::string& word) {
        if (std::ranges::find(words, word) != words.end()) return std::string();
        return fmt::format("\"{}\" is none of {}.", word, fmt::join(words, ", "));
    });
    return *this;
}

Option& Option::mayStandAlone() {
    option_.expected(0, 1);
    return *this;
}

Option& Option::mayRepeat() {
    option_.take_all()->allow_extra_args(false);  // one value each time: a file may follow
    return *this;
}

template <class Value>
Option Options::value(const std::string& names, Value& into, const std::string& help) {
    return Option(*app_.add_option(names, into, help));
}
template Option Options::value(const std::string&, std::string&, const std::string&);
template Option Options::value(const std::string&, int&, const std::string&);
template Option Options::value(const std::string&, long long&, const std::string&);
template Option Options::value(const std::string&, double&, const std::string&);
template Option Options::value(const std::string&, std::optional<double>&, const std::string&);
template Option Options::value(const std::string&, std::optional<std::string>&, const std::string&);
template Option Options::value(const std::string&, std::vector<std::string>&, const std::string&);

void Options::flag(const std::string& names, bool& into, const std::string& help) {
    app_.add_flag(names, into, help);
}

}  // namespace zl::cli
