// SPDX-License-Identifier: GPL-3.0-or-later
// What a command asks for. The parser behind it is header only and slow to compile: options.cpp and
// main.cpp alone see it.
#pragma once

#include <string>
#include <vector>

namespace CLI {
class App;
class Option;
}  // namespace CLI

namespace zl::cli {

// What is asked of an option that was declared.
class Option {
  public:
    explicit Option(CLI::Option& option) : option_(option) {}
    Option& required();
    template <class Number>
    Option& between(Number least, Number most);
    Option& oneOf(const std::vector<std::string>& words);
    Option& mayStandAlone();  // without a value
    Option& mayRepeat();      // each value counts

  private:
    CLI::Option& option_;
};

class Options {
  public:
    explicit Options(CLI::App& app) : app_(app) {}
    // `names` as "--name,--other", or a bare word for what is told by its place. `into` must
    // outlive the parsing.
    template <class Value>
    Option value(const std::string& names, Value& into, const std::string& help);
    void flag(const std::string& names, bool& into, const std::string& help);

  private:
    CLI::App& app_;
};

}  // namespace zl::cli
