// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/board/board_files.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <set>

#include "core/base/long_work.hpp"
#include "core/base/text.hpp"
#include "core/board/drill_fit.hpp"
#include "core/board/outline.hpp"

namespace grayrelic {
namespace {

Error note_error(const std::string& file, long line, std::string found, std::string expected = {}) {
    Error e;
    e.file = file;
    e.line = line;
    e.found = std::move(found);
    e.expected = std::move(expected);
    return e;
}

bool looks_like_netlist(std::string_view text) {
    // Records of IPC-D-356A: lines that begin with C, P and three digits.
    int records = 0, other = 0;
    for (const auto line : split(text.substr(0, 20'000), '\n')) {
        const auto l = trim(line);
        if (l.empty()) continue;
        const bool coded = l.size() > 26 && (l.starts_with("317") || l.starts_with("327") ||
                                             l.starts_with("367") || l.starts_with("307"));
        if (coded)
            ++records;
        else if (!l.starts_with("C ") && !l.starts_with("P ") && l != "C" && l != "999" &&
                 !(l[0] >= '0' && l[0] <= '9'))
            ++other;
    }
    return records > 0 && other <= records / 10;
}

class Folder {
  public:
    Folder(const PackedFolder& folder, const std::string& name, Progress& progress,
           const RoleCorrections& corrected)
        : folder_(folder), progress_(progress), corrected_(corrected) {
        out_.name = name;
        out_.problems = out_.refused = folder.problems;
    }

    BoardFiles read() {
        for (const auto& file : folder_.files) {
            if (progress_.cancelled()) break;
            take(file);
        }
        settle_drills();
        settle_content();
        doubles();
        std::stable_sort(out_.files.begin(), out_.files.end(), [](const BoardFile& a, const BoardFile& b) {
            return std::pair(static_cast<int>(a.role), a.inner) <
                   std::pair(static_cast<int>(b.role), b.inner);
        });
        // Unknown ones stand last.
        std::stable_partition(out_.files.begin(), out_.files.end(),
                              [](const BoardFile& f) { return f.role != FileRole::unknown; });
        return std::move(out_);
    }

  private:
    void problem(const Error& e) { out_.problems.push_back(e); }

    void take(const PackedFile& packed) {
        BoardFile f;
        f.name = packed.name;
        const auto it = corrected_.find(packed.name);
        if (it != corrected_.end()) {
            f.role = it->second;
            f.from = RoleFrom::person;
        }
        if (looks_like_drill(packed.text)) {
            auto drill = read_drill(packed.text, packed.name);
            if (!drill) return refuse(f, drill.error());
            if (f.from == RoleFrom::nothing) role_of_drill(f, *drill);
            f.drill = std::make_shared<const DrillFile>(std::move(*drill));
        } else if (looks_like_gerber(packed.text)) {
            auto layer = read_gerber(packed.text, packed.name, progress_);
            if (!layer) return refuse(f, layer.error());
            for (const auto& n : layer->notes) problem(note_error(packed.name, n.line, n.text));
            if (f.from == RoleFrom::nothing) role_of_layer(f, *layer);
            if (f.role == FileRole::drill_plated || f.role == FileRole::drill_plain) {
                f.drill = std::make_shared<const DrillFile>(
                    holes_of_layer(*layer, f.role == FileRole::drill_plated));
            } else {
                f.layer = std::make_shared<const GerberLayer>(std::move(*layer));
                check_polarity(f);
            }
        } else if (looks_like_netlist(packed.text)) {
            auto list = read_netlist(packed.text, packed.name);
            if (!list) return refuse(f, list.error());
            f.role = FileRole::netlist;
            f.from = RoleFrom::content;
            f.netlist = std::make_shared<const Netlist>(std::move(*list));
        } else {
            take_other(f, packed);
            return;
        }
        out_.files.push_back(std::move(f));
    }

    void refuse(BoardFile& f, const Error& error) {
        problem(error);
        out_.refused.push_back(error);
        if (f.from == RoleFrom::nothing) f.role = role_of_name(f.name, false, f.inner);
        out_.files.push_back(std::move(f));
    }

    /// What is neither: said only where its name claims to be a layer.
    void take_other(BoardFile& f, const PackedFile& packed) {
        int inner = 0;
        const auto dot = packed.name.find_last_of('.');
        auto ending = dot == std::string::npos ? std::string() : packed.name.substr(dot + 1);
        for (auto& c : ending) c = static_cast<char>(c >= 'A' && c <= 'Z' ? c + 32 : c);
        static const std::set<std::string> layers{"gbr", "ger", "gb",  "art", "pho", "drl",
                                                  "xln", "exc", "drd", "nc",  "tap", "gdo"};
        const bool claims =
            layers.count(ending) != 0 || (ending.starts_with('g') && ending.size() == 3 &&
                                          role_of_name(packed.name, false, inner) != FileRole::unknown);
        f.role = claims ? FileRole::unknown : FileRole::text;
        if (claims) {
            problem(note_error(
                packed.name, 1,
                trim(packed.text).empty() ? "an empty file"
                                          : "a file that is neither a layer nor a drill file",
                "a layer in the Gerber format, X2 or RS-274X, or a drill file in Excellon's format or XNC"));
            out_.refused.push_back(out_.problems.back());
        }
        f.from = claims ? RoleFrom::nothing : RoleFrom::content;
        out_.files.push_back(std::move(f));
    }

    void role_of_drill(BoardFile& f, DrillFile& drill) {
        int inner = 0;
        if (drill.plated) {
            f.role = *drill.plated ? FileRole::drill_plated : FileRole::drill_plain;
            f.from = RoleFrom::attribute;
        } else {
            f.role = role_of_name(f.name, true, inner);
            f.from = RoleFrom::name;
            if (f.role == FileRole::drill_plain)
                for (auto& h : drill.holes)
                    if (!drill.tools[h.tool].plated) h.plated = false;
        }
        for (const auto& n : drill.notes) problem(note_error(f.name, n.line, n.text));
    }

    static void role_of_layer(BoardFile& f, const GerberLayer& layer) {
        const auto it = layer.attributes.find(".FileFunction");
        if (it != layer.attributes.end()) {
            f.role = role_of_function(it->second, f.inner);
            if (f.role != FileRole::unknown) {
                f.from = RoleFrom::attribute;
                return;
            }
        }
        f.role = role_of_name(f.name, false, f.inner);
        if (f.role != FileRole::unknown) f.from = RoleFrom::name;
    }

    void check_polarity(const BoardFile& f) {
        const auto it = f.layer->attributes.find(".FilePolarity");
        if (it == f.layer->attributes.end() || it->second != "Negative") return;
        if (is_copper(f.role) || f.role == FileRole::silk_top || f.role == FileRole::silk_bottom)
            problem(note_error(f.name, 0, "a layer of negative polarity",
                               "a positive one: what is drawn here is what is missing, and is not judged"));
    }

    [[nodiscard]] std::vector<BoardXY> pads() const {
        std::vector<BoardXY> out;
        for (const auto& f : out_.files)
            if (f.layer && (is_copper(f.role) || f.role == FileRole::unknown))
                for (const auto& o : f.layer->objects)
                    if (o.kind == GerberObject::Kind::flash && o.dark) out.push_back(o.to);
        return out;
    }
    [[nodiscard]] Extent around() const {
        Extent e;
        for (const auto& f : out_.files)
            if (f.layer) e.add(f.layer->extent());
        return e.empty() ? e : e.grown(from_mm(2));
    }

    /// A drill file whose digits are cut without its saying how: held against the pads.
    void settle_drills() {
        const auto places = pads();
        const auto box = around();
        for (auto& f : out_.files) {
            if (!f.drill || !f.drill->format_guessed) continue;
            const auto packed = std::find_if(folder_.files.begin(), folder_.files.end(),
                                             [&](const auto& p) { return p.name == f.name; });
            const HoleFit fit(places, box);
            // What the format means where nothing is said is right where the holes lie on pads.
            const auto now = places.empty() || box.empty() ? std::nullopt : fit.share(*f.drill);
            if (now && *now >= 0.9) continue;
            const auto fitting = places.empty() || box.empty()
                                     ? std::nullopt
                                     : fitting_digits(packed->text, f.name, *f.drill, fit);
            DrillOptions options;
            options.digits = fitting;
            auto again = read_drill(packed->text, f.name, options);
            if (!again) continue;
            if (f.role == FileRole::drill_plain)
                for (auto& h : again->holes)
                    if (!again->tools[h.tool].plated) h.plated = false;
            if (fitting)
                problem(note_error(
                    f.name, 1,
                    fmt::format("coordinates without a stated format: read as {}.{} {}, with which the holes "
                                "lie on pads",
                                fitting->whole, fitting->decimals,
                                fitting->leading_kept ? "with leading zeros" : "with trailing zeros")));
            else
                problem(note_error(
                    f.name, 1,
                    fmt::format("coordinates without a stated format, read as {}", f.drill->format),
                    "METRIC or INCH with LZ or TZ, or decimal points: check the holes' places"));
            f.drill = std::make_shared<const DrillFile>(std::move(*again));
        }
    }

    /// Layers that neither attribute nor name tells.
    void settle_content() {
        for (auto& f : out_.files) {
            if (f.role != FileRole::unknown || !f.layer || f.layer->objects.empty()) continue;
            const bool has_outline = out_.find(FileRole::outline) != nullptr;
            if (!has_outline && is_outline(*f.layer)) {
                f.role = FileRole::outline;
                f.from = RoleFrom::content;
                continue;
            }
            problem(note_error(
                f.name, 0, "a layer of unknown role",
                "a name such as copper-top, mask-bottom or outline, or the attribute .FileFunction"));
        }
    }

    /// Only lines that close, about everything else.
    [[nodiscard]] bool is_outline(const GerberLayer& layer) const {
        for (const auto& o : layer.objects)
            if (o.kind == GerberObject::Kind::flash || o.kind == GerberObject::Kind::region ||
                layer.apertures[o.aperture].least() > 0.6e6)
                return false;
        const auto outline = outline_of(layer);
        if (outline.outer.empty() || !outline.gaps.empty()) return false;
        Extent others;
        for (const auto& f : out_.files)
            if (f.layer && f.layer.get() != &layer && is_copper(f.role)) others.add(f.layer->extent());
        const auto own = extent_of(outline.outer).grown(from_mm(0.5));
        return others.empty() || (own.left <= others.left && own.right >= others.right &&
                                  own.bottom <= others.bottom && own.top >= others.top);
    }

    void doubles() {
        std::map<FileRole, const BoardFile*> seen;
        for (const auto& f : out_.files) {
            if (f.role == FileRole::unknown || f.role == FileRole::text || f.role == FileRole::netlist ||
                f.role == FileRole::copper_inner || f.drill)
                continue;
            const auto [it, fresh] = seen.emplace(f.role, &f);
            if (!fresh)
                problem(note_error(
                    f.name, 0,
                    fmt::format("a second layer {} beside {}", word(f.role), printable(it->second->name)),
                    "each role once: the first is taken"));
        }
    }

    const PackedFolder& folder_;
    Progress& progress_;
    const RoleCorrections& corrected_;
    BoardFiles out_;
};

}  // namespace

std::size_t BoardFile::objects() const {
    if (layer) return layer->objects.size();
    if (drill) return drill->holes.size();
    if (netlist) return netlist->places.size();
    return 0;
}

const BoardFile* BoardFiles::find(FileRole role) const {
    for (const auto& f : files)
        if (f.role == role && (f.layer || f.drill || f.netlist)) return &f;
    return nullptr;
}

std::vector<const BoardFile*> BoardFiles::coppers() const {
    std::vector<const BoardFile*> out;
    if (const auto* top = find(FileRole::copper_top)) out.push_back(top);
    for (const auto& f : files)
        if (f.role == FileRole::copper_inner && f.layer) out.push_back(&f);
    if (const auto* bottom = find(FileRole::copper_bottom)) out.push_back(bottom);
    return out;
}

std::vector<const BoardFile*> BoardFiles::drills() const {
    std::vector<const BoardFile*> out;
    for (const auto& f : files)
        if (f.drill) out.push_back(&f);
    return out;
}

BoardFiles board_of(const PackedFolder& folder, const std::string& name, Progress& progress,
                    const RoleCorrections& corrected) {
    long_work("board_of");
    return Folder(folder, name, progress, corrected).read();
}

Result<BoardFiles> read_board(const std::filesystem::path& path, Progress& progress,
                              const RoleCorrections& corrected) {
    auto folder = read_packed(path, progress);
    if (!folder) return fail(folder.error());
    auto out = board_of(*folder, path.string(), progress, corrected);
    if (progress.cancelled()) return fail_cancelled();
    const bool any = std::any_of(out.files.begin(), out.files.end(),
                                 [](const BoardFile& f) { return f.layer || f.drill; });
    if (!any && out.problems.empty())
        return fail_at(path.string(), 0, "no layer and no drill file",
                       "fabrication files of a board: Gerber layers, drill files");
    return out;
}

}  // namespace grayrelic
