// SPDX-License-Identifier: GPL-3.0-or-later
// The questions and their answers: tables at once, searches beside the window.
#include "app/stages/timing/logic_bench.hpp"

#include "app/paint/marks.hpp"
#include "app/paint/theme.hpp"
#include "core/base/text.hpp"
#include "core/timing/timing_analysis.hpp"

namespace grayrelic::app {
namespace {

constexpr std::size_t most_rows_shown = 256;

}  // namespace

QString LogicBench::shown_level(Level l) {
    return QString(QLatin1Char(letter(l)));
}

void LogicBench::run_truth() {
    answer_->setText(tr("computing the table …"));
    truth_.ask([network = network_](Progress& progress) { return truth_table(network->network, progress); },
               [this](const Result<TruthTable>& t) { show_truth(t); });
}

void LogicBench::show_truth(const Result<TruthTable>& t) {
    if (!t) {
        table_->set_columns({}, tr("No table"));
        answer_->setText(tr("There is no table: found %1, expected %2.")
                             .arg(to_q(t.error().found), to_q(t.error().expected)));
        return;
    }
    QList<TableColumn> columns;
    for (const auto* list : {&t->inputs, &t->outputs})
        for (const auto& n : *list) columns << TableColumn{to_q(n), 62, true};
    table_->set_columns(columns, tr("Truth table"));
    const auto rows = std::min(t->rows.size(), most_rows_shown);
    std::vector<TableRow> list;
    for (std::size_t r = 0; r < rows; ++r) {
        TableRow row;
        for (std::size_t i = 0; i < t->inputs.size(); ++i)
            row.emplace_back(
                ((r >> (t->inputs.size() - 1 - i)) & 1U) != 0 ? QStringLiteral("1") : QStringLiteral("0"),
                theme().umber);
        for (const auto level : t->rows[r])
            row.emplace_back(shown_level(level), level == Level::unknown ? theme().brass : theme().slate);
        list.push_back(std::move(row));
    }
    table_->set_rows(std::move(list));
    answer_->setText(rows < t->rows.size() ? tr("%1 rows, the first %2 shown").arg(t->rows.size()).arg(rows)
                                           : tr("%1 rows").arg(rows));
}

void LogicBench::run_hazards() {
    table_->set_columns(
        {{tr("Output"), 90}, {tr("may leave"), 80, true}, {tr("when"), 90}, {tr("changes with"), 300}},
        tr("Hazards"));
    answer_->setText(tr("looking …"));
    // Twenty inputs are ten million changes: beside the window, which goes on.
    auto rows = std::make_shared<std::vector<QStringList>>();
    working_.ask(
        [network = network_, rows](Progress& progress) -> QString {
            const auto h = find_hazards(network->network, progress);
            if (!h)
                return tr("Hazards can't be looked for: found %1, expected %2.")
                    .arg(to_q(h.error().found), to_q(h.error().expected));
            const auto t = Tabulator::of(network->network);
            for (const auto& x : h->hazards) {
                if (rows->size() >= most_rows_shown) break;
                QStringList with;
                for (std::size_t i = 0; i < x.at.size(); ++i)
                    if (t->inputs()[i] != x.input)
                        with << tr("%1 = %2").arg(to_q(t->inputs()[i])).arg(x.at[i] ? 1 : 0);
                rows->push_back({to_q(x.output), QString::number(x.level ? 1 : 0), to_q(x.input),
                                 with.join(QStringLiteral("  "))});
            }
            return h->count == 0 ? tr("No change of one input can make an output twitch (%1 looked at).")
                                       .arg(h->transitions)
                                 : tr("%1 of %2 changes of one input may make an output twitch. A clock or a "
                                      "latch behind it would see that.")
                                       .arg(h->count)
                                       .arg(h->transitions);
        },
        [this, rows](const QString& text) {
            answer_->setText(text);
            std::vector<TableRow> list;
            for (const auto& r : *rows) list.push_back({r[0], r[1], r[2], r[3]});
            table_->set_rows(std::move(list));
        });
}

void LogicBench::run_equal() {
    table_->set_columns({}, tr("No table"));
    std::shared_ptr<const NetworkAnalysis> second;
    for (const auto& n : document_.analysis().timing->networks)
        if (to_q(n->source.id) == other_->currentData().toString()) second = n;
    if (!second) {
        answer_->setText(tr("Enter a second network with the same inputs and outputs."));
        return;
    }
    answer_->setText(tr("comparing …"));
    working_.ask(
        [first = network_, second](Progress& progress) -> QString {
            const auto e = compare_networks(first->network, second->network, {}, progress);
            if (!e)
                return tr("They can't be compared: found %1, expected %2.")
                    .arg(to_q(e.error().found), to_q(e.error().expected));
            const auto seen = tr("%1 %2").arg(
                to_q(print_count(static_cast<long long>(e->looked_at))),
                first->network.stores() || second->network.stores() ? tr("states") : tr("settings"));
            if (e->answer == Equivalence::Answer::equal)
                return tr("They do the same, in all of %1.").arg(seen);
            if (e->answer == Equivalence::Answer::not_proven) return tr("Not proven: %1.").arg(to_q(e->note));
            QStringList steps;
            for (const auto& s : e->steps) {
                QStringList one;
                for (const auto& [name, level] : s) one << tr("%1 = %2").arg(to_q(name)).arg(level ? 1 : 0);
                steps << one.join(QStringLiteral(" "));
            }
            return tr("They differ. %1: then %2 is %3 in %4 and %5 in %6.")
                .arg(steps.join(tr(", then ")), to_q(e->output), shown_level(e->first),
                     to_q(first->source.name), shown_level(e->second), to_q(second->source.name));
        },
        [this](const QString& text) { answer_->setText(text); });
}

void LogicBench::run_smallest() {
    table_->set_columns(
        {{tr("Packages"), 190}, {tr("Gates"), 56, true}, {tr("Slowest"), 80, true}, {tr("Spare"), 200}},
        tr("Smallest networks"));
    std::vector<DrawerItem> drawer;
    for (const auto& text : document_.dossier().timing->drawer)
        if (auto item = parse_drawer_item(text)) drawer.push_back(*item);
    if (drawer.empty())  // your own, when the dossier names none for this question
        for (const auto& p : document_.person().drawer.parts)
            if (auto item = parse_drawer_item(p.part);
                item && p.count > 0 && network_->data->parts.contains(item->part)) {
                item->count = std::min(p.count, 1000);
                drawer.push_back(*item);
            }
    if (drawer.empty()) {
        answer_->setText(
            tr("Say which packages are there, such as 1 × 74x00 hct, 1 × 74x86 hct, or fill your drawer in "
               "Plan."));
        return;
    }
    answer_->setText(tr("searching …"));
    auto found = std::make_shared<std::vector<Realisation>>();
    working_.ask(
        [network = network_, drawer, found, data = network_->data](Progress& progress) -> QString {
            const auto wanted = wanted_from(network->network, progress);
            if (!wanted)
                return tr("It can't be searched for: found %1, expected %2.")
                    .arg(to_q(wanted.error().found), to_q(wanted.error().expected));
            auto m = minimise(*wanted, drawer, *data, {}, progress);
            if (!m) return tr("Found %1, expected %2.").arg(to_q(m.error().found), to_q(m.error().expected));
            *found = std::move(m->best);
            if (found->empty()) return to_q(m->note);
            return tr("%1 of %2 and %3. %4")
                .arg(to_q(plural(static_cast<long long>(found->size()), "network", "networks")),
                     to_q(plural(static_cast<long long>(found->front().packages.size()), "package",
                                 "packages")),
                     to_q(plural(found->front().gates, "gate", "gates")),
                     m->complete ? tr("Nothing smaller exists in this drawer.") : to_q(m->note));
        },
        [this, found](const QString& text) {
            answer_->setText(text);
            realisations_ = *found;
            std::vector<TableRow> list;
            for (const auto& r : realisations_) {
                QStringList packages, spare;
                for (const auto& p : r.packages) packages << to_q(p);
                for (const auto& s : r.spare) spare << to_q(s);
                TableRow row{packages.join(QStringLiteral(" + ")), QString::number(r.gates),
                             to_q(print(r.slowest)), spare.join(QStringLiteral(", "))};
                row[0].tip = to_q(r.net_list);
                row[1].sort = r.gates;
                row[2].sort = r.slowest.seconds();
                list.push_back(std::move(row));
            }
            table_->set_rows(std::move(list));
            take_->setEnabled(!realisations_.empty());
            if (!realisations_.empty()) table_->choose(0);
        });
}

}  // namespace grayrelic::app
