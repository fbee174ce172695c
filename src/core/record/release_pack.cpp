// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/record/release_pack.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <set>

#include "core/base/text.hpp"
#include "core/dossier/dossier_files.hpp"
#include "core/dossier/dossier_json.hpp"
#include "core/dossier/edits.hpp"
#include "core/dossier/store.hpp"
#include "core/record/checksum.hpp"
#include "core/record/dossier_lines.hpp"
#include "core/record/revisions.hpp"
#include "core/record/trial_table.hpp"

namespace grayrelic {
namespace {

namespace fs = std::filesystem;

constexpr std::size_t most_file = std::size_t{128} << 20U, most_pack = std::size_t{512} << 20U;

const SourceRight* right_of(const Release& release, const std::string& what) {
    for (const auto& r : release.rights)
        if (r.what == what) return &r;
    return nullptr;
}

/// Of an image: by its id, its name, its file, or all firmware together.
const SourceRight* right_of(const Release& release, const ImageFile& image) {
    for (const auto& what : {image.id, image.name, image.file, std::string("firmware")})
        if (!what.empty())
            if (const auto* r = right_of(release, what)) return r;
    return nullptr;
}

bool may_pass_on(const Release& release, const ImageFile& image) {
    const auto* r = right_of(release, image);
    return r != nullptr && !r->licence.empty();
}

std::vector<std::string> assumed_facts(const Dossier& d) {
    std::vector<std::string> out;
    for (const auto& line : dossier_lines(d))
        if (line.evidence == word(EvidenceKind::assumed) && line.section != "log")
            out.push_back(line.section + ": " + print(line.path) + " = " + shortened(line.value, 80));
    return out;
}

/// What the program's own files are.
std::string says_of(const std::string& name) {
    constexpr std::array<std::pair<std::string_view, std::string_view>, 8> known{
        {{"report.html", "everything to read, with its figures, in one file"},
         {"report.pdf", "the same on paper"},
         {"users-card.pdf", "one page for whoever will use it"},
         {"circuit-sheets.pdf", "the circuit as it was found on the old board"},
         {"wiring-card.pdf", "the cables, from both ends"},
         {"parts.csv", "the parts list"},
         {"trials.csv", "every run at the bench: what was varied, and how it went"},
         {"works-with.csv", "what it was tried with"}}};
    for (const auto& [file, says] : known)
        if (file == name) return std::string(says);
    return "made from the dossier";
}

class Packer {
  public:
    Packer(const Dossier& d, const fs::path& folder, const PrivateWords& words, Progress& progress)
        : d_(d), folder_(folder), words_(words), progress_(progress) {
        out_.problems = missing_in_release(d);
        for (const auto& w : d.log->release.private_words) words_.words.push_back(w);
    }
    Result<ReleasePack> run(const std::vector<PackedFile>& made);

  private:
    void add(std::string name, std::string text, const std::string& says);
    void add_file(const std::string& file, const std::string& title);
    Dossier take_files();
    void look();
    void write_readme();
    void write_licences();
    void write_sums();
    void problem(Verdict v, std::string says, std::string todo, std::string place) {
        out_.problems.push_back({v, std::move(says), std::move(todo), std::move(place)});
    }

    const Dossier& d_;
    const fs::path& folder_;
    PrivateWords words_;
    Progress& progress_;
    ReleasePack out_;
    std::size_t bytes_ = 0;
    std::set<std::string> names_;
    std::vector<std::pair<std::string, std::string>> contents_;  ///< name, and what it is
};

void Packer::add(std::string name, std::string text, const std::string& says) {
    if (const auto bad = outside_problem(name); !bad.empty()) {
        problem(Verdict::stop, "The pack can't hold " + printable(name) + ": " + bad,
                "Give the file a plain name inside the dossier.", name);
        return;
    }
    if (!names_.insert(name).second) return;
    if (text.size() > most_file || bytes_ + text.size() > most_pack) {
        problem(Verdict::doubt,
                fmt::format("{} is left out: the pack would be over {} MiB", name, most_pack >> 20U),
                "Publish it apart.", name);
        return;
    }
    bytes_ += text.size();
    contents_.emplace_back(name, says);
    out_.folder.files.push_back({std::move(name), std::move(text)});
}

void Packer::add_file(const std::string& file, const std::string& title) {
    if (names_.count(file) != 0) return;
    if (const auto bad = outside_problem(file); !bad.empty()) {
        problem(Verdict::stop, "The pack can't hold " + printable(file) + ": " + bad,
                "Give the file a plain name inside the dossier.", file);
        return;
    }
    std::error_code fault;
    const auto root = fs::weakly_canonical(folder_, fault),
               path = fs::weakly_canonical(folder_ / file, fault);
    const auto inside = path.lexically_relative(root);
    if (inside.empty() || *inside.begin() == "..") {
        problem(Verdict::stop, file + " is a link that leads out of the dossier", "Copy the file in.", file);
        return;
    }
    auto text = disk().read(path, most_file);
    if (!text) {
        problem(Verdict::stop, fmt::format("{} can't be read: {}", title, text.error().found),
                "Bring the file back, or take it out of the dossier.", file);
        return;
    }
    add(file, std::move(*text), title);
}

/// The files of all sections, and the dossier without those that stay out.
Dossier Packer::take_files() {
    const auto& release = d_.log->release;
    auto open = edit(public_dossier(d_), &Dossier::log, [&](JobLog& log) {
        for (auto& i : log.images)
            if (!may_pass_on(release, i)) i.file.clear();
    });
    open = visit_files(open, [&](const DossierFile& f) {
        if (!f.outside.empty()) {
            problem(Verdict::doubt, f.title + " is not saved yet and stays out", "Save the dossier first.",
                    f.key);
            f.outside.clear();
        }
        if (progress_.cancelled() || f.file.empty()) return;
        add_file(f.file, f.title);
    });
    for (const auto& f : release.files) {
        if (progress_.cancelled()) break;
        add_file(f.file, f.says.empty() ? f.file : f.says);
    }
    return open;
}

void Packer::look() {
    for (const auto& f : out_.folder.files) {
        if (progress_.cancelled()) return;
        for (const auto& hit : private_things(f.text, f.name, words_, progress_))
            problem(Verdict::stop,
                    fmt::format("{}{}: {} ({})", hit.file,
                                hit.line > 0 ? fmt::format(", line {}", hit.line) : "", hit.what, hit.found),
                    "Take it out, or take the file out of what is published.",
                    hit.line > 0 ? fmt::format("{}:{}", hit.file, hit.line) : hit.file);
    }
}

void Packer::write_readme() {
    const auto& about = *d_.about;
    const auto& release = d_.log->release;
    std::string text = about.name + "\n" + std::string(about.name.size(), '=') + "\n\n";
    if (!about.purpose.empty()) text += about.purpose + "\n\n";
    if (!release.version.empty())
        text += "Version " + release.version + (release.day.empty() ? "" : ", " + release.day) + "\n\n";
    text += "What is here\n------------\n";
    for (const auto& [name, says] : contents_) text += fmt::format("{}\n    {}\n", name, says);
    text += "SHA256SUMS\n    sums of all files; check with: sha256sum -c SHA256SUMS\n";
    std::string missing;
    for (const auto& p : out_.problems)
        if (p.verdict != Verdict::stop) missing += "- " + p.says + "\n";
    if (!missing.empty())
        text += "\nWhat is not known or not here\n-----------------------------\n" + missing;
    const auto assumed = assumed_facts(d_);
    if (!assumed.empty()) {
        text += "\nAssumed, not measured\n---------------------\n";
        for (const auto& a : assumed) text += "- " + a + "\n";
    }
    text +=
        "\nYou build and use it at your own risk. Local rules, and who holds a licence for the work, come "
        "first.\n";
    add("README.txt", std::move(text), "this text");
}

void Packer::write_licences() {
    std::string text = "Licences and credits\n====================\n\n";
    for (const auto& r : d_.log->release.rights)
        text += fmt::format("{}\n    {}{}\n", r.what.empty() ? "all" : r.what,
                            r.licence.empty() ? "licence not known" : r.licence,
                            r.who.empty() ? std::string() : "\n    by " + r.who);
    const auto& plan = *d_.plan;
    for (const auto& w : plan.ways)
        if (w.kind == WayKind::adapt && !w.licence.empty())
            text += fmt::format("{}\n    {}\n", w.says.empty() ? w.id : w.says, w.licence);
    add("LICENCES.txt", std::move(text), "what may be done with it, and whose work it is");
}

void Packer::write_sums() {
    auto& files = out_.folder.files;
    std::sort(files.begin(), files.end(),
              [](const PackedFile& a, const PackedFile& b) { return a.name < b.name; });
    std::string text;
    for (const auto& f : files) text += sha256_of(f.text) + "  " + f.name + "\n";
    files.push_back({"SHA256SUMS", std::move(text)});
}

Result<ReleasePack> Packer::run(const std::vector<PackedFile>& made) {
    for (const auto& m : made) add(m.name, m.text, says_of(m.name));
    const auto open = take_files();
    add("dossier.json", dossier_to_json(open), "the dossier, without what is nobody's business");
    write_licences();
    write_readme();
    look();
    if (progress_.cancelled()) return fail_cancelled();
    write_sums();
    std::stable_sort(out_.problems.begin(), out_.problems.end(),
                     [](const PackProblem& a, const PackProblem& b) {
                         return (a.verdict == Verdict::stop) > (b.verdict == Verdict::stop);
                     });
    return std::move(out_);
}

}  // namespace

Dossier public_dossier(const Dossier& d) {
    auto out = edit(d, &Dossier::supply, [](Supply& s) {
        s.orders.clear();
        for (auto& p : s.parts) {
            p.prices.clear();
            p.supplier.clear();
        }
    });
    out = edit(out, &Dossier::units, [](std::vector<JobUnit>& units) {
        for (auto& u : units) u.worth.reset();
    });
    out = edit(out, &Dossier::plan, [](JobPlan& p) {
        p.respin_money.reset();
        p.tasks.clear();
        p.deadline.clear();
    });
    return edit(out, &Dossier::log, [](JobLog& log) {
        log.places.clear();
        log.money = {};
        log.release.private_words.clear();
    });
}

std::vector<PackProblem> missing_in_release(const Dossier& d) {
    const auto& release = d.log->release;
    std::vector<PackProblem> out;
    const auto add = [&](Verdict v, std::string says, std::string todo, std::string place) {
        out.push_back({v, std::move(says), std::move(todo), std::move(place)});
    };
    const auto need = [&](const char* what, bool wanted) {
        if (!wanted) return;
        const auto* r = right_of(release, what);
        if (r == nullptr || r->licence.empty())
            add(Verdict::stop, fmt::format("Nobody is allowed to use the {}: it has no licence", what),
                "Say under which licence it is passed on.", "rights");
    };
    need("hardware", !d.boards->empty() || !bridge_text(*d.wire, *d.timing).text.empty());
    need("documents", true);
    for (const auto& i : d.log->images) {
        if (i.file.empty())
            add(Verdict::doubt,
                in_quotes(image_name(i)) + " is not kept in the dossier: what ran can't be published",
                "Bring the file in.", "images");
        else if (!may_pass_on(release, i))
            add(Verdict::doubt,
                in_quotes(image_name(i)) + " is left out: nobody said that it may be passed on",
                "Say whose it is and what allows it, or leave it out.", "rights");
        if (i.source.empty() && may_pass_on(release, i))
            add(Verdict::doubt, "Where the source text of " + in_quotes(image_name(i)) + " is, is not said",
                "Say where it is, or add it to the files.", "images");
    }
    for (const auto& r : release.rights)
        if (r.licence.empty() && r.what != "hardware" && r.what != "documents")
            add(Verdict::doubt, "What allows " + in_quotes(r.what) + " to be passed on is not known",
                "Ask its maker, and write the answer down.", "rights");
    for (const auto& w : d.plan->ways)
        if (w.kind == WayKind::adapt && w.licence.empty())
            add(Verdict::doubt,
                "The licence of " + in_quotes(w.says.empty() ? w.id : w.says) + " is not known",
                "Look it up, or ask: without one nothing of it may be passed on.", "ways");
    if (release.version.empty())
        add(Verdict::doubt, "The release has no version",
            "Give it one, so that people can say what they have.", "version");
    for (const auto& c : complaint_states(*d.log))
        if (c.verdict == Verdict::stop || c.verdict == Verdict::doubt)
            add(c.verdict == Verdict::stop ? Verdict::doubt : Verdict::unknown, "Open: " + c.complaint->says,
                c.step, "complaint " + c.complaint->id);
    const auto assumed = assumed_facts(d);
    if (!assumed.empty())
        add(Verdict::unknown,
            plural(static_cast<long long>(assumed.size()), "fact is assumed", "facts are assumed") +
                " and not measured: the readme names them",
            fmt::format("Measure first: {}", assumed.front()), "evidence");
    return out;
}

Result<ReleasePack> make_pack(const Dossier& dossier, const fs::path& folder,
                              const std::vector<PackedFile>& made, const PrivateWords& words,
                              Progress& progress) {
    return Packer(dossier, folder, words, progress).run(made);
}

Status write_pack(const ReleasePack& pack_of, const fs::path& to, FileSystem& files) {
    for (const auto& p : pack_of.problems)
        if (p.verdict == Verdict::stop) return fail_usage(p.says, "a release without a stop: " + p.todo);
    if (to.extension() == ".zip") {
        const auto bytes = pack(pack_of.folder);
        if (!bytes) return fail(bytes.error());
        return write_atomically(files, to, *bytes);
    }
    std::error_code ignored;
    if (fs::exists(to, ignored) && (!fs::is_directory(to, ignored) || !fs::is_empty(to, ignored)))
        return fail_system(to.string(), "something that is there already",
                           "a new or empty folder, or a name.zip");
    for (const auto& f : pack_of.folder.files) {
        const auto path = to / f.name;
        if (auto made = files.make_folder(path.parent_path()); !made) return made;
        if (auto written = write_atomically(files, path, f.text); !written) return written;
    }
    return {};
}

}  // namespace grayrelic
