// SPDX-License-Identifier: GPL-3.0-or-later
// The command line's spelling of options: see reply_option.hpp.
#include <fmt/format.h>

#include <algorithm>

#include "core/base/text.hpp"
#include "core/timing/reply_option.hpp"

namespace grayrelic {
namespace {

void add(BuildOption& option, const char* key, Time value) {
    option.parameters.push_back(
        {key, {value, std::nullopt, {EvidenceKind::assumed, "command line", "", ""}}});
}

Failure wrong_spelling(std::string_view text) {
    return fail_usage("option " + in_quotes(text),
                      "poll:period=P,work=W or irq:latency=MIN..MAX,held=T/EVERY,work=W or "
                      "core:latency=MIN..MAX,work=W or pio:clock=F,sync=2..3,cycles=N or "
                      "mixed:latency=MIN..MAX,work=W,path=MIN/TYP/MAX or fpga:clock=F,stages=N,cycles=N or "
                      "logic:MIN,TYP,MAX");
}

/// "MIN..MAX", or one value for both.
std::pair<std::string_view, std::string_view> range_of(std::string_view value) {
    const auto dots = value.find("..");
    return dots == std::string_view::npos ? std::pair(value, value)
                                          : std::pair(value.substr(0, dots), value.substr(dots + 2));
}

/// Takes the command line's key=value pairs into an option.
class OptionSpeller {
  public:
    explicit OptionSpeller(BuildOption& option) : o_(option) {}
    bool take(std::string_view key, std::string_view value) {
        const auto kind = o_.kind;
        const auto two = [&](const char* first, const char* second) {
            const auto slash = value.find('/');
            if (slash == std::string_view::npos) return false;
            time(value.substr(0, slash), first);
            time(value.substr(slash + 1), second);
            return true;
        };
        if (key == "busy") {
            const auto busy = named<WhenBusy>(trim(value));
            if (!busy) {
                found_ = "busy " + in_quotes(trim(value));
                expected_ = one_of<WhenBusy>();
            }
            o_.busy = busy.value_or(WhenBusy::late);
        } else if (key == "work" || key == "write" || (key == "period" && kind == OptionKind::poll))
            time(value, std::string(key).c_str());
        else if (key == "latency" && kind != OptionKind::poll && kind != OptionKind::pio &&
                 kind != OptionKind::fpga) {
            const auto [low, high] = range_of(value);
            time(low, "latency-min");
            time(high, "latency-max");
        } else if (key == "held" && (kind == OptionKind::irq || kind == OptionKind::mixed))
            return two("held", "held-every");
        else if (key == "stall" && kind != OptionKind::pio && kind != OptionKind::fpga)
            return two("stall", "stall-every");
        else if (key == "cycles" || key == "depth")
            number(value, std::string(key).c_str(), Unit::none);
        else if (key == "stages" && kind == OptionKind::fpga)
            number(value, "stages", Unit::none);
        else if (key == "pads" && kind == OptionKind::fpga)
            time(value, "pads");
        else if (key == "clock")
            number(value, "clock", Unit::hertz);
        else if (key == "sync" && kind == OptionKind::pio) {
            const auto [low, high] = range_of(value);
            number(low, "sync-min", Unit::none);
            number(high, "sync-max", Unit::none);
        } else if (key == "path" && kind == OptionKind::mixed) {
            const auto parts = split(value, '/');
            if (parts.size() != 3) return false;
            time(parts[0], "path-min");
            time(parts[1], "path-typ");
            time(parts[2], "path-max");
        } else
            return false;
        return true;
    }
    void time(std::string_view value, const char* key) {
        const auto t = parse_time(value);
        if (!t)
            found_ = t.error().found;
        else
            add(o_, key, *t);
    }
    /// Nothing while all that was taken could be read.
    [[nodiscard]] const std::string& found() const { return found_; }
    [[nodiscard]] const std::string& expected() const { return expected_; }

  private:
    void number(std::string_view value, const char* key, Unit unit) {
        const auto n = parse_number(value, unit);
        if (!n)
            found_ = n.error().found;
        else
            o_.numbers.push_back({key, {*n, std::nullopt, {EvidenceKind::assumed, "command line", "", ""}}});
    }
    BuildOption& o_;
    std::string found_, expected_ = "a time like 2.2us, or a number";
};

}  // namespace

Result<BuildOption> parse_option(std::string_view text) {
    const auto colon = text.find(':');
    if (colon == std::string_view::npos) return wrong_spelling(text);
    const auto kind = named<OptionKind>(text.substr(0, colon));
    if (!kind || *kind == OptionKind::network) return wrong_spelling(text);
    BuildOption option;
    option.kind = *kind;
    option.id = option.name = std::string(text);
    const auto parts = split(text.substr(colon + 1), ',');
    OptionSpeller speller(option);
    if (option.kind == OptionKind::logic) {
        if (parts.size() != 3) return wrong_spelling(text);
        speller.time(parts[0], "min");
        speller.time(parts[1], "typ");
        speller.time(parts[2], "max");
    } else {
        for (const auto part : parts) {
            const auto equals = part.find('=');
            if (equals == std::string_view::npos ||
                !speller.take(trim(part.substr(0, equals)), part.substr(equals + 1)))
                return wrong_spelling(text);
        }
        const auto has = [&](const char* key) {
            return std::any_of(option.parameters.begin(), option.parameters.end(),
                               [&](const OptionParameter& p) { return p.key == key; });
        };
        if (option.kind == OptionKind::irq && !has("held")) {
            add(option, "held", Time{});
            add(option, "held-every", Time{});
        }
    }
    if (!speller.found().empty())
        return fail_usage(speller.found() + " in option " + in_quotes(text), speller.expected());
    if (auto model = model_of(option); !model) return fail(model.error());
    return option;
}

}  // namespace grayrelic
