// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/dossier/map.hpp"

#include <algorithm>

namespace grayrelic {
namespace {

template <class T>
const T* with_id(const std::vector<T>& list, std::string_view id) {
    const auto it = std::find_if(list.begin(), list.end(), [&](const T& t) { return t.id == id; });
    return it == list.end() ? nullptr : &*it;
}

}  // namespace

const MapKey* DeviceMap::find_key(std::string_view id) const {
    return with_id(keys, id);
}

const MapMessage* DeviceMap::find_message(std::string_view id) const {
    return with_id(messages, id);
}

const MoveCurve* DeviceMap::find_curve(std::string_view id) const {
    return with_id(curves, id);
}

}  // namespace grayrelic
