// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/dossier/journal.hpp"

#include "core/base/long_work.hpp"

#include <fmt/format.h>

#include <cstdlib>
#include <utility>

#include "core/base/text.hpp"
#include "core/dossier/dossier_files.hpp"
#include "core/dossier/dossier_json.hpp"
#include "core/dossier/migrate.hpp"
#include "core/json/json.hpp"
#include "core/json/json_place.hpp"

namespace grayrelic {

// Not in the anonymous namespace: JournalWriter::State holds two.
namespace journalling {

/// A dossier as the journal sees it: captures not yet copied in have a placeholder, and their path beside it.
struct Snapshot {
    SortedJson json;  ///< sorted: a patch adds members in any order, and the sum must not depend on it
    std::string sum;
};

}  // namespace journalling

using journalling::Snapshot;

namespace {

constexpr std::size_t most_journal_bytes = 256U << 20U;
constexpr std::size_t rewrite_bytes = 4U << 20U;  // above, the steps so far become one
constexpr int journal_version = 1;

/// 64 bits of FNV-1a, as hexadecimal: tells states apart, no protection.
std::string sum_of(std::string_view text) {
    std::uint64_t h = 0xCBF29CE484222325ULL;
    for (const char c : text) h = (h ^ static_cast<unsigned char>(c)) * 0x100000001B3ULL;
    return fmt::format("{:016x}", h);
}

Snapshot snapshot(const Dossier& d) {
    SortedJson outside = SortedJson::object();
    const auto plain = visit_files(d, [&](const DossierFile& f) {
        if (f.outside.empty()) return;
        outside[f.key] = std::exchange(f.outside, {});
        if (f.file.empty()) f.file = f.placeholder;
    });
    const auto text = dossier_to_json(plain);
    SortedJson json = {{"dossier", SortedJson::parse(text)}, {"outside", std::move(outside)}};
    return {json, sum_of(json.dump(-1, ' ', false, SortedJson::error_handler_t::replace))};
}

/// The dossier in the form in which the program saw it that wrote this journal: that form's sum stands in it.
/// A journal may have been left behind by a program of an earlier version.
Snapshot as_written(const Snapshot& now, std::string_view journal) {
    for (int version = dossier_version; version >= 1; --version) {
        auto form = now;
        if (version != dossier_version) {
            migrate_back(form.json["dossier"], version);
            form.sum = sum_of(form.json.dump(-1, ' ', false, SortedJson::error_handler_t::replace));
        }
        if (journal.find('"' + form.sum + '"') != std::string_view::npos) return form;
    }
    return now;
}

/// Nested deeper than any dossier: walking it must not use up the stack.
bool too_deep(const SortedJson& json, int left = 96) {
    if (!json.is_structured()) return false;
    if (left == 0) return true;
    for (const auto& child : json)
        if (too_deep(child, left - 1)) return true;
    return false;
}

/// Only what a difference is made of; a copy could double the state with every step.
bool plain_patch(const SortedJson& patch) {
    if (!patch.is_array()) return false;
    for (const auto& op : patch) {
        if (!op.is_object() || !op.contains("op")) return false;
        if (op["op"] != "add" && op["op"] != "remove" && op["op"] != "replace") return false;
    }
    return true;
}

std::string line(const SortedJson& json) {
    return json.dump(-1, ' ', false, SortedJson::error_handler_t::replace) + "\n";
}

Result<Dossier> restore(const SortedJson& state, const std::string& name) {
    auto d = dossier_from_json(state.at("dossier").dump(), name);
    if (!d) return d;
    const auto& outside = state.at("outside");
    return visit_files(*d, [&](const DossierFile& f) {
        const auto path = outside.find(f.key);
        if (path == outside.end() || !path->is_string()) return;
        f.outside = path->get<std::string>();
        if (f.file == f.placeholder) f.file.clear();
    });
}

}  // namespace

Result<std::optional<LeftEdits>> read_journal(const std::filesystem::path& path, const Dossier& base,
                                              FileSystem& files) {
    long_work("read_journal");
    if (!files.exists(path)) return std::optional<LeftEdits>{};
    const auto text = files.read(path, most_journal_bytes);
    if (!text) return fail(text.error());
    const auto name = path.string();
    const auto lines = split(*text, '\n');
    const auto header =
        json_trouble(lines.front()) ? SortedJson() : SortedJson::parse(lines.front(), nullptr, false);
    if (lines.size() < 2 || !header.is_object() || !header.contains("journal") ||
        header["journal"] != journal_version || !header.contains("state") || !header["state"].is_string())
        return fail_at(name, 1, in_quotes(lines.front()), "the first line of an edit journal");

    const auto now = as_written(snapshot(base), *text);
    auto state = now.json;
    // The journal may begin before the dossier's state: saved since, but not yet removed.
    bool met = header["state"].get<std::string>() == now.sum;
    LeftEdits left;
    for (std::size_t i = 1; i + 1 < lines.size(); ++i) {  // behind the last line end stands nothing whole
        const auto step = json_trouble(lines[i]) ? SortedJson() : SortedJson::parse(lines[i], nullptr, false);
        if (!step.is_object() || !step.contains("patch") || !step.contains("sum") ||
            !step["sum"].is_string()) {
            left.trouble = fmt::format("line {} can't be read", i + 1);
            break;
        }
        if (!met) {
            met = step["sum"].get<std::string>() == now.sum;
            continue;
        }
        try {
            auto next = plain_patch(step["patch"]) ? state.patch(step["patch"]) : SortedJson();
            if (too_deep(next)) next = SortedJson();
            if (sum_of(next.dump(-1, ' ', false, SortedJson::error_handler_t::replace)) !=
                step["sum"].get<std::string>()) {
                left.trouble = fmt::format("line {} does not follow from the one before", i + 1);
                break;
            }
            state = next;
            ++left.edits;
        } catch (const SortedJson::exception&) {
            left.trouble = fmt::format("line {} does not fit the dossier", i + 1);
            break;
        }
    }
    if (!met) return fail_at(name, 1, "edits of another state of the dossier", "edits of the one beside it");
    if (!lines.back().empty() && left.trouble.empty())
        left.trouble = fmt::format("line {} was cut off", lines.size());
    if (left.edits == 0 || state == now.json) return std::optional<LeftEdits>{};
    auto d = restore(state, name);
    if (!d) return fail(d.error());
    left.dossier = std::move(*d);
    (void)visit_files(left.dossier, [&](const DossierFile& f) {
        if (!f.outside.empty()) left.outside.push_back(f.outside);
    });
    return std::optional<LeftEdits>(std::move(left));
}

struct JournalWriter::State {
    std::filesystem::path path;
    FileSystem& files;
    std::optional<Dossier> start;  // until the first step makes the base of it, on whatever thread that is
    Snapshot base;
    Snapshot last;
    std::string title;
    std::unique_ptr<FileWriter> writer;  // null before the first step and after a failure
    std::size_t bytes = 0;
    bool failed = false;

    [[nodiscard]] std::string step_to(const Snapshot& from, const Snapshot& to) const {
        return line({{"patch", SortedJson::diff(from.json, to.json)}, {"sum", to.sum}});
    }

    /// A new journal with everything since the base in one step; the old one stays until it is whole.
    Status begin(const Snapshot& next) {
        auto part = path;
        part += ".part";
        writer.reset();
        auto created = files.create(part);
        if (!created) return fail(created.error());
        const auto text =
            line({{"journal", journal_version}, {"state", base.sum}, {"title", title}}) + step_to(base, next);
        auto done = (*created)->write(text);
        if (done) done = (*created)->flush();
        if (done) done = files.rename(part, path);
        if (!done) {
            files.remove(part);
            return done;
        }
        writer = std::move(*created);
        bytes = text.size();
        return files.flush_folder(path.parent_path().empty() ? "." : path.parent_path());
    }
};

JournalWriter::JournalWriter(std::filesystem::path path, Dossier base, FileSystem& files)
    : state_(
          std::make_unique<State>(State{std::move(path), files, std::move(base), {}, {}, {}, {}, 0, false})) {
}

JournalWriter::~JournalWriter() = default;

Status JournalWriter::record(const Dossier& next) {
    auto& s = *state_;
    if (s.start) {
        s.last = s.base = snapshot(*s.start);
        s.start.reset();
    }
    auto now = snapshot(next);
    if (now.sum == s.last.sum && !s.failed) return {};
    s.title = next.about->name;
    Status done;
    // A journal that was taken away with its folder would swallow what is written to it.
    if (!s.writer || s.bytes > rewrite_bytes || !s.files.exists(s.path)) {
        done = s.begin(now);
    } else {
        const auto text = s.step_to(s.last, now);
        s.bytes += text.size();
        done = s.writer->write(text);
        if (done) done = s.writer->flush();
    }
    s.failed = !done;
    if (!done) {
        s.writer.reset();
        return done;
    }
    s.last = std::move(now);
    return {};
}

void JournalWriter::remove() {
    state_->writer.reset();
    state_->files.remove(state_->path);
}

std::filesystem::path unsaved_folder() {
    const char* state = std::getenv("XDG_STATE_HOME");
    if (state != nullptr && *state == '/') return std::filesystem::path(state) / "gray-relic" / "unsaved";
    const char* home = std::getenv("HOME");
    return std::filesystem::path(home != nullptr && *home == '/' ? home : "/tmp") /
           ".local/state/gray-relic/unsaved";
}

}  // namespace grayrelic
