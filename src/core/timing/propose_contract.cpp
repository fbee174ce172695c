// SPDX-License-Identifier: GPL-3.0-or-later
// What to measure, by the family of the conversation.
#include <algorithm>

#include "core/timing/contract.hpp"

#include "core/base/long_work.hpp"

namespace grayrelic {
namespace {

/// A role's first signal; empty when the role is missing.
std::string signal_of(const RoleMap& roles, const char* role) {
    const auto it = roles.find(role);
    return it == roles.end() || it->second.empty() ? std::string() : it->second.front();
}

/// Four clock periods: a burst's own intervals are below it, the pause between two polls is far above.
Time burst_limit(const Decoding& decoding) {
    for (const auto& f : decoding.frames)
        if (f.bit_times.size() >= 2)
            return (f.bit_times.back() - f.bit_times.front()) /
                   static_cast<std::int64_t>(f.bit_times.size() - 1) * 4;
    return Time::us(100);
}

bool sampled_on_rise(const Decoding& decoding) {
    const auto it = decoding.settings.find("edge");
    const auto* text = it == decoding.settings.end() ? nullptr : std::get_if<std::string>(&it->second);
    return text != nullptr && *text == "rise";
}

std::string setting(const Decoding& d, const char* name) {
    const auto it = d.settings.find(name);
    if (it == d.settings.end()) return {};
    if (const auto* number = std::get_if<long long>(&it->second)) return std::to_string(*number);
    const auto* text = std::get_if<std::string>(&it->second);
    return text == nullptr ? std::string() : *text;
}

/// Collects intervals measured from one capture.
class Proposer {
  public:
    explicit Proposer(std::string capture) : capture_(std::move(capture)) {}
    void add(const char* id, std::string name, const std::string& from, const std::string& to,
             IntervalKind kind, std::optional<Time> within = std::nullopt,
             EvidenceKind evidence = EvidenceKind::measured) {
        ContractInterval i;
        i.id = id;
        for (int n = 2; std::any_of(list.begin(), list.end(), [&](const auto& o) { return o.id == i.id; });
             ++n)
            i.id = id + std::string("-") + std::to_string(n);
        i.name = std::move(name);
        i.from = from;
        i.to = to;
        i.kind = kind;
        i.capture = capture_;
        i.within = within;
        i.evidence = {evidence, "", "", ""};
        list.push_back(std::move(i));
    }
    void pulses(const std::string& signal, std::optional<Time> within = std::nullopt) {
        const auto name = short_name(signal);
        add((name + "-high").c_str(), name + " high", signal + ":rise", signal + ":fall", IntervalKind::width,
            within);
        add((name + "-low").c_str(), name + " low", signal + ":fall", signal + ":rise", IntervalKind::width,
            within);
    }
    void frames() {
        add("frame", "Frame", "frame:start", "frame:end", IntervalKind::width);
        add("frame-gap", "Gap between frames", "frame:end", "frame:start", IntervalKind::gap);
    }
    std::vector<ContractInterval> list;

  private:
    std::string capture_;
};

std::vector<ContractInterval> latch_shift(const std::string& capture, const RoleMap& roles,
                                          const Decoding& decoding) {
    const auto clock = signal_of(roles, "clock"), latch = signal_of(roles, "latch"),
               data = signal_of(roles, "data");
    if (clock.empty() || latch.empty() || data.empty()) return {};
    const bool on_rise = sampled_on_rise(decoding), high = setting(decoding, "latch") != "low";
    const std::string sample = clock + (on_rise ? ":rise" : ":fall"),
                      shift = clock + (on_rise ? ":fall" : ":rise");
    const std::string load = latch + (high ? ":rise" : ":fall"), release = latch + (high ? ":fall" : ":rise");
    const Time burst = burst_limit(decoding);
    Proposer p(capture);
    p.add("reply", "Original's reply", shift, data + ":any", IntervalKind::response, burst / 8);
    p.add("look", "Host's look", shift, sample, IntervalKind::look, burst, EvidenceKind::assumed);
    p.add("first-bit", "First bit after load", load, data + ":any", IntervalKind::response, burst / 8);
    p.add("load-width", latch + " pulse", load, release, IntervalKind::width);
    p.add("load-to-clock", latch + " to first " + clock, release, sample, IntervalKind::setup);
    p.add("clock-high", clock + " high", clock + ":rise", clock + ":fall", IntervalKind::width, burst);
    p.add("clock-low", clock + " low", clock + ":fall", clock + ":rise", IntervalKind::width, burst);
    p.add("clock-period", clock + " period", sample, sample, IntervalKind::period, burst);
    p.add("data-setup", data + " before the look", data + ":any", sample, IntervalKind::setup, burst);
    p.add("data-hold", data + " after the look", sample, data + ":any", IntervalKind::hold, burst);
    p.add("poll-period", "Poll period", load, load, IntervalKind::period);
    p.add("recovery", "Last " + clock + " to next " + latch, sample, load, IntervalKind::recovery);
    return p.list;
}

/// Clock and data: what stands around each sampling edge.
void around_clock(Proposer& p, const std::string& clock, const std::string& data, bool on_rise,
                  std::optional<Time> within) {
    const std::string sample = clock + (on_rise ? ":rise" : ":fall"),
                      other = clock + (on_rise ? ":fall" : ":rise");
    p.add("data-setup", data + " before " + clock, data + ":any", sample, IntervalKind::setup, within);
    p.add("data-hold", data + " after " + clock, sample, data + ":any", IntervalKind::hold, within);
    p.add("data-after-shift", data + " after the other edge", other, data + ":any", IntervalKind::response,
          within);
    p.pulses(clock, within);
    p.add("clock-period", clock + " period", sample, sample, IntervalKind::period, within);
}

}  // namespace

std::vector<ContractInterval> propose_contract(const std::string& capture, const RoleMap& roles,
                                               const Decoding& decoding) {
    long_work("propose_contract");
    const auto& kind = decoding.kind;
    if (kind == "latch-shift") return latch_shift(capture, roles, decoding);
    Proposer p(capture);
    const auto role = [&](const char* name) { return signal_of(roles, name); };
    const auto all = [&](const char* name) {
        const auto it = roles.find(name);
        return it == roles.end() ? std::vector<std::string>{} : it->second;
    };
    if (kind == "clocked" || kind == "framed-clock") {
        const auto clock = role("clock"), data = role("data"), select = role("select");
        if (clock.empty() || data.empty()) return {};
        around_clock(p, clock, data,
                     setting(decoding, "edge") == "rise" || setting(decoding, "mode") == "0" ||
                         setting(decoding, "mode") == "3",
                     burst_limit(decoding));
        if (!select.empty()) {
            p.add("select-setup", select + " to first " + clock, select + ":any", clock + ":any",
                  IntervalKind::setup);
            p.add("select-recovery", select + " between transfers", select + ":rise", select + ":fall",
                  IntervalKind::recovery);
        }
        p.frames();
    } else if (kind == "select-bank") {
        const auto select = role("select"), enable = role("enable");
        for (const auto& d : all("data"))
            p.add("bank-reply", short_name(d) + " after " + select, select + ":any", d + ":any",
                  IntervalKind::response);
        if (!select.empty()) p.pulses(select);
        if (!enable.empty()) p.pulses(enable);
    } else if (kind == "strobed-bus") {
        const auto strobe = role("strobe");
        const std::string sample = strobe + (setting(decoding, "edge") == "fall" ? ":fall" : ":rise");
        for (const auto& d : all("data")) {
            p.add("bus-setup", short_name(d) + " before " + strobe, d + ":any", sample, IntervalKind::setup);
            p.add("bus-hold", short_name(d) + " after " + strobe, sample, d + ":any", IntervalKind::hold);
        }
        if (!strobe.empty()) {
            p.pulses(strobe);
            p.add("strobe-period", strobe + " period", sample, sample, IntervalKind::period);
        }
    } else if (kind == "matrix") {
        const auto strobes = all("strobe");
        for (const auto& s : strobes) p.pulses(s);
        if (!strobes.empty())
            for (const auto& s : all("sense"))
                p.add("sense-reply", short_name(s) + " after " + strobes.front(), strobes.front() + ":any",
                      s + ":any", IntervalKind::response);
    } else if (kind == "quadrature") {
        for (const char* r : {"a", "b"})
            if (const auto s = role(r); !s.empty()) p.pulses(s);
        if (!role("a").empty() && !role("b").empty())
            p.add("quarter", "A to B", role("a") + ":any", role("b") + ":any", IntervalKind::gap);
    } else {
        // One wire with frames of its own: its pulses, its frames and the pauses between them.
        if (const auto d = role("data"); !d.empty()) p.pulses(d);
        p.frames();
        p.add("frame-period", "From frame to frame", "frame:start", "frame:start", IntervalKind::period);
    }
    return p.list;
}

ReplyQuestion propose_question(const std::string& capture, const RoleMap& roles, const Decoding& decoding) {
    long_work("propose_question");
    ReplyQuestion q;
    const auto clock = signal_of(roles, "clock");
    if (clock.empty()) return q;
    const bool on_rise = sampled_on_rise(decoding);
    q.capture = capture;
    q.trigger = clock + (on_rise ? ":fall" : ":rise");
    q.look.value = "next:" + clock + (on_rise ? ":rise" : ":fall");
    q.look.evidence = {
        EvidenceKind::assumed,
        "a capture can't show when the host looks; the next opposite clock edge is the usual place", "", ""};
    q.within = burst_limit(decoding);
    q.guard.evidence = {EvidenceKind::assumed, "no guard set", "", ""};
    return q;
}

}  // namespace grayrelic
