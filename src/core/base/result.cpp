// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/result.hpp"

#include <fmt/format.h>

#include "core/base/text.hpp"

namespace grayrelic {

std::string Error::message() const {
    if (kind == Kind::cancelled) return "cancelled; nothing was changed";
    std::string place = printable(file);  // a name may hold what a terminal would obey
    if (line > 0) place += fmt::format(":{}", line);
    if (!place.empty()) place += ": ";
    return fmt::format("{}found {}, expected {}", place, found, expected);
}

Failure fail_at(std::string file, long line, std::string found, std::string expected) {
    return Failure(
        Error{Error::Kind::unreadable, std::move(file), line, std::move(found), std::move(expected)});
}
Failure fail_usage(std::string found, std::string expected) {
    return Failure(Error{Error::Kind::usage, {}, 0, std::move(found), std::move(expected)});
}
Failure fail_system(std::string file, std::string found, std::string expected) {
    return Failure(Error{Error::Kind::system, std::move(file), 0, std::move(found), std::move(expected)});
}
Failure fail_cancelled() {
    return Failure(Error{Error::Kind::cancelled, {}, 0, {}, {}});
}

}  // namespace grayrelic
