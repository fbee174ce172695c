// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/wire/wire_page.hpp"

#include "app/paint/marks.hpp"
#include "core/base/text.hpp"
#include "core/dossier/stage_content.hpp"
#include "core/wire/wire_analysis.hpp"

namespace grayrelic::app {

WirePage::WirePage(const StageContext& context)
    : TabbedPage(Stage::wire, context.document, Rests::wire | Rests::timing | Rests::ports),
      document_(context.document) {
    const unsigned all =
        Rests::wire | Rests::timing | Rests::ports | Rests::data | Rests::person | Rests::wire_analysis;
    constexpr int scrolls_under = 520;
    lines_ = new LinesView(document_);
    netlist_ = new NetlistTextView(document_);
    values_ = new ValuesView(document_);
    packages_ = new PackagesView(document_);
    add_view(
        {QStringLiteral("lines"), tr("Lines"), Picture::night}, lines_, all, [this] { lines_->refresh(); },
        scrolls_under);
    add_view(
        {QStringLiteral("netlist"), tr("Netlist")}, netlist_, all, [this] { netlist_->refresh(); },
        scrolls_under);
    add_view(
        {QStringLiteral("values"), tr("Values")}, values_, all, [this] { values_->refresh(); },
        scrolls_under);
    add_view(
        {QStringLiteral("packages"), tr("Packages")}, packages_, all, [this] { packages_->refresh(); },
        scrolls_under);
    rails_ = new RailsView(document_);
    settings_ = new SettingsView(document_);
    pins_ = new PinsView(document_);
    schools_ = new SchoolsView(document_);
    add_view(
        {QStringLiteral("rails"), tr("Rails"), Picture::day}, rails_, all, [this] { rails_->refresh(); },
        scrolls_under);
    add_view(
        {QStringLiteral("settings"), tr("Settings")}, settings_, all, [this] { settings_->refresh(); },
        scrolls_under);
    add_view(
        {QStringLiteral("pins"), tr("Pins")}, pins_, all, [this] { pins_->refresh(); }, scrolls_under);
    add_view(
        {QStringLiteral("compare"), tr("Compare")}, schools_, all | Rests::timing_analysis,
        [this] { schools_->refresh(); }, scrolls_under);
    empty_ = new Sheet(tr("Nothing between the connectors yet"));
    begin_ = new QPushButton(tr("Begin from the ports"));
    connect(begin_, &QPushButton::clicked, this, [this] {
        show_view(QStringLiteral("netlist"));
        netlist_->begin();
    });
    empty_->body()->addWidget(begin_, 0, Qt::AlignLeft);
    begin_rails_ = new QPushButton(tr("Begin with the rails"));
    connect(begin_rails_, &QPushButton::clicked, this, [this] {
        show_view(QStringLiteral("rails"));
        rails_->begin();
    });
    empty_->body()->addWidget(begin_rails_, 0, Qt::AlignLeft);
    empty_->body()->addWidget(make_example_button(), 0, Qt::AlignLeft);
    empty_->body()->addStretch(1);
    set_empty(empty_);
    refresh_page();
}

void WirePage::refresh_page() {
    const bool open = document_.is_open();
    const bool ports = open && !document_.dossier().ports->empty();
    begin_->setVisible(ports);
    begin_rails_->setVisible(ports);
    empty_->set_about(ports ? tr("The ports are described: begin with their contacts as nets, then add parts "
                                 "from net to net. "
                                 "Each line is judged at once.")
                            : tr("Describe the ports of both sides first, under Port. What stands between "
                                 "them is entered here, "
                                 "and each line is judged at once."),
                      true);
    show_empty(!has_content());
}

QString WirePage::sentence() const {
    return has_content() ? tr("What goes between, and will it survive?") : tr("Wire");
}

QString WirePage::detail() const {
    const auto& w = document_.analysis().wire;
    if (!w || w->circuit.empty()) {
        if (!w || w->rails.tree.empty()) return {};
        return to_q(plural(static_cast<long long>(w->rails.tree.rails().size()), "rail", "rails"));
    }
    const auto& option = w->circuit.text.option;
    const auto parts = to_q(plural(static_cast<long long>(w->circuit.network.all.size()), "part", "parts"));
    return option.empty() ? parts : tr("option: %1 · %2").arg(to_q(option), parts);
}

QString WirePage::rail_line() const {
    const auto& w = document_.analysis().wire;
    if (!w) return tr("computing …");
    long stop = 0, doubt = 0, judged = 0;
    for (const auto& l : w->study.lines) {
        judged += l.links.empty() ? 0 : 1;
        stop += l.verdict == Verdict::stop ? 1 : 0;
        doubt += l.verdict == Verdict::doubt ? 1 : 0;
    }
    if (judged == 0 && stop == 0) {
        if (w->rails.modes.empty())
            return w->rails.faults.empty() ? tr("no line judged yet") : tr("rails can't be read");
        const auto rails = w->rails.verdict();
        return rails == Verdict::stop    ? tr("the rails fail")
               : rails == Verdict::doubt ? tr("rails in doubt")
                                         : tr("the rails hold");
    }
    if (stop > 0) return to_q(plural(stop, "line fails", "lines fail"));
    if (doubt > 0) return to_q(plural(doubt, "line in doubt", "lines in doubt"));
    return to_q(plural(judged, "line holds", "lines hold"));
}

bool WirePage::has_content() const {
    return grayrelic::has_content(document_.dossier(), Stage::wire);
}

void WirePage::show_place(const FindingPlace& place) {
    if (place.kind == "line") {
        show_view(QStringLiteral("lines"));
        return lines_->select(to_q(place.id));
    }
    if (place.kind == "value") {
        show_view(QStringLiteral("values"));
        return values_->select(to_q(place.id));
    }
    if (place.kind == "rail") {
        show_view(QStringLiteral("rails"));
        return rails_->select(to_q(place.id));
    }
    if (place.kind == "setting") {
        show_view(QStringLiteral("settings"));
        return settings_->select(to_q(place.id));
    }
    if (place.kind == "pin") {
        show_view(QStringLiteral("pins"));
        return pins_->select(to_q(place.id));
    }
    if (place.kind == "solder") {
        show_view(QStringLiteral("packages"));
        return packages_->select(to_q(place.id));
    }
    show_view(QStringLiteral("netlist"));
    netlist_->show_line(to_q(place.id).toLong());
}

}  // namespace grayrelic::app
