// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/trace/netlist_view.hpp"

#include <QDate>
#include <QHBoxLayout>
#include <QPainter>
#include <QSignalBlocker>
#include <QVBoxLayout>

#include "app/paint/marks.hpp"
#include "app/paint/theme.hpp"
#include "app/shell/item_edits.hpp"
#include "core/base/quantity.hpp"
#include "core/base/text.hpp"
#include "core/dossier/edits.hpp"
#include "core/trace/netlist.hpp"
#include "core/trace/trace_analysis.hpp"

namespace grayrelic::app {
namespace {

QString join(const std::vector<std::string>& list, const QString& between) {
    QStringList out;
    for (std::size_t i = 0; i < std::min<std::size_t>(6, list.size()); ++i) out << to_q(list[i]);
    if (list.size() > 6) out << QStringLiteral("…");
    return out.join(between);
}

}  // namespace

void NetlistView::make_chooser() {
    which_ = new ItemChooser({tr("Netlist"), tr("Load netlist…")});
    which_->on_add([this] { Q_EMIT load_wanted(); },
                   tr("CSV with the columns net and point, or an IPC-D-356A test netlist"));
    renames_items<NetSource>(*which_, document_);
    removes_items<NetSource>(*which_, document_);
    auto* write = new QPushButton(tr("Netlist out…"));
    connect(write, &QPushButton::clicked, this, &NetlistView::write_wanted);
    which_->add_button(write);
    connect(which_, &ItemChooser::chosen_changed, this, [this](const QString& id) {
        document_.apply(tr("another netlist"), edit(document_.dossier(), &Dossier::trace,
                                                    [&](Trace& t) { t.against = id.toStdString(); }));
    });
    sheet_->body()->addWidget(which_);
}

NetlistView::NetlistView(Document& document, QWidget* parent) : QWidget(parent), document_(document) {
    auto* whole = new QVBoxLayout(this);
    whole->setContentsMargins(0, 0, 0, 0);
    sheet_ = new Sheet(tr("The board against a netlist"));
    whole->addWidget(sheet_);
    make_chooser();
    wiring_ = new QCheckBox(tr("Its parts have other names"));
    wiring_->setToolTip(tr("Parts are matched by how they are wired; that needs most of the board proven"));
    verdict_ = new QLabel;
    verdict_->setWordWrap(true);
    verdict_->setFont(text_font(13, true));
    sheet_->body()->addWidget(verdict_);
    sheet_->body()->addWidget(wiring_);
    table_ = new FactTable;
    table_->set_columns(
        {{tr("Difference"), 140}, {tr("Where"), 90}, {tr("What"), 330}, {tr("Reason on record"), 170}},
        tr("Differences"));
    sheet_->body()->addWidget(table_, 1);
    auto* foot = new QHBoxLayout;
    foot->addWidget(secondary_label(tr("On purpose, because")));
    reason_ = new Field;
    reason_->setPlaceholderText(tr("why the board departs from the netlist here"));
    reason_->setAccessibleName(tr("Reason of the chosen difference"));
    reason_->setToolTip(tr("Keeps the chosen difference among the deviations; it is a note from then on"));
    foot->addWidget(reason_, 1);
    sheet_->body()->addLayout(foot);
    connect(wiring_, &QCheckBox::clicked, this, [this](bool on) {
        document_.apply(tr("netlist matched by %1").arg(on ? tr("wiring") : tr("names")),
                        edit<NetSource>(document_.dossier(), which_->chosen().toStdString(),
                                        [&](NetSource& s) { s.by_wiring = on; }));
    });
    connect(table_, &FactTable::row_chosen, this,
            [this](int row) { reason_->show_value(table_->text(row, 3)); });
    reason_->commit = [this](const QString& text) -> std::optional<QString> {
        if (table_->chosen() < 0)
            return text.isEmpty() ? std::nullopt : std::optional(tr("Choose a difference first."));
        deviate(text.trimmed());
        return std::nullopt;
    };
}

QString NetlistView::take_netlist(const std::string& text, const QString& name) {
    auto list = read_netlist(text, name.toStdString());
    if (!list) return to_q(list.error().message());
    NetSource s;
    s.id = free_id<NetSource>(document_.dossier(), name.toStdString());
    s.name = name.toStdString();
    s.nets = std::move(list->nets);
    const auto id = s.id;
    document_.apply(tr("netlist %1").arg(name), edit(put(document_.dossier(), std::move(s)), &Dossier::trace,
                                                     [&](Trace& t) { t.against = id; }));
    return {};
}

void NetlistView::deviate(const QString& reason) {
    const auto subject = table_->text(table_->chosen(), 1).toStdString();
    auto next = edit(document_.dossier(), &Dossier::trace, [&](Trace& t) {
        std::erase_if(t.deviations, [&](const Deviation& d) { return d.subject == subject; });
    });
    if (!reason.isEmpty()) {
        const auto* reference = next.trace->reference();
        next = put(next, Deviation{free_id<Deviation>(next, subject),
                                   subject,
                                   table_->text(table_->chosen(), 2).toStdString(),
                                   reason.toStdString(),
                                   reference == nullptr ? std::string() : reference->id,
                                   QDate::currentDate().toString(Qt::ISODate).toStdString(),
                                   {}});
    }
    document_.apply(tr("a deviation"), std::move(next));
}

void NetlistView::add_row(Verdict verdict, const QString& kind, const QString& subject, const QString& says) {
    QString reason;
    for (const auto& d : document_.dossier().trace->deviations)
        if (to_q(d.subject) == subject) reason = to_q(d.reason);
    TableRow row{kind, subject, says, reason};
    row[0].icon = verdict_icon(reason.isEmpty() ? verdict : Verdict::holds);
    row[0].key = kind + QLatin1Char('/') + subject + QLatin1Char('/') + says;
    rows_.push_back(std::move(row));
}

void NetlistView::refresh() {
    const auto& trace = *document_.dossier().trace;
    which_->show_items(items_of<NetSource>(document_.dossier()),
                       trace.reference() == nullptr ? QString() : to_q(trace.reference()->id));
    wiring_->setEnabled(trace.reference() != nullptr);
    wiring_->setChecked(trace.reference() != nullptr && trace.reference()->by_wiring);
    rows_.clear();
    const auto& t = document_.analysis().trace;
    if (!t || !t->comparison) {
        verdict_->setText(
            tr("No netlist yet. Load a published or drawn one, or the one about to be ordered: it is held "
               "against what readings prove."));
        reason_->setEnabled(false);
        table_->set_rows({});
        return;
    }
    reason_->setEnabled(true);
    const auto& c = *t->comparison;
    for (const auto& x : c.turned)
        add_row(
            Verdict::stop, x.how == "mirrored" ? tr("part mirrored") : tr("part turned"), to_q(x.ref),
            tr("all its pins fit when they are counted the other way; %1 do not as it stands").arg(x.pins));
    for (const auto& x : c.swapped)
        add_row(
            x.harmless ? Verdict::holds : Verdict::doubt,
            x.harmless ? tr("exchanged, alike") : tr("exchanged"), to_q(x.a),
            tr("%1 and %2 have exchanged %3 and %4").arg(to_q(x.a), to_q(x.b), to_q(x.net_a), to_q(x.net_b)));
    for (const auto& x : c.split)
        add_row(Verdict::doubt, tr("in pieces"), to_q(x.points.back()),
                tr("%1: readings separate %2").arg(to_q(x.net), join(x.points, tr(" | "))));
    for (const auto& x : c.joined)
        add_row(Verdict::doubt, tr("joined"), to_q(x.points.front()),
                tr("readings join %1, at %2")
                    .arg(join(x.nets, tr(" and ")), join(x.points, QStringLiteral(", "))));
    for (const auto& x : c.unproven)
        add_row(Verdict::unknown, tr("not proven"), to_q(x.net),
                tr("not probed against each other: %1").arg(join(x.points, QStringLiteral(", "))));
    for (const auto& x : c.missing)
        add_row(Verdict::unknown, tr("not on the board"), to_q(x.point),
                tr("%1 of the netlist; no part or reading has it").arg(to_q(x.net)));
    if (!c.extra.empty()) {
        std::vector<std::string> points;
        for (const auto& x : c.extra) points.push_back(x.point);
        add_row(Verdict::unknown, tr("only on the board"), to_q(points.front()),
                tr("%1 that the netlist does not name: %2")
                    .arg(to_q(plural(static_cast<long long>(points.size()), "point", "points")),
                         join(points, QStringLiteral(", "))));
    }
    QStringList names;
    for (const auto& [here, there] : t->part_names)
        if (here != there) names << tr("%1 is %2 there").arg(to_q(here), to_q(there));
    if (!names.isEmpty())
        add_row(Verdict::holds, tr("matched by wiring"), to_q(t->part_names.begin()->first),
                names.join(QStringLiteral(", ")));
    const auto differ = c.turned.size() + c.split.size() + c.joined.size() +
                        static_cast<std::size_t>(std::count_if(c.swapped.begin(), c.swapped.end(),
                                                               [](const auto& s) { return !s.harmless; }));
    verdict_->setText(tr("%1 as in the netlist, %2, %3 not proven. %4 of the board is proven.")
                          .arg(to_q(plural(c.same, "net is", "nets are")),
                               to_q(plural(static_cast<long long>(differ), "difference", "differences")))
                          .arg(c.unproven.size())
                          .arg(to_q(print_share(t->state.proven()))));
    table_->set_rows(std::exchange(rows_, {}));
}

void NetlistView::show_difference(const QString& subject) {
    for (int r = 0; r < table_->row_count(); ++r)
        if (table_->text(r, 1) == subject || table_->text(r, 2).contains(subject)) {
            table_->choose(r);
            table_->setFocus();
            return;
        }
}

}  // namespace grayrelic::app
