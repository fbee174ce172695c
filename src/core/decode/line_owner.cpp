// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/decode/line_owner.hpp"

namespace grayrelic {

LineOwner owner_of(std::string_view kind, std::string_view role) {
    if (kind == "latch-shift" || kind == "select-bank")
        return role == "data" ? LineOwner::device : LineOwner::host;
    if (kind == "framed-clock" || kind == "quadrature") return LineOwner::device;
    if (kind == "clocked") return role == "data" ? LineOwner::either : LineOwner::host;
    if (kind == "matrix") return role == "sense" ? LineOwner::device : LineOwner::host;
    // One wire both ways, a bus, a serial line, a differential pair: whoever speaks.
    return LineOwner::either;
}

}  // namespace grayrelic
