// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/log_answers.hpp"

#include <fmt/format.h>
#include <fmt/ranges.h>

#include <map>
#include <memory>

#include "cli/input.hpp"
#include "cli/output.hpp"
#include "core/base/date.hpp"
#include "core/base/folder_lock.hpp"
#include "core/base/text.hpp"
#include "core/dossier/dossier_files.hpp"
#include "core/dossier/edits.hpp"
#include "core/dossier/journal.hpp"
#include "core/dossier/store.hpp"
#include "core/job/job_money.hpp"
#include "core/plan/plan_analysis.hpp"
#include "core/record/checksum.hpp"
#include "core/record/cover_study.hpp"
#include "core/record/log_analysis.hpp"
#include "core/record/release_pack.hpp"
#include "core/record/revisions.hpp"
#include "core/record/unit_history.hpp"
#include "core/report/user_card.hpp"
#include "core/wire/device_values.hpp"
#include "render/pdf.hpp"
#include "render/release_files.hpp"

namespace grayrelic::cli {
namespace {

struct AnswerArguments {
    std::string path, file, out, source, day, unit;
};

constexpr std::size_t most_merged = std::size_t{4} << 20U;

Json names_json(const std::vector<std::string>& names) {
    return names;
}

int coverage(const AnswerArguments& args, bool json) {
    const auto a = analyse_dossier(args.path);
    if (!a) return report_error(a.error());
    const auto& d = (*a)->dossier;
    const auto study = study_cover(d.log->items);
    Json items = Json::array(), functions = Json::array();
    bool bad = false;
    for (const auto& s : study.items) {
        Json values = Json::array();
        for (const auto& v : device_values(*s.item, (*a)->wire.get(), *d.map))
            values.push_back(
                {{"what", v.what}, {"value", v.value}, {"verdict", word(v.verdict)}, {"why", v.why}});
        bad = bad || s.outcome == TrialOutcome::fails || s.outcome == TrialOutcome::partly;
        if (!json)
            say("{:8}  {}{}{}\n", word(s.outcome), s.item->name.empty() ? s.item->id : s.item->name,
                s.source.empty() ? "" : "  (" + s.source + ")",
                s.says_otherwise.empty() ? "" : fmt::format("  but {}", fmt::join(s.says_otherwise, "; ")));
        items.push_back({{"item", s.item->id},
                         {"name", s.item->name},
                         {"kind", word(s.item->kind)},
                         {"outcome", word(s.outcome)},
                         {"source", s.source},
                         {"otherwise", s.says_otherwise},
                         {"computed", values}});
    }
    for (const auto& f : study.functions)
        functions.push_back({{"function", f.name},
                             {"works_in", f.works_in},
                             {"glitches_in", f.glitches_in},
                             {"untried_in", f.untried_in}});
    if (json)
        print_json({{"items", items},
                    {"functions", functions},
                    {"common", names_json(study.common)},
                    {"together", study.together},
                    {"unexplained", names_json(study.unexplained)},
                    {"next", study.next.empty() ? Json() : Json(study.next)},
                    {"shows_all", names_json(study.shows_all)},
                    {"why", study.why}});
    else {
        if (!study.why.empty()) say("{}\n", study.why);
        if (!study.next.empty()) say("next: {}\n", study.next);
        say("shows each function: {}\n", fmt::join(study.shows_all, ", "));
    }
    return bad ? bad_answer : fine;
}

int merge(const AnswerArguments& args, bool json) {
    const auto folder = dossier_folder(args.path);
    if (args.source.empty()) return report_error(usage_error("no --source", "who found it out"));
    if (!args.day.empty() && !parse_day(args.day))
        return report_error(usage_error(in_quotes(args.day), "a day such as 2026-11-29"));
    const auto text = disk().read(args.file, most_merged);
    if (!text) return report_error(text.error());
    const auto more = cover_from_csv(*text, args.file);
    if (!more) return report_error(more.error());
    const FolderLock lock(folder / lock_file);
    if (lock.state() == FolderLock::State::busy)
        return report_error({Error::Kind::system, folder.string(), 0, "a dossier that is open in a window",
                             "one that nobody has open"});
    const auto d = load_dossier(folder);
    if (!d) return report_error(d.error());
    const auto before = d->log->items.size();
    const auto merged = edit(*d, &Dossier::log, [&](JobLog& log) {
        log.items = merge_cover(log.items, *more, args.source, args.day);
    });
    if (auto written = write_dossier(merged, folder); !written) return report_error(written.error());
    if (json)
        print_json({{"items", merged.log->items.size()}, {"added", merged.log->items.size() - before}});
    else
        say("{} new, {} in all\n", merged.log->items.size() - before, merged.log->items.size());
    return fine;
}

int complaints(const AnswerArguments& args, bool json) {
    const auto a = analyse_dossier(args.path);
    if (!a) return report_error(a.error());
    const auto& d = (*a)->dossier;
    Json list = Json::array(), bodges = Json::array(), stock = Json::array();
    bool open = false;
    for (const auto& s : complaint_states(*d.log)) {
        const auto& c = *s.complaint;
        open = open || s.verdict == Verdict::stop;
        list.push_back({{"id", c.id},
                        {"kind", word(c.kind)},
                        {"says", c.says},
                        {"verdict", word(s.verdict)},
                        {"next", s.step},
                        {"closed", c.closed.value},
                        {"evidence", word(c.closed.evidence.kind)}});
        if (!json) say("{:8} {}: {}{}\n", word(s.verdict), c.id, c.says, s.step.empty() ? "" : "; " + s.step);
    }
    for (const auto& b : bodge_states(d)) {
        open = open || b.is_open();
        bodges.push_back(
            {{"unit", b.unit}, {"what", b.what}, {"carried", b.carried}, {"left_out", b.left_out}});
        if (!json)
            say("by hand on {}: {}; {}\n", b.unit, b.what,
                b.is_open()         ? "not in the next files yet"
                : b.carried.empty() ? "stays out: " + b.left_out
                                    : "carried by " + b.carried);
    }
    for (const auto& s : useless_stock(d, (*a)->plan->parts)) {
        stock.push_back({{"what", s.what},
                         {"count", s.count},
                         {"money", s.money ? Json(*s.money) : Json()},
                         {"why", s.why}});
        if (!json) say("useless now: {} × {}: {}\n", s.count, s.what, s.why);
    }
    if (json) print_json({{"complaints", list}, {"bodges", bodges}, {"obsolete", stock}});
    return open ? bad_answer : fine;
}

int units(const AnswerArguments& args, bool json) {
    const auto a = analyse_dossier(args.path);
    if (!a) return report_error(a.error());
    const auto& d = (*a)->dossier;
    if (!args.unit.empty() && d.find_unit(args.unit) == nullptr)
        return report_error(usage_error("the unit " + in_quotes(args.unit), "a unit of the dossier"));
    Json list = Json::array(), images = Json::array();
    bool bad = false;
    for (const auto& h : unit_histories(d)) {
        if (!args.unit.empty() && h.unit->id != args.unit) continue;
        Json events = Json::array();
        if (!json)
            say("{}: {}{}{}\n", h.unit->id, word(h.unit->state), h.where.empty() ? "" : ", " + h.where,
                h.image.empty() ? "" : ", runs " + h.image);
        for (const auto& e : h.events) {
            events.push_back({{"day", e.day}, {"kind", e.kind}, {"says", e.says}});
            if (!json) say("   {:10} {}: {}\n", e.day, e.kind, e.says);
        }
        list.push_back({{"unit", h.unit->id},
                        {"state", word(h.unit->state)},
                        {"where", h.where},
                        {"image", h.image},
                        {"reflows", h.reflows},
                        {"minutes", h.minutes},
                        {"trials", h.trials},
                        {"failed", h.failed},
                        {"joints_before_reflow", h.joints_before_reflow},
                        {"events", events}});
    }
    for (const auto& s : image_states(d, (*a)->log->sums)) {
        bad = bad || s.verdict == Verdict::stop;
        images.push_back({{"image", s.image->id},
                          {"version", s.image->version},
                          {"sha256", s.image->sha256},
                          {"units", s.units},
                          {"trials", s.trials},
                          {"verdict", word(s.verdict)},
                          {"says", s.says}});
        if (!json) say("{} {}: {}\n", s.image->id, s.image->version, s.says);
    }
    if (json) print_json({{"units", list}, {"images", images}});
    return bad ? bad_answer : fine;
}

Json break_json(const BreakEven& b) {
    return {{"first", b.first ? Json(*b.first) : Json()},
            {"for_good", b.for_good ? Json(*b.for_good) : Json()}};
}

int money(const AnswerArguments& args, bool json) {
    const auto a = analyse_dossier(args.path);
    if (!a) return report_error(a.error());
    const auto study = job_costs(**a);
    const auto hours = job_hours(**a, outlook(**a, std::nullopt).tasks);
    Json entries = Json::array(), rows = Json::array(), tasks = Json::array();
    for (const auto& e : study.entries) {
        entries.push_back({{"what", e.says},
                           {"kind", word(e.kind)},
                           {"per", word(e.per)},
                           {"money", e.money},
                           {"from", e.from}});
        if (!json) say("{:10.2f} {:6} {} ({})\n", e.money, word(e.per), e.says, e.from);
    }
    for (const auto& r : study.rows) {
        rows.push_back({{"quantity", r.quantity},
                        {"begun", r.begun},
                        {"batches", r.batches},
                        {"cost", r.cost},
                        {"each", r.each},
                        {"profit", r.profit ? Json(*r.profit) : Json()},
                        {"hours", r.hours ? Json(*r.hours) : Json()}});
        if (!json)
            say("{:5} that work: {:5} begun, {:10.2f}, {:8.2f} each\n", r.quantity, r.begun, r.cost, r.each);
    }
    for (const auto& t : hours.tasks)
        tasks.push_back({{"task", t.task},
                         {"estimated_hours", t.estimated ? Json(*t.estimated) : Json()},
                         {"spent_hours", t.spent},
                         {"done", t.done}});
    if (json) {
        print_json({{"entries", entries},
                    {"once", study.once},
                    {"per_batch", study.per_batch},
                    {"per_piece", study.per_piece},
                    {"batch", study.batch},
                    {"yield", study.yield},
                    {"rows", rows},
                    {"pays", break_json(study.pays)},
                    {"below_original", break_json(study.below_original)},
                    {"below_ready_made", break_json(study.below_ready)},
                    {"tasks", tasks},
                    {"hours_factor", hours.factor ? Json(*hours.factor) : Json()},
                    {"missing", study.missing},
                    {"says", study.says}});
        return fine;
    }
    say("{}\n", study.says);
    for (const auto& m : study.missing) say("not known: {}\n", m);
    if (hours.factor) say("what is done took {:.2g} times as long as estimated\n", *hours.factor);
    return fine;
}

int release(const AnswerArguments& args, bool json) {
    const auto a = analyse_dossier(args.path);
    if (!a) return report_error(a.error());
    const auto& d = (*a)->dossier;
    std::vector<PackProblem> problems = missing_in_release(d);
    std::size_t files = 0;
    bool written = false;
    if (!args.out.empty()) {
        if (const auto free = not_over(args.out, d, args.path); !free) return report_error(free.error());
        const render::HeadlessGui gui;
        Progress progress;
        const auto made = render::release_files(**a, progress);
        if (!made) return report_error(made.error());
        const auto pack = make_pack(d, dossier_folder(args.path), *made, words_of_machine(), progress);
        if (!pack) return report_error(pack.error());
        problems = pack->problems;
        files = pack->folder.files.size();
        if (pack->may_go()) {
            if (auto done = write_pack(*pack, args.out, disk()); !done) return report_error(done.error());
            written = true;
        }
    }
    bool stops = false;
    Json list = Json::array();
    for (const auto& p : problems) {
        stops = stops || p.verdict == Verdict::stop;
        list.push_back({{"verdict", word(p.verdict)}, {"says", p.says}, {"do", p.todo}, {"place", p.place}});
        if (!json) say("{:8} {}: {}\n", word(p.verdict), p.says, p.todo);
    }
    if (json)
        print_json({{"written", written}, {"files", files}, {"problems", list}});
    else if (!args.out.empty())
        say("{}\n", written ? fmt::format("{}: {} files", args.out, files) : "not written: see the stops");
    return stops ? bad_answer : fine;
}

int card(const AnswerArguments& args, bool json) {
    const auto a = analyse_dossier(args.path);
    if (!a) return report_error(a.error());
    if (const auto free = not_over(args.out, (*a)->dossier, args.path); !free)
        return report_error(free.error());
    const auto made = user_card(**a);
    if (!made) return report_error(made.error());
    const render::HeadlessGui gui;
    const auto written = render::write_card(*made, args.out, (*a)->dossier.about->name);
    if (!written) return report_error(written.error());
    if (json)
        print_json({{"file", args.out}, {"pages", made->pages.size()}});
    else
        say("{}\n", args.out);
    return fine;
}

}  // namespace

std::vector<DossierChange> all_changes(const Dossier& a, const std::filesystem::path& folder_a,
                                       const Dossier& b, const std::filesystem::path& folder_b) {
    auto out = diff_dossiers(a, b);
    const auto sums = [](const Dossier& d, const std::filesystem::path& folder) {
        std::map<std::string, std::string> found;
        Progress progress;
        (void)visit_files(d, [&](const DossierFile& f) {
            if (f.file.empty()) return;
            const auto sum = sha256_of_file(folder / f.file, progress);
            found[f.file] = sum ? *sum : std::string("can't be read");
        });
        return found;
    };
    const auto before = sums(a, folder_a), after = sums(b, folder_b);
    for (const auto& [file, sum] : before) {
        const auto other = after.find(file);
        if (other != after.end() && other->second != sum) out.push_back({"files", file, sum, other->second});
    }
    return out;
}

void add_log_answers(CLI::App& noun, Session& session) {
    const auto args = std::make_shared<AnswerArguments>();
    const auto verb = [&](const char* name, const char* about, int (*run)(const AnswerArguments&, bool)) {
        auto* v = noun.add_subcommand(name, about);
        v->add_option("dossier", args->path)->required();
        v->callback([&session, args, run] {
            session.run = [&session, args, run] { return run(*args, session.json); };
        });
        return v;
    };
    verb("coverage", "what works with what, and the function that is behind the glitches", coverage);
    auto* v = verb("merge", "takes in what somebody else found out, from CSV", merge);
    v->add_option("file", args->file)->required();
    v->add_option("--source", args->source, "who found it out");
    v->add_option("--day", args->day, "when");
    verb("complaints", "complaints and what closes them, changes by hand, useless stock", complaints);
    v = verb("units", "what happened to each unit, and which image it runs", units);
    v->add_option("--unit", args->unit);
    verb("money", "what it costs, for one and for many, and when it pays", money);
    v = verb("release", "what is missing before it is published; with OUT the pack", release);
    v->add_option("out", args->out, "a name.zip, or a new folder");
    v = verb("card", "one page for whoever will use it", card);
    v->add_option("out", args->out, "a .pdf, .svg or .png")->required();
}

}  // namespace grayrelic::cli
