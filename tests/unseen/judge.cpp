// SPDX-License-Identifier: GPL-3.0-or-later
#include "tests/unseen/judge.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <chrono>
#include <cmath>
#include <optional>

namespace grayrelic::unseen {
namespace {

std::string text_of(const FrameExtra& e) {
    if (const auto* s = std::get_if<std::string>(&e)) return *s;
    if (const auto* n = std::get_if<long long>(&e)) return std::to_string(*n);
    if (const auto* x = std::get_if<double>(&e))
        return *x == std::floor(*x) && std::abs(*x) < 1e6 ? std::to_string(static_cast<long long>(*x))
                                                          : std::to_string(*x);
    return {};
}

/// The same lines in the same roles; lists of alike lines in any order, both lines of a pair either way
/// round.
bool same_roles(const RoleMap& a, const Link& link) {
    const auto sorted = [](std::vector<std::string> v) {
        for (auto& n : v) n = short_name(n);
        std::sort(v.begin(), v.end());
        return v;
    };
    if (link.kind == "quadrature") {
        std::vector<std::string> x, y;
        for (const auto& [role, names] : a) x.insert(x.end(), names.begin(), names.end());
        for (const auto& [role, names] : link.roles) y.insert(y.end(), names.begin(), names.end());
        return sorted(x) == sorted(y);
    }
    std::map<std::string, std::vector<std::string>> x, y;
    for (const auto& [role, names] : a)
        if (!names.empty()) x[role] = sorted(names);
    for (const auto& [role, names] : link.roles) y[role] = sorted(names);
    return x == y;
}

bool same_setting(const std::string& name, const std::string& found, const std::string& truth) {
    if (name == "baud") {
        const double a = std::stod(found.empty() ? "0" : found), b = std::stod(truth);
        return std::abs(a / b - 1) < 0.01;
    }
    return found == truth;
}

/// Both lists side by side from the first to the last: how many of the truth's words came, each at most once
/// and in order (longest common subsequence within a narrow band, since lists of a capture rarely drift far).
long words_in_order(const std::vector<std::string>& truth, const std::vector<std::string>& read) {
    const long n = static_cast<long>(truth.size()), m = static_cast<long>(read.size()),
               band = 40 + std::abs(n - m);
    std::vector<long> before(static_cast<std::size_t>(m + 1), 0), now(before);
    for (long i = 1; i <= n; ++i) {
        std::fill(now.begin(), now.end(), 0);
        const long low = std::max(1L, i - band), high = std::min(m, i + band);
        now[static_cast<std::size_t>(low - 1)] = before[static_cast<std::size_t>(low - 1)];
        for (long j = low; j <= high; ++j) {
            const auto k = static_cast<std::size_t>(j);
            now[k] = truth[static_cast<std::size_t>(i - 1)] == read[k - 1] ? before[k - 1] + 1
                                                                           : std::max(before[k], now[k - 1]);
        }
        for (long j = high + 1; j <= m; ++j)
            now[static_cast<std::size_t>(j)] = now[static_cast<std::size_t>(high)];
        std::swap(before, now);
    }
    return before[static_cast<std::size_t>(m)];
}

std::vector<std::string> words_of(const Decoding& d) {
    std::vector<std::string> out;
    for (const auto& f : d.frames) {
        std::string error;
        for (const auto& e : f.errors)
            if (e == "parity" || e == "framing" || e == "break") error = e;
        // What a break or a bad stop bit says is nothing; that it came is.
        out.push_back((error == "break" ? std::string() : f.levels) + " " + error);
    }
    return out;
}

void judge_words(const Capture& capture, const Link& link, Judged& j) {
    const auto decoder = find_decoder(link.kind);
    if (!decoder) return;
    SettingMap settings;
    for (const auto& name : link.open)
        if (const auto it = link.settings.find(name); it != link.settings.end()) settings[name] = it->second;
    settings.erase("order");
    RoleMap roles;
    for (const auto& [role, names] : link.roles) roles[role] = names;
    Progress progress;
    const auto read = (*decoder)->decode(capture, roles, settings, progress);
    if (!read) {
        j.wrong += " | " + read.error().message();
        return;
    }
    for (const auto& [name, value] : link.settings) {
        if (link.open.count(name) != 0) {
            ++j.open;
            continue;
        }
        const auto found = read->settings.find(name);
        // "auto" for the bits of a latched register: every clock until the next latch, as the contract says.
        if (found == read->settings.end() || text_of(found->second) == "auto") continue;
        ++j.asked;
        const bool right = same_setting(name, text_of(found->second), value);
        j.settings_right += right ? 1 : 0;
        if (!right) j.wrong += fmt::format(" | {} {} for {}", name, text_of(found->second), value);
    }
    if (link.kind == "quadrature") {
        const auto f = read->counts.find("forward"), b = read->counts.find("backward");
        const long at = (f == read->counts.end() ? 0 : f->second) - (b == read->counts.end() ? 0 : b->second);
        ++j.words;
        j.words_right += std::abs(at) == std::abs(link.position) ? 1 : 0;
        if (std::abs(at) != std::abs(link.position))
            j.wrong += fmt::format(" | at {} for {}", at, link.position);
    } else if (link.kind == "matrix") {
        std::set<std::pair<std::string, std::string>> seen, truth;
        for (const auto& frame : read->frames)
            if (const auto it = frame.extra.find("closed"); it != frame.extra.end())
                if (const auto* pairs =
                        std::get_if<std::vector<std::pair<std::string, std::string>>>(&it->second))
                    for (const auto& [s, n] : *pairs) seen.insert({short_name(s), short_name(n)});
        for (const auto& [s, n] : link.closed)
            truth.insert({link.roles.at("strobe")[static_cast<std::size_t>(s)],
                          link.roles.at("sense")[static_cast<std::size_t>(n)]});
        j.words += static_cast<long>(truth.size());
        for (const auto& t : truth) j.words_right += seen.count(t) != 0 ? 1 : 0;
        for (const auto& t : seen) j.words_right -= truth.count(t) != 0 ? 0 : 1;
    } else if (link.kind == "usb-low-full") {
        j.words += static_cast<long>(link.words.size());
        j.words_right +=
            static_cast<long>(std::min(link.words.size(), read->frames.size())) - read->frames_with_errors();
    } else if (!link.words.empty()) {
        std::vector<std::string> truth;
        for (const auto& w : link.words)
            truth.push_back((w.error == "break" ? std::string() : w.levels) + " " + w.error);
        const auto words = words_of(*read);
        const long right = words_in_order(truth, words);
        j.words += std::max(static_cast<long>(truth.size()), static_cast<long>(words.size()));
        j.words_right += right;
        if (right < static_cast<long>(truth.size()))
            j.wrong += fmt::format(" | {} of {} words, {} read", right, truth.size(), words.size());
    }
}

}  // namespace

Capture capture_of(const Made& made) {
    Capture c;
    c.format = "vcd";
    // As a dump in picoseconds: nobody states the rate.
    c.resolution = Time::ps(1);
    c.extent = {Time{}, Time::ps(made.end)};
    for (const auto& w : made.wires) {
        std::vector<Time> edges;
        for (const auto t : w.edges)
            if (t <= made.end) edges.push_back(Time::ps(t));
        Signal s;
        s.name = w.name;
        s.digital = std::make_shared<const DigitalWaveform>(w.first, edges);
        c.signals.push_back(std::move(s));
    }
    return c;
}

Judged judge(const Made& made) {
    Judged j;
    j.kind = made.links.empty() ? "nonsense" : made.links.front().kind;
    const auto capture = capture_of(made);
    IdentifyOptions options;
    Progress progress;
    const auto begun = std::chrono::steady_clock::now();
    const auto found = identify(capture, options, progress);
    j.seconds = std::chrono::duration<double>(std::chrono::steady_clock::now() - begun).count();
    const Candidate* first = found && !found->empty() ? &found->front() : nullptr;
    j.score = first == nullptr ? 0 : first->score;
    j.named = j.score >= least_fit ? first->kind : "none";
    if (made.links.empty()) {
        j.family = j.roles = j.named == "none";
        if (!j.family) j.wrong = fmt::format("{} at {:.2f}: {}", j.named, j.score, first->why);
        return j;
    }
    j.all_links = true;
    for (const auto& link : made.links) {
        const bool alike = j.named == link.kind || link.alike.count(j.named) != 0;
        j.family = j.family || alike;
        j.roles = j.roles || (alike && (j.named != link.kind || same_roles(first->roles, link)));
        j.all_links =
            j.all_links && found && std::any_of(found->begin(), found->end(), [&](const Candidate& c) {
                return c.score >= least_fit && c.kind == link.kind && same_roles(c.roles, link);
            });
    }
    if (!j.roles && first != nullptr) {
        j.wrong = fmt::format("{} at {:.2f} on", j.named, j.score);
        for (const auto& [role, names] : first->roles)
            for (const auto& n : names) j.wrong += " " + role + "=" + n;
        for (const auto& c : *found)
            if (c.kind == j.kind && &c != first) {
                j.wrong += fmt::format(", the right one {:.2f}", c.score);
                break;
            }
    }
    for (const auto& link : made.links) judge_words(capture, link, j);
    return j;
}

void Table::Row::add(const Judged& j) {
    ++captures;
    named += j.family && j.roles ? 1 : 0;
    family += j.family ? 1 : 0;
    links += j.all_links ? 1 : 0;
    if (!j.roles) ++taken_for[j.named == j.kind ? "other lines" : j.named];
    asked += j.asked, right += j.settings_right, open += j.open;
    // Words count where the link was named.
    if (j.roles) words += j.words, words_right += j.words_right;
    seconds += j.seconds;
}

void Table::add(const Judged& j) {
    rows_[j.kind].add(j);
}

Table::Row Table::sum() const {
    Row all;
    for (const auto& [kind, r] : rows_) {
        if (kind == "nonsense") continue;
        all.captures += r.captures, all.named += r.named, all.links += r.links, all.asked += r.asked;
        all.right += r.right, all.open += r.open, all.words += r.words, all.words_right += r.words_right;
        all.seconds += r.seconds;
    }
    return all;
}

namespace {
double share(long part, long whole) {
    return whole == 0 ? 1.0 : static_cast<double>(part) / static_cast<double>(whole);
}
}  // namespace

double Table::named() const {
    const auto s = sum();
    return share(s.named, s.captures);
}
double Table::all_links() const {
    const auto s = sum();
    return share(s.links, s.captures);
}
double Table::settings() const {
    const auto s = sum();
    return share(s.right, s.asked);
}
double Table::words() const {
    const auto s = sum();
    return share(s.words_right, s.words);
}
double Table::refused() const {
    const auto it = rows_.find("nonsense");
    return it == rows_.end() ? 1.0 : share(it->second.named, it->second.captures);
}

std::string Table::text() const {
    std::string out = fmt::format("{:<14}{:>6}{:>9}{:>9}{:>11}{:>7}{:>9}{:>8}  {}\n", "kind", "of", "first",
                                  "all", "settings", "open", "words", "ms", "taken for");
    for (const auto& [kind, r] : rows_) {
        std::string taken;
        for (const auto& [what, n] : r.taken_for)
            taken += fmt::format("{}{} {}", taken.empty() ? "" : ", ", n, what);
        out += fmt::format("{:<14}{:>6}{:>8.1f}%{:>8.1f}%{:>10.1f}%{:>6.0f}%{:>8.2f}%{:>8.0f}  {}\n", kind,
                           r.captures, 100 * share(r.named, r.captures), 100 * share(r.links, r.captures),
                           100 * share(r.right, r.asked), 100 * share(r.open, r.open + r.asked),
                           100 * share(r.words_right, r.words),
                           1e3 * r.seconds / static_cast<double>(std::max(1L, r.captures)), taken);
    }
    out += fmt::format(
        "all links: first {:.1f} %, every link {:.1f} %, settings {:.1f} %, words {:.2f} %; nonsense "
        "refused {:.1f} %\n",
        100 * named(), 100 * all_links(), 100 * settings(), 100 * words(), 100 * refused());
    return out;
}

}  // namespace grayrelic::unseen
