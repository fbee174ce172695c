// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/wire/packages_view.hpp"

#include <QFileDialog>
#include <QHBoxLayout>
#include <QSignalBlocker>
#include <QVBoxLayout>

#include "app/paint/marks.hpp"
#include "core/base/quantity.hpp"
#include "core/dossier/edits.hpp"
#include "core/report/package_card.hpp"
#include "core/wire/network_edit.hpp"
#include "core/wire/wire_analysis.hpp"
#include "render/pdf.hpp"

namespace grayrelic::app {

PackagesView::PackagesView(Document& document, QWidget* parent) : QWidget(parent), document_(document) {
    ask_file = [this] {
        return QFileDialog::getSaveFileName(this, tr("Write the card"), QStringLiteral("packages.pdf"),
                                            tr("Card (*.pdf *.svg)"));
    };
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    sheet_ = new Sheet(tr("Can I solder this?"));
    card_ = new QPushButton(tr("Card at true size …"));
    card_->setProperty("compact", true);
    card_->setToolTip(tr("Every package at its true size on paper, to lie parts on"));
    connect(card_, &QPushButton::clicked, this, [this] {
        const auto path = ask_file();
        if (!path.isEmpty()) sheet_->set_about(write_card(path));
    });
    sheet_->add_to_title(card_);
    packages_ = new FactTable;
    packages_->set_columns({{tr("Part"), 150},
                            {tr("Which"), 96},
                            {tr("Package"), 90},
                            {tr("By hand"), 60},
                            {tr("Pitch"), 68, true},
                            {tr("High"), 74, true},
                            {tr("Comes out well"), 100, true},
                            {tr("Easier"), 110}},
                           tr("Packages"));
    connect(packages_, &FactTable::row_chosen, this, [this](int row) {
        if (row < 0) return;
        selected_ = packages_->key(row).toString().toStdString();
        fill_detail();
    });
    sheet_->body()->addWidget(packages_, 1);
    auto* row = new QHBoxLayout;
    detail_ = new QLabel;
    detail_->setWordWrap(true);
    detail_->setTextFormat(Qt::PlainText);
    row->addWidget(detail_, 1);
    row->addWidget(secondary_label(tr("Fit it as")));
    choice_ =
        new ChoiceBox(tr("Package"), tr("Another package of the same part, or a part that does the same"));
    choice_->setMinimumWidth(150);
    connect(choice_, &QComboBox::activated, this, [this] { change_package(choice_->currentText()); });
    row->addWidget(choice_);
    sheet_->body()->addLayout(row);
    cautions_ = new CautionLine;
    sheet_->body()->addWidget(cautions_);
    column->addWidget(sheet_, 1);
}

void PackagesView::refresh() {
    const auto& a = document_.analysis();
    std::vector<TableRow> rows;
    int at = -1;
    if (a.wire && a.data)
        for (const auto& s : a.wire->solder) {
            TableCell part(to_q(s.part));
            part.key = to_q(s.refs.front());
            part.icon = verdict_icon(s.verdict);
            QStringList refs, easier;
            for (const auto& r : s.refs) refs << to_q(r);
            for (const auto& x : s.easier) easier << to_q(x);
            for (const auto& x : s.instead) easier << to_q(x);
            if (s.service) easier << tr("assembly service");
            const auto p = a.data->packages.find(s.package);
            TableCell pitch(p && p->shape->pitch > 0 ? tr("%1 mm").arg(p->shape->pitch) : QString());
            TableCell high(p ? tr("%1 mm").arg(p->shape->height) : QString());
            TableCell chance(s.known ? to_q(print_share(s.chance)) : QString());
            if (p) pitch.sort = p->shape->pitch, high.sort = p->shape->height;
            chance.sort = s.chance;
            if (s.refs.front() == selected_) at = static_cast<int>(rows.size());
            rows.push_back({part, refs.join(QLatin1Char(' ')), to_q(s.package),
                            s.known ? to_q(word(s.how)) : tr("not known"), pitch, high, chance,
                            easier.join(QStringLiteral(", "))});
        }
    sheet_->set_about(rows.empty() ? tr("The circuit has no parts yet.")
                                   : tr("By what you have soldered so far; your bench keeps the record."));
    card_->setEnabled(!rows.empty());
    if (at < 0 && !rows.empty()) {
        at = 0;
        selected_ = rows.front().front().key.toString().toStdString();
    }
    {
        const QSignalBlocker block(packages_);
        packages_->set_rows(std::move(rows));
        if (at >= 0) packages_->choose(at);
    }
    const auto& bench = document_.person().bench;
    cautions_->show_cautions(a.data ? cautions_for(a.data->cautions, a.data->families, document_.dossier(),
                                                   Stage::wire, {}, nullptr, &bench)
                                    : std::vector<const Caution*>{});
    fill_detail();
}

void PackagesView::select(const QString& ref) {
    selected_ = ref.toStdString();
    refresh();
}

void PackagesView::fill_detail() {
    const auto& a = document_.analysis();
    const QSignalBlocker block(choice_);
    choice_->clear();
    detail_->clear();
    choice_->setEnabled(false);
    if (!a.wire || !a.data) return;
    for (const auto& s : a.wire->solder) {
        if (std::find(s.refs.begin(), s.refs.end(), selected_) == s.refs.end()) continue;
        const auto p = a.data->packages.find(s.package);
        detail_->setText(
            to_q(s.why) +
            (p ? QStringLiteral(" ") + tr("Pin 1: %1.").arg(to_q(p->shape->first_pin)) : QString()));
        for (const auto& part : a.wire->circuit.network.all) {
            if (part.ref != s.refs.front()) continue;
            QStringList names;
            for (const auto& name : part.type->packages) names << to_q(name);
            if (!names.contains(to_q(s.package))) names.prepend(to_q(s.package));
            choice_->addItems(names);
            choice_->setCurrentText(to_q(s.package));
            choice_->setEnabled(document_.is_open() && names.size() > 1);
        }
    }
}

void PackagesView::change_package(const QString& package) {
    const auto& w = document_.analysis().wire;
    if (!w) return;
    auto next = document_.dossier();
    for (const auto& s : w->solder) {
        if (std::find(s.refs.begin(), s.refs.end(), selected_) == s.refs.end()) continue;
        for (const auto& ref : s.refs)
            for (const auto& id : {w->circuit.text.common_id, w->circuit.text.option_id}) {
                const auto* n = next.timing->find_network(id);
                if (id.empty() || n == nullptr) continue;
                auto changed = *n;
                if (!set_package(changed.text, ref, package.toStdString())) continue;
                next = put(next, std::move(changed));
                break;
            }
    }
    if (!(next == document_.dossier()))
        document_.apply(tr("package of %1").arg(to_q(selected_)), std::move(next));
}

QString PackagesView::write_card(const QString& path) {
    const auto card = package_card(document_.analysis());
    if (!card) return to_q(card.error().message());
    const auto written = render::write_card(*card, path.toStdString(), document_.dossier().about->name);
    return written ? tr("written to %1").arg(path) : to_q(written.error().message());
}

}  // namespace grayrelic::app
