// SPDX-License-Identifier: GPL-3.0-or-later
// What a dossier holds for Timing: the contract, the question that is judged, the ways to build the reply,
// networks of logic, rates to be explained, budgets, and replicas held against the original.
//
// `extra` members hold fields of newer versions, as in dossier.hpp.
#pragma once

#include <map>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/quantity.hpp"
#include "core/base/words.hpp"
#include "core/dossier/fact.hpp"

namespace grayrelic {

enum class IntervalKind { response, setup, hold, width, period, gap, recovery, look };
template <>
inline constexpr std::array words_of<IntervalKind>{"response", "setup", "hold",     "width",
                                                   "period",   "gap",   "recovery", "look"};

/// How a reply is built: see timing/reply_option.hpp.
enum class OptionKind { poll, irq, core, pio, mixed, logic, network, fpga };
template <>
inline constexpr std::array words_of<OptionKind>{"poll",  "irq",   "core",    "pio",
                                                 "mixed", "logic", "network", "fpga"};

/// A trigger that comes while the last is still served: it waits in the one place there is, is lost, or
/// queues.
enum class WhenBusy { late, lost, queue };
template <>
inline constexpr std::array words_of<WhenBusy>{"late", "lost", "queue"};

/// How finely a modern part divides its clock: by whole numbers, in steps of 1/64, of 1/256.
enum class DividerKind { integer, fraction64, fraction256 };
template <>
inline constexpr std::array words_of<DividerKind>{"integer", "fraction64", "fraction256"};

/// What is budgeted: see timing/budget.hpp.
enum class BudgetKind { queue, watchdog, latency, startup, press, text, autofire, memory, frame, loop };
template <>
inline constexpr std::array words_of<BudgetKind>{"queue", "watchdog", "latency", "startup", "press",
                                                 "text",  "autofire", "memory",  "frame",   "loop"};

/// One interval of the contract between host and device. With captures it is measured from them each time;
/// without one, its numbers were entered by hand.
struct ContractInterval {
    std::string id;
    std::string name;
    std::string from;  ///< "STEP:rise" or "frame:start", see event_name.hpp
    std::string to;
    IntervalKind kind = IntervalKind::response;
    std::string capture;
    std::vector<std::string> also;  ///< further captures or specimens; the range is taken over all
    std::optional<Time> within;     ///< longer ones are not this interval
    std::optional<Time> beyond;     ///< nor are those up to this long
    std::vector<std::string>
        until;             ///< events that end the wait for `to`: what follows them is not its answer
    bool at_once = false;  ///< a `to` at the very time of `from` counts: both were recorded in one sample
    std::optional<Time> guard;  ///< added to what a replica must keep: see limits_of in timing/contract.hpp
    std::optional<Time> min, typ, max;
    Evidence evidence;
    std::string extra;
    bool operator==(const ContractInterval&) const = default;
};

struct OptionParameter {
    std::string key;  ///< see timing/reply_option.hpp
    Fact<Time> value;
    bool operator==(const OptionParameter&) const = default;
};

/// A number with its evidence, in the SI unit that the key's meaning says.
struct NumberFact {
    std::string key;
    Fact<double> value;
    bool operator==(const NumberFact&) const = default;
};

/// A delay distribution taken from a capture: from each `from` edge to the next `to` edge.
struct MeasuredDelay {
    std::string capture;  ///< CaptureRef::id, empty for none
    std::string from, to;
    std::string extra{};
    bool operator==(const MeasuredDelay&) const = default;
};

/// What an option costs to build, for the comparison. Empty or missing is "not said".
struct OptionBill {
    std::string parts;              ///< "1 × 74HCT165, socket"
    std::optional<double> cost;     ///< in the person's own currency
    std::optional<double> current;  ///< ampere
    std::string soldering;          ///< "through-hole", "fine pitch"
    std::string extra{};
    std::optional<double> area{};   ///< of the board that its parts take, in square metres
    std::optional<double> hours{};  ///< of work until it runs
    std::string reversible{};       ///< "yes: plugs in", "cuts one trace"
    std::string service{};          ///< what will need replacing, and how
    std::string sample{};           ///< sample code or a circuit that is at hand
    bool operator==(const OptionBill&) const = default;
};

/// One way to build the bridge's reply.
struct BuildOption {
    std::string id;
    std::string name;
    OptionKind kind = OptionKind::logic;
    std::vector<OptionParameter> parameters;
    std::vector<NumberFact> numbers;  ///< cycles, clocks
    MeasuredDelay measured;           ///< entry latency taken from a capture instead of the parameters
    std::string network;              ///< network, mixed: LogicNetwork::id
    WhenBusy busy = WhenBusy::late;
    OptionBill bill;
    std::string note;
    std::string extra;
    bool operator==(const BuildOption&) const = default;
};

/// Which replies are judged: after each trigger edge the host looks at `look`.
struct ReplyQuestion {
    std::string capture;
    std::string trigger;         ///< an event, see event_name.hpp
    std::string answer;          ///< the edge that is the reply; empty: the data role's signal
    Fact<std::string> look;      ///< "next:STEP:fall" or a time after the trigger, "3.1us"
    Fact<Time> guard;            ///< the reply must stand this long before the look
    std::optional<Time> within;  ///< a look later than this after its trigger is none: the burst was over
    unsigned long seed = 1;
    std::string extra{};
    bool operator==(const ReplyQuestion&) const = default;
};

/// A network of standard parts as its net list's text (docs/formats/network.md).
struct LogicNetwork {
    std::string id;
    std::string name;
    std::string text;
    std::string note;
    std::string extra;
    bool operator==(const LogicNetwork&) const = default;
};

/// A measured rate to be explained, and what the modern side would make of it.
struct ClockStudy {
    std::string id;
    std::string name;
    Fact<Hertz> rate;
    double within_ppm =
        0;                 ///< how far the true rate may be from it; 0: from the rate's plus_minus, else 5000
    std::string believed;  ///< the chain that the person decided for: "6 MHz ceramic resonator ÷ 448"
    Fact<Hertz> clock;     ///< of the modern part; 0 while nothing is chosen
    DividerKind divider = DividerKind::fraction64;
    int oversample = 16;
    int bits = 10;  ///< of a character, with start and stop
    Time jitter;
    std::string extra;
    bool operator==(const ClockStudy&) const = default;
};

/// A budget of timing/budget.hpp with its numbers.
struct Budget {
    std::string id;
    std::string name;
    BudgetKind kind = BudgetKind::queue;
    std::vector<NumberFact> values;
    std::map<std::string, std::string> words;  ///< what is no number: a capture, a signal's edge
    std::string note;
    std::string extra;
    bool operator==(const Budget&) const = default;
};

/// A replica's capture held against the original's, and against the contract.
struct GoldenPair {
    std::string id;
    std::string original, replica;               ///< CaptureRef::id
    std::map<std::string, std::string> signals;  ///< original's to replica's name; empty: the same names
    std::string align;                           ///< edge, "HOLD:rise"; empty: at time 0
    Time tolerance;
    std::string extra;
    bool operator==(const GoldenPair&) const = default;
};

struct Timing {
    ReplyQuestion reply;
    std::vector<ContractInterval> intervals;
    std::vector<BuildOption> options;
    std::string chosen;  ///< BuildOption::id, empty while nothing is chosen
    std::vector<LogicNetwork> networks;
    std::vector<ClockStudy> clocks;
    std::vector<Budget> budgets;
    std::vector<GoldenPair> golden;
    std::vector<std::string> drawer;  ///< packages at hand for logic: "2 × 74x00 hct"
    std::string extra;
    bool operator==(const Timing&) const = default;
    [[nodiscard]] const BuildOption* find_option(std::string_view id) const;
    [[nodiscard]] const LogicNetwork* find_network(std::string_view id) const;
    [[nodiscard]] const ContractInterval* find_interval(std::string_view id) const;
    [[nodiscard]] const Budget* find_budget(std::string_view id) const;
    [[nodiscard]] const ClockStudy* find_clock(std::string_view id) const;
};

}  // namespace grayrelic
