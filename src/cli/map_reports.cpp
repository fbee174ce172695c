// SPDX-License-Identifier: GPL-3.0-or-later
// gray-relic-cli map descriptor, descriptor-read, text, reports.
#include <fmt/format.h>

#include <filesystem>
#include <memory>

#include "cli/input.hpp"
#include "cli/map_commands.hpp"
#include "cli/output.hpp"
#include "core/base/text.hpp"
#include "core/input/descriptor.hpp"
#include "core/input/descriptor_read.hpp"
#include "core/input/hex_text.hpp"
#include "core/input/host.hpp"
#include "core/input/typing.hpp"
#include "core/library/data_library.hpp"

namespace grayrelic::cli {
namespace {

void print_listing(const ReportDescriptor& d) {
    for (const auto& item : d.items)
        say("{:5}  {:<16} {:{}}{}\n", item.offset, print_hex(item.bytes), "", item.depth * 2, item.says);
    for (const auto& r : d.reports) {
        say("{} report{}: {} bits\n", word(r.kind), r.id == 0 ? "" : fmt::format(" {}", r.id), r.bits);
        for (const auto& f : r.fields)
            say("  bit {:<4} {} × {} bits, {} to {}: {}{}\n", f.bit, f.count, f.size_bits, f.logical_min,
                f.logical_max, f.usages.empty() ? "no usage" : print_usage(f.usages.front()),
                f.usages.size() > 1 ? " … " + print_usage(f.usages.back()) : std::string());
    }
    for (const auto& p : d.problems) say("{}\n", p);
}

int map_descriptor(const std::string& profile, const std::string& out, bool json) {
    const auto p = parse_profile(profile);
    if (!p) return report_error(usage_error("--profile " + p.error().found, p.error().expected));
    const auto bytes = descriptor_of(*p);
    if (!out.empty()) {
        const bool text = std::filesystem::path(out).extension() == ".txt";
        const auto content = text ? print_hex(bytes) + "\n" : std::string(bytes.begin(), bytes.end());
        if (const auto written = write_apart(out, content, {}); !written)
            return report_error(written.error());
    }
    if (json)
        print_json({{"profile", print_profile(*p)},
                    {"descriptor_hex", print_hex(bytes)},
                    {"report_bytes", report_bytes(*p)}});
    else
        print_listing(read_descriptor(bytes));
    return fine;
}

Json field_json(const ReportField& f) {
    Json usages = Json::array();
    for (const auto& u : f.usages) usages.push_back({u.page, u.id});
    return {{"usages", std::move(usages)},  {"bit", f.bit},
            {"size_bits", f.size_bits},     {"count", f.count},
            {"logical_min", f.logical_min}, {"logical_max", f.logical_max},
            {"variable", f.variable},       {"relative", f.relative},
            {"null_state", f.null_state}};
}

Json descriptor_json(const ReportDescriptor& d) {
    Json reports = Json::array();
    for (const auto& r : d.reports) {
        Json fields = Json::array();
        for (const auto& f : r.fields) fields.push_back(field_json(f));
        reports.push_back(
            {{"id", r.id}, {"kind", word(r.kind)}, {"bits", r.bits}, {"fields", std::move(fields)}});
    }
    return {{"reports", std::move(reports)}, {"problems", d.problems}};
}

struct Bytes {
    std::string path, hex;
};

Result<std::vector<std::uint8_t>> descriptor_bytes(const Bytes& b) {
    constexpr std::size_t most = 1U << 20U;
    if (!b.hex.empty() || b.path.empty()) return read_hex(b.hex, "--hex", most);
    const auto content = read_input(b.path, most);
    if (!content) return fail(content.error());
    if (content->empty())
        return fail_at(b.path, 1, "an empty file", "a report descriptor, as bytes or in hexadecimal");
    return read_bytes(*content, b.path, most);
}

int map_descriptor_read(const Bytes& b, bool json) {
    if (b.path.empty() == b.hex.empty() && !b.path.empty())
        return report_error(usage_error("a file and --hex", "one of the two"));
    const auto bytes = descriptor_bytes(b);
    if (!bytes) return report_error(bytes.error());
    const auto d = read_descriptor(*bytes);
    if (json)
        print_json(descriptor_json(d));
    else
        print_listing(d);
    return d.problems.empty() ? fine : bad_answer;
}

Result<const KeyboardLayout*> layout_asked(const DataLibrary& data, const std::string& id) {
    const auto* layout = data.layouts.find(id);
    if (layout == nullptr) return fail(usage_error("--layout " + in_quotes(id), data.layouts.ids()));
    return layout;
}

int map_text(const std::string& text, const std::string& id, bool merge, bool json) {
    if (!is_utf8(text)) return report_error(usage_error(in_quotes(text), "a text in UTF-8"));
    if (text.size() > 1U << 20U) return report_error(usage_error("more than 1 MiB", "a shorter text"));
    const auto data = DataLibrary::load_installed();
    const auto layout = layout_asked(*data, id);
    if (!layout) return report_error(layout.error());
    const auto typed = type_text(text, **layout, merge);
    if (json) {
        Json reports = Json::array();
        for (const auto& r : typed.reports) reports.push_back(print_hex(r));
        print_json({{"reports_hex", std::move(reports)}, {"unreachable", typed.unreachable}});
    } else {
        for (const auto& r : typed.reports) say("{}\n", print_hex(r));
        for (const auto& c : typed.unreachable)
            say("{} has no way to type {}\n", (*layout)->name, in_quotes(c));
    }
    return typed.unreachable.empty() ? fine : bad_answer;
}

struct ReportsQuestion {
    std::string path, profile = "keyboard", descriptor, layout, poll = "8ms";
    bool caps = false;
};

Json event_json(const HostEvent& e) {
    Json j = {{"at_s", e.at.seconds()}, {"kind", word(e.kind)}, {"says", e.says}};
    if (e.usage.page != 0) j["usage"] = {e.usage.page, e.usage.id};
    if (e.kind == HostEventKind::value) j["value"] = e.value;
    return j;
}

Result<ReportDescriptor> descriptor_asked(const ReportsQuestion& q) {
    if (q.descriptor.empty()) {
        const auto p = parse_profile(q.profile);
        if (!p) return fail(usage_error("--profile " + p.error().found, p.error().expected));
        return read_descriptor(descriptor_of(*p));
    }
    const auto bytes = descriptor_bytes({q.descriptor, {}});
    if (!bytes) return fail(bytes.error());
    return read_descriptor(*bytes);
}

int map_reports(const ReportsQuestion& q, bool json) {
    const auto descriptor = descriptor_asked(q);
    if (!descriptor) return report_error(descriptor.error());
    const auto poll = parse_time(q.poll);
    if (!poll || *poll <= Time{})
        return report_error(usage_error("--poll " + in_quotes(q.poll), "a time such as 8ms"));
    const auto data = DataLibrary::load_installed();
    HostOptions options{nullptr, q.caps};
    if (!q.layout.empty()) {
        const auto layout = layout_asked(*data, q.layout);
        if (!layout) return report_error(layout.error());
        options.layout = *layout;
    }
    const auto text = read_input(q.path, 8U << 20U);
    if (!text) return report_error(text.error());
    const auto reports = read_report_dump(*text, q.path, *poll);
    if (!reports) return report_error(reports.error());
    const auto view = host_view(*descriptor, *reports, options);
    if (json) {
        Json events = Json::array(), stuck = Json::array();
        for (const auto& e : view.events) events.push_back(event_json(e));
        for (const auto& u : view.stuck) stuck.push_back({u.page, u.id});
        print_json({{"events", std::move(events)},
                    {"text", view.text},
                    {"stuck", std::move(stuck)},
                    {"rollovers", view.rollovers},
                    {"together", view.together},
                    {"troubles", view.troubles},
                    {"caps", view.caps}});
    } else {
        for (const auto& e : view.events) say("{:>12}  {:<8} {}\n", print(e.at), word(e.kind), e.says);
        if (!view.text.empty()) say("typed: {}\n", view.text);
        for (const auto& u : view.stuck) say("stuck: {}\n", print_usage(u));
    }
    return view.stuck.empty() && view.troubles == 0 ? fine : bad_answer;
}

}  // namespace

void add_map_reports(CLI::App& noun, Session& session) {
    const auto d = std::make_shared<std::pair<std::string, std::string>>();
    auto* v = noun.add_subcommand("descriptor", "a report descriptor, byte by byte");
    v->add_option("--profile", d->first,
                  "keyboard | media | pad:buttons=N,hat=0|1,axes=N | pointer:buttons=N,wheel=0|1")
        ->required();
    v->add_option("--out", d->second, "where to write it: .txt in hexadecimal, else as bytes");
    v->callback([&session, d] {
        session.run = [&session, d] { return map_descriptor(d->first, d->second, session.json); };
    });

    const auto b = std::make_shared<Bytes>();
    v = noun.add_subcommand("descriptor-read", "a report descriptor in words, and what is wrong with it");
    v->add_option("file", b->path, "bytes, or hexadecimal text");
    v->add_option("--hex", b->hex, "\"05 01 …\"");
    v->callback(
        [&session, b] { session.run = [&session, b] { return map_descriptor_read(*b, session.json); }; });

    struct TextQuestion {
        std::string text, layout = "us";
        bool merge = false;
    };
    const auto t = std::make_shared<TextQuestion>();
    v = noun.add_subcommand("text", "the reports that type a text");
    v->add_option("text", t->text, "what is to be typed")->required();
    v->add_option("--layout", t->layout, "that the host is set to; us unless said");
    v->add_flag("--merge", t->merge, "neighbours share the reports of their modifiers");
    v->callback([&session, t] {
        session.run = [&session, t] { return map_text(t->text, t->layout, t->merge, session.json); };
    });

    const auto r = std::make_shared<ReportsQuestion>();
    v = noun.add_subcommand("reports", "what a host understands of a dump of reports");
    v->add_option("file", r->path, "a report a line in hexadecimal, with its time before a colon")
        ->required();
    v->add_option("--profile", r->profile, "that they belong to; keyboard unless said");
    v->add_option("--descriptor", r->descriptor, "a descriptor that they belong to instead");
    v->add_option("--layout", r->layout, "that the host is set to");
    v->add_option("--poll", r->poll, "between reports without a time; 8ms unless said");
    v->add_flag("--caps", r->caps, "the host's caps lock is on");
    v->callback([&session, r] { session.run = [&session, r] { return map_reports(*r, session.json); }; });
}

}  // namespace grayrelic::cli
