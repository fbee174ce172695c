// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/capture/vcd_writer.hpp"

#include "core/base/long_work.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <iterator>
#include <map>

#include "core/base/text.hpp"
#include "core/capture/change_stream.hpp"

namespace grayrelic {
namespace {

constexpr std::size_t vcd_block = 1U << 16U;

std::string identifier(std::size_t n) {
    std::string id;
    do {
        id += static_cast<char>('!' + n % 94);
        n /= 94;
    } while (n-- > 0);
    return id;
}

/// The coarsest time scale of 1, 10 or 100 times a unit that all times are whole multiples of.
Time time_scale(const Capture& capture) {
    std::int64_t scale = 1;
    while (scale < 100'000'000'000'000 && capture.resolution.count() % (scale * 10) == 0) scale *= 10;
    const auto fits = [&](Time t) {
        while (t.count() % scale != 0) scale /= 10;
    };
    fits(capture.extent.from);
    fits(capture.extent.to);
    for (const auto& s : capture.signals) {
        if (scale == 1) break;
        if (s.digital) {
            for (const Time t : s.digital->edges()) fits(t);
            for (const auto& u : s.digital->unknown()) {
                fits(u.from);
                fits(u.to);
            }
        }
        if (s.real) {
            for (const Time t : s.real->times) fits(t);
        }
    }
    return Time::ps(scale);
}

std::string print_scale(Time scale) {
    constexpr std::pair<std::int64_t, const char*> units[] = {
        {1'000'000'000'000, "s"}, {1'000'000'000, "ms"}, {1'000'000, "us"}, {1'000, "ns"}};
    for (const auto& [ps, name] : units)
        if (scale.count() >= ps) return fmt::format("{} {}", scale.count() / ps, name);
    return fmt::format("{} ps", scale.count());
}

/// A dump's names hold no blanks, and "$end" would end the definition.
std::string plain_name(const std::string& name) {
    std::string out = name;
    for (auto& c : out)
        if (static_cast<unsigned char>(c) <= ' ' || c == 0x7F) c = '_';
    if (out.empty() || out.ends_with("$end")) out += '_';
    return out;
}

/// Scopes are what stands before dots, as long as no part is empty; the rest is the variable's name.
std::pair<std::vector<std::string>, std::string> scopes_of(const std::string& name) {
    std::vector<std::string> scopes;
    std::string_view rest = name;
    for (;;) {
        const auto dot = rest.find('.');
        if (dot == std::string_view::npos || dot == 0 || dot + 1 == rest.size()) break;
        const auto scope = rest.substr(0, dot);
        if (scope.ends_with("$end")) break;
        scopes.emplace_back(scope);
        rest.remove_prefix(dot + 1);
    }
    return {std::move(scopes), std::string(rest)};
}

/// A variable of the dump: one signal, or the bits of a vector in a row.
struct Variable {
    std::size_t first = 0;
    std::size_t width = 1;
    std::string id;
};

class Writer {
  public:
    Writer(const Capture& capture, const TextSink& sink, Progress& progress)
        : capture_(capture), sink_(sink), progress_(progress), scale_(time_scale(capture)) {
        if (capture.extent.from < Time{}) result_.shift = -capture.extent.from;
    }

    Result<WrittenVcd> run(const std::string& comment) {
        group();
        text_ = fmt::format("$timescale {} $end\n", print_scale(scale_));
        if (!comment.empty()) text_ += fmt::format("$comment {} $end\n", comment);
        write_definitions();
        if (auto done = write_changes(); !done) return fail(done.error());
        if (auto done = sink_(text_); !done) return fail(done.error());
        return result_;
    }

  private:
    void group() {
        // Signals that share a waveform share an identifier, as in the file they came from.
        std::map<std::pair<const void*, std::size_t>, std::string> known;
        const auto& signals = capture_.signals;
        variable_of_.resize(signals.size());
        for (std::size_t i = 0; i < signals.size();) {
            Variable v{i, 1, {}};
            if (!signals[i].vector.empty())
                while (i + v.width < signals.size() && signals[i + v.width].vector == signals[i].vector &&
                       v.width < vector_width(signals[i].vector))
                    ++v.width;
            if (v.width != vector_width(signals[i].vector)) v.width = 1;
            const void* waveform = signals[i].digital ? static_cast<const void*>(signals[i].digital.get())
                                                      : static_cast<const void*>(signals[i].real.get());
            auto& id = known[{waveform, v.width}];
            repeated_.push_back(!id.empty());
            if (id.empty()) id = identifier(known.size() - 1);
            v.id = id;
            for (std::size_t k = 0; k < v.width; ++k) variable_of_[i + k] = variables_.size();
            i += v.width;
            variables_.push_back(std::move(v));
        }
    }

    /// The bits that "q[7:0]" names; 1 for anything else.
    static std::size_t vector_width(const std::string& vector) {
        const auto open = vector.rfind('[');
        const auto colon = vector.rfind(':');
        if (open == std::string::npos || colon == std::string::npos || colon < open) return 1;
        const long left = std::strtol(vector.c_str() + open + 1, nullptr, 10);
        const long right = std::strtol(vector.c_str() + colon + 1, nullptr, 10);
        return static_cast<std::size_t>(std::labs(left - right)) + 1;
    }

    void write_definitions() {
        std::vector<std::string> open;
        for (const auto& v : variables_) {
            const auto& s = capture_.signals[v.first];
            const auto wish = v.width > 1 ? s.vector : s.name;
            const auto name = plain_name(wish);
            result_.renamed |= name != wish;
            const auto [scopes, last] = scopes_of(name);
            const auto same = static_cast<std::size_t>(
                std::mismatch(open.begin(), open.end(), scopes.begin(), scopes.end()).first - open.begin());
            for (; open.size() > same; open.pop_back()) text_ += "$upscope $end\n";
            for (; open.size() < scopes.size(); open.push_back(scopes[open.size()]))
                text_ += fmt::format("$scope module {} $end\n", scopes[open.size()]);
            const char* type = s.kind == SignalKind::real    ? "real"
                               : s.kind == SignalKind::event ? "event"
                                                             : "wire";
            text_ += fmt::format("$var {} {} {} {} $end\n", type, s.kind == SignalKind::real ? 64 : v.width,
                                 v.id, last);
        }
        for (; !open.empty(); open.pop_back()) text_ += "$upscope $end\n";
        text_ += "$enddefinitions $end\n";
    }

    Status write_changes() {
        ChangeStream stream(capture_);
        auto now = stamp(capture_.extent.from);
        text_ += fmt::format("#{}\n$dumpvars\n", now);
        for (std::size_t i = 0; i < variables_.size(); ++i)
            if (capture_.signals[variables_[i].first].digital) write_value(stream, i);
        text_ += "$end\n";
        const auto length = static_cast<double>(std::max<std::int64_t>(1, capture_.extent.length().count()));
        std::vector<std::size_t> variables;
        while (stream.step()) {
            variables.clear();
            for (const auto i : stream.changed())
                if (variables.empty() || variables.back() != variable_of_[i])
                    variables.push_back(variable_of_[i]);
            if (variables.empty()) continue;
            if (const auto at = stamp(stream.now()); at != now)
                fmt::format_to(std::back_inserter(text_), "#{}\n", now = at);
            for (const auto v : variables) write_value(stream, v);
            if (text_.size() < vcd_block) continue;
            if (progress_.cancelled()) return fail_cancelled();
            progress_.report(static_cast<double>((stream.now() - capture_.extent.from).count()) / length);
            if (auto done = sink_(text_); !done) return done;
            text_.clear();
        }
        if (const auto end = stamp(capture_.extent.to); end > now) text_ += fmt::format("#{}\n", end);
        return {};
    }

    void write_value(const ChangeStream& stream, std::size_t variable) {
        if (repeated_[variable]) return;
        const auto& v = variables_[variable];
        switch (capture_.signals[v.first].kind) {
            case SignalKind::real:
                fmt::format_to(std::back_inserter(text_), "r{} {}\n", stream.cursor(v.first).real(), v.id);
                return;
            case SignalKind::event: text_ += '1'; break;
            case SignalKind::analogue:  // its levels
            case SignalKind::digital:
                if (v.width > 1) text_ += 'b';
                for (std::size_t i = 0; i < v.width; ++i) text_ += stream.cursor(v.first + i).value();
                if (v.width > 1) text_ += ' ';
                break;
        }
        text_ += v.id;
        text_ += '\n';
    }

    [[nodiscard]] std::int64_t stamp(Time t) const { return (t + result_.shift).count() / scale_.count(); }

    const Capture& capture_;
    const TextSink& sink_;
    Progress& progress_;
    Time scale_;
    WrittenVcd result_;
    std::vector<Variable> variables_;
    std::vector<bool> repeated_;            // variables whose identifier another one has written
    std::vector<std::size_t> variable_of_;  // by signal
    std::string text_;
};

/// Every time rounded to the resolution; what falls together within one step cancels out.
DigitalWaveform rounded(const DigitalWaveform& waveform, Time resolution) {
    const auto unit = std::max<std::int64_t>(1, resolution.count());
    const auto to_unit = [&](Time t) { return Time::ps((t.count() + unit / 2) / unit * unit); };
    EdgeBuffer edges;
    for (const Time t : waveform.edges()) {
        const auto r = to_unit(t);
        if (!edges.empty() && edges.back() == r)
            edges.pop_back();
        else
            edges.push_back(r);
    }
    std::vector<Span> unknown;
    for (const auto& s : waveform.unknown())
        if (to_unit(s.from) < to_unit(s.to)) unknown.push_back({to_unit(s.from), to_unit(s.to)});
    return DigitalWaveform::from_sorted(waveform.first_level(), std::move(edges), std::move(unknown), {});
}

}  // namespace

Result<WrittenVcd> write_vcd(const Capture& capture, const std::string& comment, const TextSink& sink,
                             Progress& progress) {
    long_work("write_vcd");
    return Writer(capture, sink, progress).run(comment);
}

std::string write_vcd(const VcdOutput& output) {
    Capture capture;
    capture.resolution = output.resolution;
    capture.extent.to = rounded(DigitalWaveform(false, {output.end}), output.resolution).edges()[0];
    for (const auto& wire : output.wires) {
        auto waveform = std::make_shared<const DigitalWaveform>(rounded(*wire.waveform, output.resolution));
        capture.signals.push_back(
            {output.scope + "." + wire.name, {}, SignalKind::digital, std::move(waveform), nullptr});
    }
    std::string text;
    Progress progress;
    (void)write_vcd(
        capture, output.comment,
        [&](std::string_view more) {
            text += more;
            return Status{};
        },
        progress);
    return text;
}

}  // namespace grayrelic
