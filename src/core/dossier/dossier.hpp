// SPDX-License-Identifier: GPL-3.0-or-later
// The dossier: all that is known and decided about one job, as an immutable value. An edit is a function from
// one Dossier to the next (edits.hpp); sections are shared between versions.
//
// `extra` members hold, as JSON text, fields written by a newer version of the program: they are kept and
// written back as they came.
#pragma once

#include <map>
#include <string>
#include <vector>

#include "core/base/quantity.hpp"
#include "core/dossier/fabrication.hpp"
#include "core/dossier/fact.hpp"
#include "core/dossier/job.hpp"
#include "core/dossier/job_log.hpp"
#include "core/dossier/map.hpp"
#include "core/dossier/plan.hpp"
#include "core/dossier/port.hpp"
#include "core/dossier/section.hpp"
#include "core/dossier/timing.hpp"
#include "core/dossier/trace.hpp"
#include "core/dossier/unit_build.hpp"
#include "core/dossier/wire.hpp"

namespace grayrelic {

/// Which signal of a capture is which pin.
struct SignalTie {
    std::string signal;
    std::string pin;
    std::string extra{};
    bool operator==(const SignalTie&) const = default;
};

struct DecodeSetup {
    std::string kind;  ///< decoder family, empty for none
    std::map<std::string, std::vector<std::string>> roles;
    std::map<std::string, std::string> settings;
    std::vector<std::string> bits;  ///< names of the bits in order of arrival
    std::string extra{};
    bool operator==(const DecodeSetup&) const = default;
};

/// Something done at a known moment of a long recording: "fire" pressed from 2.1 s to 2.4 s. Without a name:
/// nothing was pressed.
struct MarkedMoment {
    Time from, to;
    std::string pressed;
    std::string extra{};
    bool operator==(const MarkedMoment&) const = default;
};

struct CaptureRef {
    std::string id;
    std::string title;
    std::string file;     ///< below the dossier's folder, with /; empty while the capture is only outside
    std::string outside;  ///< absolute path of a capture not yet copied in; never written to disk
    std::string port;     ///< Port::id
    std::string unit;     ///< JobUnit::id it was taken on; may be empty
    std::vector<SignalTie> ties;
    /// What other captures of the dossier call its signals: their name to the signal here.
    std::map<std::string, std::string> names;
    DecodeSetup decode;
    std::vector<DecodeSetup> also;  ///< further decoders on the same signals
    /// How the file is to be understood where it does not say: see capture/import_options.hpp.
    std::map<std::string, std::string> read_as;
    std::vector<MarkedMoment> moments;  ///< in the order they were marked
    Fact<std::optional<Hertz>> sample_rate;
    std::string note;
    std::string extra;
    bool operator==(const CaptureRef&) const = default;
    /// The tie of a signal; a tie may name it by the ending of its path.
    [[nodiscard]] const SignalTie* find_tie(std::string_view signal) const;
};

struct About {
    std::string name;
    std::string purpose;  ///< a sentence or two
    int revision = 1;
    std::string extra;
    std::string relic{}, modern{};  ///< what stands on either side: "computer's control port", "USB pad"
    bool operator==(const About&) const = default;
};

struct Dossier {
    Section<About> about;
    Section<std::vector<Port>> ports;
    Section<std::vector<Cable>> cables;
    Section<std::vector<JobUnit>> units;
    Section<std::vector<CaptureRef>> captures;
    Section<Timing> timing;
    Section<std::vector<MeterReading>> readings;  ///< of the meter, in the order they were taken
    Section<Trace> trace;
    Section<std::vector<Dimension>> dimensions;
    Section<Supply> supply;
    Section<JobPlan> plan;
    Section<Wire> wire;
    Section<DeviceMap> map;
    Section<std::vector<Fabrication>> boards;
    Section<std::vector<BoardStack>> stacks{};
    Section<std::vector<UnitBuild>> builds{};
    Section<JobLog> log{};
    bool operator==(const Dossier&) const = default;
    [[nodiscard]] const Port* find_port(std::string_view id) const;
    [[nodiscard]] const Cable* find_cable(std::string_view id) const;
    [[nodiscard]] const JobUnit* find_unit(std::string_view id) const;
    [[nodiscard]] const CaptureRef* find_capture(std::string_view id) const;
    /// The pin that a capture's signal is tied to; nothing when untied or missing.
    [[nodiscard]] const Pin* pin_of(const CaptureRef& capture, std::string_view signal) const;
    /// Further names of a capture's signals, with the signal's own: those of the pins that they are tied to,
    /// and what other captures call them. A name that two pins have is none.
    [[nodiscard]] std::vector<std::pair<std::string, std::string>> names_in(const CaptureRef& capture) const;
    /// What a signal is called everywhere: as its pin, else by the ending of its path.
    [[nodiscard]] std::string name_of(const CaptureRef& capture, std::string_view signal) const;
};

}  // namespace grayrelic
