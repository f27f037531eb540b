// SPDX-License-Identifier: GPL-3.0-or-later
// Errors are values until they reach the place that can say them to a person.
//
// An Error says what went wrong and which thing it was (`what`), and what to do about it (`hint`,
// may be empty). A finding ("too wide") is a result, never an Error; "cannot be read" is an Error.
#pragma once

#include <new>
#include <string>
#include <tl/expected.hpp>
#include <utility>

namespace zl {

enum class Code {
    badUsage,     // the request itself makes no sense
    unreadable,   // an input is missing, broken, hostile or too large
    unwritable,   // an output could not be written; what stood there before still stands
    limitNotMet,  // the work was done, but no outcome meets what the destination demands
    cancelled,    // somebody asked to stop
};

struct Error {
    Code code;
    std::string what;
    std::string hint;

    // One line: what, which, what to do.
    std::string sentence() const { return hint.empty() ? what : what + " " + hint; }
    bool operator==(const Error&) const = default;
};

template <class T>
using Result = tl::expected<T, Error>;

inline tl::unexpected<Error> fail(Code code, std::string what, std::string hint = {}) {
    return tl::unexpected<Error>(Error{code, std::move(what), std::move(hint)});
}

inline tl::unexpected<Error> passOn(Error error) {
    return tl::unexpected<Error>(std::move(error));
}

// What `act() -> Result<T>` gives; memory that runs out meanwhile is an error that names `what`.
template <class Act>
auto unlessTooLarge(const std::string& what, const Act& act) -> decltype(act()) {
    try {
        return act();
    } catch (const std::bad_alloc&) {
        return fail(Code::limitNotMet, what + " is too large for the memory that is free.",
                    "Make it smaller, or close other programs.");
    }
}

}  // namespace zl
