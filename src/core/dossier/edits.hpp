// SPDX-License-Identifier: GPL-3.0-or-later
// Edits: functions from one version of a dossier to the next; sections that an edit does not touch stay the
// same version. An edit that names something that is not there gives the dossier back as it was.
//
//     put(d, option)                                          a thing by its id, or a whole section
//     drop<BuildOption>(d, "pio")                             a thing out
//     edit<Port>(d, "J1", [](Port& p) { … })                  a thing in place
//     edit(d, &Dossier::trace, [](Trace& t) { … })            a section in place
#pragma once

#include <algorithm>
#include <type_traits>

#include "core/dossier/dossier.hpp"

namespace grayrelic {

/// Where a dossier keeps the things of a type that are named by an id: a section that is their list.
template <auto In>
struct KeptInSection {
    static constexpr auto section = In;
    static auto& list(auto& section_value) { return section_value; }
    static void dropped(auto&, std::string_view) {}
};
/// The same: a list inside a section.
template <auto In, auto List>
struct KeptInList {
    static constexpr auto section = In;
    static auto& list(auto& section_value) { return section_value.*List; }
    static void dropped(auto&, std::string_view) {}
};

/// A new kind of thing is entered here and nowhere else.
template <class T>
struct Kept;
template <>
struct Kept<Port> : KeptInSection<&Dossier::ports> {};
template <>
struct Kept<Cable> : KeptInSection<&Dossier::cables> {};
template <>
struct Kept<CaptureRef> : KeptInSection<&Dossier::captures> {};
template <>
struct Kept<BuildOption> : KeptInList<&Dossier::timing, &Timing::options> {
    static void dropped(Timing& timing, std::string_view id) {
        if (timing.chosen == id) timing.chosen.clear();
    }
};
template <>
struct Kept<ContractInterval> : KeptInList<&Dossier::timing, &Timing::intervals> {};
template <>
struct Kept<LogicNetwork> : KeptInList<&Dossier::timing, &Timing::networks> {};
template <>
struct Kept<ClockStudy> : KeptInList<&Dossier::timing, &Timing::clocks> {};
template <>
struct Kept<Budget> : KeptInList<&Dossier::timing, &Timing::budgets> {};
template <>
struct Kept<GoldenPair> : KeptInList<&Dossier::timing, &Timing::golden> {};
template <>
struct Kept<Scan> : KeptInList<&Dossier::trace, &Trace::scans> {};
template <>
struct Kept<NetSource> : KeptInList<&Dossier::trace, &Trace::netlists> {
    static void dropped(Trace& trace, std::string_view id) {
        if (trace.against == id) trace.against.clear();
    }
};
template <>
struct Kept<Deviation> : KeptInList<&Dossier::trace, &Trace::deviations> {};
template <>
struct Kept<Donor> : KeptInList<&Dossier::trace, &Trace::donors> {};
template <>
struct Kept<BoardPart> : KeptInList<&Dossier::trace, &Trace::parts> {
    static constexpr auto key = &BoardPart::ref;
};

template <>
struct Kept<JobUnit> : KeptInSection<&Dossier::units> {};
template <>
struct Kept<Dimension> : KeptInSection<&Dossier::dimensions> {};
template <>
struct Kept<PartLine> : KeptInList<&Dossier::supply, &Supply::parts> {};
template <>
struct Kept<Order> : KeptInList<&Dossier::supply, &Supply::orders> {};
template <>
struct Kept<Must> : KeptInList<&Dossier::plan, &JobPlan::musts> {};
template <>
struct Kept<PlanQuestion> : KeptInList<&Dossier::plan, &JobPlan::questions> {};
template <>
struct Kept<PlanTask> : KeptInList<&Dossier::plan, &JobPlan::tasks> {};
template <>
struct Kept<WayThere> : KeptInList<&Dossier::plan, &JobPlan::ways> {};
template <>
struct Kept<Hedge> : KeptInList<&Dossier::plan, &JobPlan::hedges> {};

template <>
struct Kept<WireValue> : KeptInList<&Dossier::wire, &Wire::values> {};
template <>
struct Kept<WireSetting> : KeptInList<&Dossier::wire, &Wire::settings> {};
template <>
struct Kept<PinNeed> {
    static constexpr auto section = &Dossier::wire;
    static auto& list(auto& wire) { return wire.pins.needs; }
    static void dropped(auto&, std::string_view) {}
};

template <>
struct Kept<MapKey> : KeptInList<&Dossier::map, &DeviceMap::keys> {
    static void dropped(DeviceMap& map, std::string_view id) {
        for (auto& chord : map.matrix.chords) std::erase(chord, id);
    }
};
template <>
struct Kept<MapMessage> : KeptInList<&Dossier::map, &DeviceMap::messages> {};
template <>
struct Kept<MoveCurve> : KeptInList<&Dossier::map, &DeviceMap::curves> {
    static void dropped(DeviceMap& map, std::string_view id) {
        if (map.curve == id) map.curve.clear();
    }
};

template <>
struct Kept<Fabrication> : KeptInSection<&Dossier::boards> {};
template <>
struct Kept<BoardStack> : KeptInSection<&Dossier::stacks> {};
template <>
struct Kept<UnitBuild> : KeptInSection<&Dossier::builds> {};

template <>
struct Kept<TrialRun> : KeptInList<&Dossier::log, &JobLog::trials> {
    static void dropped(JobLog& log, std::string_view id) {
        for (auto& t : log.trials)
            if (t.beside == id) t.beside.clear();
    }
};
template <>
struct Kept<CoverItem> : KeptInList<&Dossier::log, &JobLog::items> {};
template <>
struct Kept<Complaint> : KeptInList<&Dossier::log, &JobLog::complaints> {
    static void dropped(JobLog& log, std::string_view id) {
        for (auto& b : log.bodges)
            if (b.carried == id) b.carried.clear();
    }
};
template <>
struct Kept<Bodge> : KeptInList<&Dossier::log, &JobLog::bodges> {};
template <>
struct Kept<RevisionNote> : KeptInList<&Dossier::log, &JobLog::revisions> {};
template <>
struct Kept<LoggedDecision> : KeptInList<&Dossier::log, &JobLog::decisions> {};
template <>
struct Kept<ImageFile> : KeptInList<&Dossier::log, &JobLog::images> {
    static void dropped(JobLog& log, std::string_view id) {
        std::erase_if(log.runs, [&](const ImageRun& r) { return r.image == id; });
        for (auto& t : log.trials)
            if (t.image == id) t.image.clear();
    }
};
template <>
struct Kept<CostLine> {
    static constexpr auto section = &Dossier::log;
    static auto& list(auto& log) { return log.money.costs; }
    static void dropped(auto&, std::string_view) {}
};

template <class T>
concept KeptById = requires {
    Kept<T>::section;
};

/// What names a thing in its list: its id, unless Kept says otherwise.
template <KeptById T>
[[nodiscard]] constexpr std::string T::*key_of() {
    if constexpr (requires { Kept<T>::key; })
        return Kept<T>::key;
    else
        return &T::id;
}

/// All things of a type, in the order of the dossier.
template <KeptById T>
[[nodiscard]] const std::vector<T>& things(const Dossier& d) {
    return Kept<T>::list(*(d.*Kept<T>::section));
}

/// A section changed in place.
template <class S, class Change>
requires std::is_invocable_v<Change, S&>
[[nodiscard]] Dossier edit(const Dossier& d, Section<S> Dossier::*section, Change change) {
    S value = *(d.*section);
    change(value);
    Dossier out = d;
    out.*section = Section<S>(std::move(value));
    return out;
}

template <KeptById T>
[[nodiscard]] auto place_of(auto& list, std::string_view id) {
    return std::find_if(list.begin(), list.end(), [&](const T& t) { return t.*key_of<T>() == id; });
}

/// The thing of that id changed in place.
template <KeptById T, class Change>
requires std::is_invocable_v<Change, T&>
[[nodiscard]] Dossier edit(const Dossier& d, std::string_view id, Change change) {
    if (place_of<T>(things<T>(d), id) == things<T>(d).end()) return d;
    return edit(d, Kept<T>::section,
                [&](auto& section) { change(*place_of<T>(Kept<T>::list(section), id)); });
}

/// In place of the one of the same id, else behind the last.
template <KeptById T>
[[nodiscard]] Dossier put(const Dossier& d, T item) {
    return edit(d, Kept<T>::section, [&](auto& section) {
        auto& list = Kept<T>::list(section);
        const auto at = place_of<T>(list, item.*key_of<T>());
        if (at == list.end())
            list.push_back(std::move(item));
        else
            *at = std::move(item);
    });
}

/// What named the dropped thing as the chosen one no longer does.
template <KeptById T>
[[nodiscard]] Dossier drop(const Dossier& d, std::string_view id) {
    if (place_of<T>(things<T>(d), id) == things<T>(d).end()) return d;
    return edit(d, Kept<T>::section, [&](auto& section) {
        std::erase_if(Kept<T>::list(section), [&](const T& t) { return t.*key_of<T>() == id; });
        Kept<T>::dropped(section, id);
    });
}

/// Whole sections.
[[nodiscard]] Dossier put(const Dossier& d, About about);
[[nodiscard]] Dossier put(const Dossier& d, Timing timing);
[[nodiscard]] Dossier put(const Dossier& d, Trace trace);
[[nodiscard]] Dossier put(const Dossier& d, std::vector<MeterReading> readings);
[[nodiscard]] Dossier put(const Dossier& d, Supply supply);
[[nodiscard]] Dossier put(const Dossier& d, JobPlan plan);
[[nodiscard]] Dossier put(const Dossier& d, Wire wire);
[[nodiscard]] Dossier put(const Dossier& d, DeviceMap map);
[[nodiscard]] Dossier put(const Dossier& d, JobLog log);
/// Timing's question.
[[nodiscard]] Dossier put(const Dossier& d, ReplyQuestion reply);

/// At the ledger's end.
[[nodiscard]] Dossier add_reading(const Dossier& d, MeterReading reading);
[[nodiscard]] Dossier add_readings(const Dossier& d, std::vector<MeterReading> readings);
/// A pin of a port, in place of the one of its number, else behind the last.
[[nodiscard]] Dossier put_pin(const Dossier& d, std::string_view port, Pin pin);
[[nodiscard]] Dossier choose_option(const Dossier& d, std::string_view option);

/// An id made from the wish ("minute", "minute-2", …) that none of the taken ones is.
[[nodiscard]] std::string free_id_among(const std::vector<std::string>& taken, std::string_view wish);

/// An id made from the wish that no thing of the type has yet.
template <KeptById T>
[[nodiscard]] std::string free_id(const Dossier& d, std::string_view wish) {
    std::vector<std::string> taken;
    for (const T& t : things<T>(d)) taken.push_back(t.*key_of<T>());
    return free_id_among(taken, wish);
}

/// "J1", "J2", … that no port has yet.
[[nodiscard]] std::string free_port_id(const Dossier& d);
[[nodiscard]] std::string free_source_id(const Port& port, std::string_view wish);

}  // namespace grayrelic
