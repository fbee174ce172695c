// SPDX-License-Identifier: GPL-3.0-or-later
// Results instead of exceptions across module borders.
//
// An Error says where something stands in a file (or in a dossier), what was found there and what was
// expected. Its text is the one message a person sees: "FILE:LINE: found ..., expected ...".
#pragma once

#include <string>
#include <tl/expected.hpp>
#include <utility>

namespace grayrelic {

struct Error {
    enum class Kind {
        unreadable,  ///< input from outside can't be understood; the command line exits with 3
        usage,       ///< the caller asked for something that does not exist; exits with 2
        system,      ///< the operating system refused (no space, no permission, vanished)
        cancelled,   ///< the person stopped the work; nothing was changed
    };
    Kind kind = Kind::unreadable;
    std::string file;      ///< path as the person gave it; empty when there is none
    long line = 0;         ///< 1-based; 0 when the place is not in a text
    std::string found;     ///< what stands there, quoted and shortened
    std::string expected;  ///< what would have been right

    [[nodiscard]] std::string message() const;
};

template <class T>
using Result = tl::expected<T, Error>;
using Status = Result<void>;
using Failure = tl::unexpected<Error>;

[[nodiscard]] inline Failure fail(Error error) {
    return Failure(std::move(error));
}
[[nodiscard]] Failure fail_at(std::string file, long line, std::string found, std::string expected);
[[nodiscard]] Failure fail_usage(std::string found, std::string expected);
[[nodiscard]] Failure fail_system(std::string file, std::string found, std::string expected);
[[nodiscard]] Failure fail_cancelled();

}  // namespace grayrelic
