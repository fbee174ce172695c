// SPDX-License-Identifier: GPL-3.0-or-later
// Edits: functions from one version of a dossier to the next. An edit that names something that is not there
// gives the dossier back as it was.
#pragma once

#include "core/dossier/dossier.hpp"

namespace grayrelic {

[[nodiscard]] Dossier with_about(const Dossier& d, About about);
[[nodiscard]] Dossier with_port(const Dossier& d, Port port);  ///< replaces by id, or adds
[[nodiscard]] Dossier with_pin(const Dossier& d, std::string_view port,
                               Pin pin);  ///< replaces by number, or adds
[[nodiscard]] Dossier without_port(const Dossier& d, std::string_view id);
[[nodiscard]] Dossier with_cable(const Dossier& d, Cable cable);  ///< replaces by id, or adds
[[nodiscard]] Dossier without_cable(const Dossier& d, std::string_view id);
[[nodiscard]] Dossier with_capture(const Dossier& d, CaptureRef capture);  ///< replaces by id, or adds
[[nodiscard]] Dossier without_capture(const Dossier& d, std::string_view id);
[[nodiscard]] Dossier with_timing(const Dossier& d, Timing timing);
[[nodiscard]] Dossier with_option(const Dossier& d, BuildOption option);  ///< replaces by id, or adds
[[nodiscard]] Dossier without_option(const Dossier& d, std::string_view id);
[[nodiscard]] Dossier with_chosen(const Dossier& d, std::string_view option);
[[nodiscard]] Dossier with_reply(const Dossier& d, ReplyQuestion reply);
[[nodiscard]] Dossier with_interval(const Dossier& d,
                                    ContractInterval interval);  ///< replaces by id, or adds
[[nodiscard]] Dossier without_interval(const Dossier& d, std::string_view id);
[[nodiscard]] Dossier with_network(const Dossier& d, LogicNetwork network);  ///< these replace by id, or add
[[nodiscard]] Dossier without_network(const Dossier& d, std::string_view id);
[[nodiscard]] Dossier with_clock(const Dossier& d, ClockStudy clock);
[[nodiscard]] Dossier without_clock(const Dossier& d, std::string_view id);
[[nodiscard]] Dossier with_budget(const Dossier& d, Budget budget);
[[nodiscard]] Dossier without_budget(const Dossier& d, std::string_view id);
[[nodiscard]] Dossier with_golden(const Dossier& d, GoldenPair pair);
[[nodiscard]] Dossier without_golden(const Dossier& d, std::string_view id);

[[nodiscard]] Dossier with_trace(const Dossier& d, Trace trace);
[[nodiscard]] Dossier with_readings(const Dossier& d, std::vector<MeterReading> readings);
[[nodiscard]] Dossier with_reading(const Dossier& d, MeterReading reading);  ///< at the ledger's end

/// "J1", "J2", … that no port has yet.
[[nodiscard]] std::string free_port_id(const Dossier& d);
[[nodiscard]] std::string free_cable_id(const Dossier& d, std::string_view wish);
[[nodiscard]] std::string free_source_id(const Port& port, std::string_view wish);

/// An id made from the wish ("minute", "minute-2", …) that no capture has yet.
[[nodiscard]] std::string free_capture_id(const Dossier& d, std::string_view wish);
/// Of a list of things with ids: an id made from the wish that none has.
[[nodiscard]] std::string free_id_among(const std::vector<std::string>& taken, std::string_view wish);
[[nodiscard]] std::string free_option_id(const Dossier& d, std::string_view wish);

}  // namespace grayrelic
