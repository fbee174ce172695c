// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/trace/net_traits.hpp"

namespace grayrelic {

NetTraits NetTraits::of(const std::vector<int>& points, const Likelihood& prior) {
    NetTraits t;
    t.size = static_cast<int>(points.size());
    for (const int p : points) {
        const auto kind = prior.feature(p).kind;
        t.ground = t.ground || kind == PinKind::ground;
        t.supply = t.supply || kind == PinKind::supply;
        t.output = t.output || kind == PinKind::output;
        t.driver = t.driver || drives(kind) || kind == PinKind::open_collector ||
                   kind == PinKind::connector || kind == PinKind::ground || kind == PinKind::supply;
        t.input = t.input || kind == PinKind::input || kind == PinKind::both;
        t.passive = t.passive || kind == PinKind::passive;
        t.contact = t.contact || kind == PinKind::connector;
        t.nameless_contact = t.size == 1 && kind == PinKind::connector && prior.feature(p).name < 0;
        t.unconnected = t.unconnected && kind == PinKind::unconnected;
        t.buses += prior.feature(p).bus >= 0 ? 1 : 0;
    }
    return t;
}

double NetTraits::seeks() const {
    if (ground || supply) return 0.0;
    if (unconnected) return 0.002;
    if (input && !driver) return 0.97;
    if (passive && size == 1) return 0.97;
    if (size == 1) return contact ? 0.9 : 0.7;
    return input || passive ? 0.15 : 0.5;
}

}  // namespace grayrelic
