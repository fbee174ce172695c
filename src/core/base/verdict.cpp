// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/verdict.hpp"

namespace grayrelic {
namespace {

int weight(Verdict v) {
    switch (v) {
        case Verdict::stop: return 3;
        case Verdict::doubt: return 2;
        case Verdict::unknown: return 1;
        case Verdict::holds: break;
    }
    return 0;
}

}  // namespace

std::string_view word(Verdict v) {
    switch (v) {
        case Verdict::stop: return "stop";
        case Verdict::doubt: return "doubt";
        case Verdict::holds: return "holds";
        case Verdict::unknown: break;
    }
    return "unknown";
}

Verdict worse(Verdict a, Verdict b) {
    return weight(a) >= weight(b) ? a : b;
}

}  // namespace grayrelic
