// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/decode/decode_chain.hpp"

#include "core/decode/packets.hpp"

namespace grayrelic {

Result<DecodeChain> decode_chain(const Capture& capture, std::string_view kind, const RoleMap& roles,
                                 SettingMap settings, Progress& progress) {
    const auto decoder = find_decoder(kind);
    if (!decoder) return fail(decoder.error());
    const auto packets = settings.extract("packets");
    auto frames = (*decoder)->decode(capture, roles, settings, progress);
    if (!frames) return fail(frames.error());
    if (!packets) return DecodeChain{std::move(*frames), std::nullopt};
    PacketRule rule;
    if (packets.mapped() == "auto") {
        rule = find_packet_rule(*frames).value_or(rule);
    } else {
        const auto stated = parse_packet_rule(packets.mapped());
        if (!stated) return fail(stated.error());
        rule = *stated;
    }
    auto packed = packets_of(*frames, rule);
    return DecodeChain{std::move(packed), std::move(*frames)};
}

}  // namespace grayrelic
