// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/capture/csv_writer.hpp"

#include "core/base/long_work.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <iterator>

#include "core/capture/change_stream.hpp"

namespace grayrelic {
namespace {

constexpr std::size_t csv_block = 1U << 16U;

std::string quoted(const std::string& name) {
    if (name.find_first_of(",\";\t\r\n ") == std::string::npos) return name;
    std::string out = "\"";
    for (const char c : name) {
        if (c == '"') out += '"';
        out += c == '\r' || c == '\n' ? ' ' : c;
    }
    return out + '"';
}

void add_row(std::string& text, Time now, const Capture& capture, const ChangeStream& stream) {
    text += print_seconds(now);
    for (std::size_t i = 0; i < capture.signals.size(); ++i) {
        const auto& cursor = stream.cursor(i);
        text += ',';
        if (capture.signals[i].kind == SignalKind::event) {
            const auto& changed = stream.changed();
            text += std::binary_search(changed.begin(), changed.end(), i) ? '1' : '0';
        } else if (cursor.value() == 'r') {
            fmt::format_to(std::back_inserter(text), "{}", cursor.real());
        } else {
            text += cursor.value();
        }
    }
    text += '\n';
}

}  // namespace

std::string print_seconds(Time t) {
    const auto ps = t.count();
    const auto size = ps < 0 ? -static_cast<std::uint64_t>(ps) : static_cast<std::uint64_t>(ps);
    auto text =
        fmt::format("{}{}.{:012}", ps < 0 ? "-" : "", size / 1'000'000'000'000U, size % 1'000'000'000'000U);
    while (text.ends_with("000")) text.erase(text.size() - 3);
    if (text.ends_with('.')) text += '0';
    return text;
}

Status write_csv(const Capture& capture, const TextSink& sink, Progress& progress) {
    long_work("write_csv");
    std::string text = "time_s";
    for (const auto& s : capture.signals) text += ',' + quoted(s.name);
    text += '\n';
    ChangeStream stream(capture);
    const auto length = static_cast<double>(std::max<std::int64_t>(1, capture.extent.length().count()));
    Time last = capture.extent.from;
    bool more = stream.step();
    if (!more || stream.now() > capture.extent.from) {
        // Nothing changes at the very start: the row is what stands before the first change.
        add_row(text, capture.extent.from, capture, ChangeStream(capture));
    }
    for (; more; more = stream.step()) {
        last = stream.now();
        add_row(text, last, capture, stream);
        if (text.size() < csv_block) continue;
        if (progress.cancelled()) return fail_cancelled();
        progress.report(static_cast<double>((last - capture.extent.from).count()) / length);
        if (auto done = sink(text); !done) return done;
        text.clear();
    }
    if (capture.extent.to > last) add_row(text, capture.extent.to, capture, stream);
    return sink(text);
}

}  // namespace grayrelic
