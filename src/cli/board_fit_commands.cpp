// SPDX-License-Identifier: GPL-3.0-or-later
// gray-relic-cli board fit, order: does it fit, how many to order
#include <fmt/format.h>

#include <memory>

#include "cli/command.hpp"
#include "cli/output.hpp"
#include "core/base/decimal.hpp"
#include "core/base/file_system.hpp"
#include "core/base/text.hpp"
#include "core/board/outline_file.hpp"
#include "core/fit/stack.hpp"
#include "core/json/json.hpp"
#include "core/plan/board_order.hpp"
#include "core/report/paper_template.hpp"
#include "render/pdf.hpp"

namespace grayrelic::cli {
namespace {

constexpr std::size_t most_list_bytes = 4U << 20U;

struct FitArguments {
    std::string stack, tiers, board, out, side, paper, room, turn, at, size;
    int want = 0;
    double yield = 0, respin = 0;
};

int fit(const FitArguments& a, bool json) {
    const auto text = disk().read(a.stack, most_list_bytes);
    if (!text) return report_error(text.error());
    const auto items = read_stack(*text, a.stack);
    if (!items) return report_error(items.error());
    const auto room = room_of(*items);
    if (json)
        print_json({{"nominal_mm", room.nominal_mm},
                    {"worst_min_mm", room.worst_min_mm},
                    {"worst_max_mm", room.worst_max_mm},
                    {"rss_min_mm", room.rss_min_mm},
                    {"rss_max_mm", room.rss_max_mm},
                    {"verdict", word(room.verdict)}});
    else
        say("{}: {:.2f} mm left, {:.2f} to {:.2f} in the worst case, {:.2f} to {:.2f} by root-sum-square\n",
            word(room.verdict), room.nominal_mm, room.worst_min_mm, room.worst_max_mm, room.rss_min_mm,
            room.rss_max_mm);
    return room.verdict == Verdict::stop ? bad_answer : fine;
}

Json row_json(const OrderRow& r) {
    return {{"quantity", r.quantity},
            {"cost", r.cost},
            {"expected_working", r.expected_working},
            {"chance_of_want", r.chance_of_want},
            {"per_working", r.per_working}};
}

int order(const FitArguments& a, bool json) {
    if (a.want < 1) return report_error(usage_error(fmt::format("--want {}", a.want), "1 or more boards"));
    if (!(a.yield > 0 && a.yield <= 1))
        return report_error(usage_error(fmt::format("--yield {:g}", a.yield), "a share above 0, at most 1"));
    if (!(a.respin >= 0 && a.respin <= 1))
        return report_error(usage_error(fmt::format("--respin {:g}", a.respin), "a chance from 0 to 1"));
    const auto text = disk().read(a.tiers, most_list_bytes);
    if (!text) return report_error(text.error());
    const auto tiers = read_tiers(*text, a.tiers);
    if (!tiers) return report_error(tiers.error());
    auto fitting = *tiers;
    if (!a.size.empty()) {
        const auto by = a.size.find('x');
        const auto w = decimal_number(std::string_view(a.size).substr(0, by), '.');
        const auto h = by == std::string::npos ? std::nullopt
                                               : decimal_number(std::string_view(a.size).substr(by + 1), '.');
        if (!w || !h || *w <= 0 || *h <= 0)
            return report_error(usage_error("--size " + a.size, "millimetres such as 80x60"));
        const auto takes = [](double size, double most) { return most <= 0 || size <= most; };
        std::erase_if(fitting, [&](const BoardTier& t) {
            return !(takes(*w, t.width_mm) && takes(*h, t.height_mm)) &&
                   !(takes(*h, t.width_mm) && takes(*w, t.height_mm));
        });
    }
    const auto found = order_boards(fitting, a.want, a.yield, a.respin);
    if (json) {
        Json rows = Json::array();
        for (const auto& r : found.rows) rows.push_back(row_json(r));
        Json best = nullptr;
        if (found.best) {
            const auto& r = found.rows[*found.best];
            best = {{"quantity", r.quantity}, {"cost", r.cost}, {"per_working", r.per_working}};
        }
        print_json({{"best", best}, {"rows", rows}});
    } else {
        std::vector<std::vector<std::string>> table{{"boards", "cost", "working", "chance", "a working one"}};
        for (const auto& r : found.rows)
            table.push_back({fmt::format("{}", r.quantity), fmt::format("{:.2f}", r.cost),
                             fmt::format("{:.1f}", r.expected_working),
                             fmt::format("{:.0f} %", 100 * r.chance_of_want),
                             fmt::format("{:.2f}", r.per_working)});
        print_table(table);
        if (found.best)
            say("order {}\n", found.rows[*found.best].quantity);
        else
            say("no tier gives {} working ones with a chance of 90 %\n", a.want);
    }
    return found.best ? fine : bad_answer;
}

int inside(const FitArguments& a, bool json) {
    InsideQuestion q;
    if (!a.turn.empty()) {
        const auto turn = decimal_number(a.turn, '.');
        if (!turn || (*turn != 0 && *turn != 90 && *turn != 180 && *turn != 270))
            return report_error(usage_error("--turn " + a.turn, "0, 90, 180 or 270"));
        q.turn_deg = static_cast<int>(*turn);
    }
    if (!a.at.empty()) {
        const auto comma = a.at.find(',');
        const auto x = decimal_number(std::string_view(a.at).substr(0, comma), '.');
        const auto y = comma == std::string::npos
                           ? std::nullopt
                           : decimal_number(std::string_view(a.at).substr(comma + 1), '.');
        if (!x || !y || std::abs(*x) > widest_mm || std::abs(*y) > widest_mm)
            return report_error(usage_error("--at " + a.at, "millimetres such as 2.5,3"));
        q.shift = BoardXY{from_mm(*x), from_mm(*y)};
    }
    const auto text = disk().read(a.room, most_list_bytes * 8);
    if (!text) return report_error(text.error());
    const auto room = read_outline(*text, a.room);
    if (!room) return report_error(room.error());
    for (const auto& r : room->remarks) say(stderr, "{}: {}\n", printable(a.room), r);
    Progress progress;
    const auto board = read_board(a.board, progress);
    if (!board) return report_error(board.error());
    const auto edge = outline_of(*board);
    if (!edge.known())
        return report_error(
            fail_at(a.board, 0, "no outline that closes", "the board's edge as closed lines").value());
    const auto answer = lies_inside(edge.outer, room->outline, q);
    const auto verdict = answer.inside ? Verdict::holds : Verdict::stop;
    const auto size = extent_of(room->outline.outer);
    if (json)
        print_json({{"inside", answer.inside},
                    {"least_mm", answer.least_mm},
                    {"x_mm", to_mm(answer.at.x)},
                    {"y_mm", to_mm(answer.at.y)},
                    {"turn_deg", answer.turn_deg},
                    {"room_mm", Json::array({to_mm(size.width()), to_mm(size.height())})},
                    {"cutouts", room->outline.cutouts.size()},
                    {"verdict", word(verdict)}});
    else
        say("{}: {} {:.2f} mm at {:.2f}, {:.2f}, turned by {} deg\n", word(verdict),
            answer.inside ? "inside, at the least" : "stands out by", std::abs(answer.least_mm),
            to_mm(answer.at.x), to_mm(answer.at.y), answer.turn_deg);
    return answer.inside ? fine : bad_answer;
}

int paper(const FitArguments& a, bool json) {
    TemplateWish wish;
    if (!a.side.empty() && a.side != "top" && a.side != "bottom")
        return report_error(usage_error("the side " + in_quotes(a.side), "top or bottom"));
    if (!a.paper.empty() && a.paper != "a4" && a.paper != "letter")
        return report_error(usage_error("the paper " + in_quotes(a.paper), "a4 or letter"));
    wish.back = a.side == "bottom";
    if (a.paper == "letter") wish.paper = Paper::letter;
    wish.title = std::filesystem::path(a.board).filename().string();
    Progress progress;
    const auto read = read_whole_board(a.board, {}, progress);
    if (!read) return report_error(read.error());
    const auto ending = std::filesystem::path(a.out).extension();
    if (ending != ".pdf" && ending != ".svg" && ending != ".png")
        return report_error(usage_error(in_quotes(a.out), "a file that ends in .pdf, .svg or .png"));
    const auto card = paper_template(*read, wish);
    if (!card) return report_error(card.error());
    const render::HeadlessGui gui;
    if (const auto done = render::write_card(*card, a.out, wish.title); !done)
        return report_error(done.error());
    if (json)
        print_json(
            {{"pages", card->pages.size()}, {"width_mm", card->width_mm}, {"height_mm", card->height_mm}});
    else
        say("{}: print it at 100 %\n", printable(a.out));
    return fine;
}

}  // namespace

void add_board_fit_commands(CLI::App& board, Session& session) {
    auto a = std::make_shared<FitArguments>();
    auto* fit_verb = board.add_subcommand("fit", "heights with tolerances: what room is left");
    fit_verb->add_option("stack", a->stack, "what,mm,plus,minus,sign: + gives room, - takes it")->required();
    fit_verb->callback([&session, a] { session.run = [&session, a] { return fit(*a, session.json); }; });

    auto* order_verb = board.add_subcommand("order", "how many boards to order, of the tiers of a house");
    order_verb->add_option("tiers", a->tiers, "quantity,price,shipping: the price is for all of them")
        ->required();
    order_verb->add_option("--want", a->want, "working boards that are wanted")->required();
    order_verb->add_option("--yield", a->yield, "share of boards that will work, 0 to 1")->required();
    order_verb->add_option("--respin", a->respin, "chance that all of it is ordered again, 0 to 1");
    order_verb->add_option("--size", a->size,
                           "the board's, such as 80x60: tiers for smaller ones are left out");
    order_verb->callback([&session, a] { session.run = [&session, a] { return order(*a, session.json); }; });

    auto* inside_verb = board.add_subcommand("inside", "a board's edge laid into a case's: does it go in?");
    inside_verb->add_option("board", a->board, "a folder or a zip of fabrication files")->required();
    inside_verb->add_option("room", a->room, "the case's inside, or a panel, as .svg or .dxf")->required();
    inside_verb->add_option("--turn", a->turn, "0, 90, 180 or 270; else the one that leaves most");
    inside_verb->add_option("--at", a->at,
                            "where the board's origin lies in the case's; else middle on middle");
    inside_verb->callback(
        [&session, a] { session.run = [&session, a] { return inside(*a, session.json); }; });

    auto* paper_verb = board.add_subcommand("template", "a side of the board at true size, to print");
    paper_verb->add_option("board", a->board, "a folder or a zip of fabrication files")->required();
    paper_verb->add_option("out", a->out, "a .pdf, .svg or .png")->required();
    paper_verb->add_option("--side", a->side, "top or bottom");
    paper_verb->add_option("--paper", a->paper, "a4 or letter");
    paper_verb->callback([&session, a] { session.run = [&session, a] { return paper(*a, session.json); }; });
}

}  // namespace grayrelic::cli
