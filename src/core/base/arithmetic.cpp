// SPDX-License-Identifier: GPL-3.0-or-later
#include "base/arithmetic.h"

#include <fmt/core.h>

#include <charconv>
#include <cmath>

namespace zl {
namespace {

constexpr int deepestNesting = 64;
constexpr std::size_t longestText = 200;

// Recursive descent: sum = product (+- product)*, product = factor (*/ factor)*, factor = [+-]
// number | ( sum ).
class Reader {
  public:
    explicit Reader(std::string_view text) : rest_(text) {}

    Result<double> whole() {
        auto value = sum(0);
        if (!value) return value;
        skipSpace();
        if (!rest_.empty()) return misread();
        if (!std::isfinite(*value))
            return fail(Code::badUsage, "The result is too large.", "Type a smaller number.");
        return value;
    }

  private:
    void skipSpace() {
        while (!rest_.empty() && rest_.front() == ' ') rest_.remove_prefix(1);
    }
    bool take(char c) {
        skipSpace();
        if (rest_.empty() || rest_.front() != c) return false;
        rest_.remove_prefix(1);
        return true;
    }
    tl::unexpected<Error> misread() const {
        if (rest_.empty())
            return fail(Code::badUsage, "The sum breaks off.", "Type a number, such as 1280*2.");
        return fail(Code::badUsage, fmt::format("\"{}\" is not a number.", rest_),
                    "Type a number, such as 1280*2.");
    }

    Result<double> sum(int depth) {
        auto left = product(depth);
        while (left) {
            const bool plus = take('+');
            if (!plus && !take('-')) return left;
            auto right = product(depth);
            if (!right) return right;
            left = plus ? *left + *right : *left - *right;
        }
        return left;
    }

    Result<double> product(int depth) {
        auto left = factor(depth);
        while (left) {
            const bool times = take('*');
            if (!times && !take('/')) return left;
            auto right = factor(depth);
            if (!right) return right;
            if (!times && *right == 0)
                return fail(Code::badUsage, "A number cannot be divided by 0.");
            left = times ? *left * *right : *left / *right;
        }
        return left;
    }

    Result<double> factor(int depth) {
        if (depth > deepestNesting) return fail(Code::badUsage, "Too many brackets.");
        if (take('-')) {
            auto value = factor(depth + 1);
            return value ? Result<double>(-*value) : value;
        }
        if (take('+')) return factor(depth + 1);
        if (take('(')) {
            auto value = sum(depth + 1);
            if (value && !take(')')) return fail(Code::badUsage, "A bracket is not closed.");
            return value;
        }
        skipSpace();
        if (rest_.empty() ||
            !(std::isdigit(static_cast<unsigned char>(rest_.front())) || rest_.front() == '.'))
            return misread();
        double value = 0;
        const auto [end, error] = std::from_chars(rest_.data(), rest_.data() + rest_.size(), value,
                                                  std::chars_format::fixed);
        if (error != std::errc{}) return misread();
        rest_.remove_prefix(static_cast<std::size_t>(end - rest_.data()));
        return value;
    }

    std::string_view rest_;
};

}  // namespace

Result<double> evaluate(std::string_view text) {
    if (text.size() > longestText) return fail(Code::badUsage, "That is too long for a number.");
    return Reader(text).whole();
}

}  // namespace zl
