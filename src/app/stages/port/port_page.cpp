// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/port/port_page.hpp"

#include <QClipboard>
#include <QFileDialog>
#include <QGuiApplication>
#include <QHBoxLayout>
#include <QPushButton>
#include <QSignalBlocker>

#include "app/paint/marks.hpp"
#include "app/paint/theme.hpp"
#include "app/shell/item_edits.hpp"
#include "app/stages/port/photo_strip.hpp"
#include "app/stages/port/pin_list.hpp"
#include "app/stages/port/pin_traffic.hpp"
#include "app/widgets/view_keys.hpp"
#include "core/base/text.hpp"
#include "core/dossier/edits.hpp"
#include "core/dossier/pin_fields.hpp"
#include "core/dossier/stage_content.hpp"
#include "core/port/pin_table.hpp"

namespace grayrelic::app {
PortPage::PortPage(const StageContext& context)
    : TabbedPage(Stage::port, context.document, Rests::ports | Rests::data), document_(context.document) {
    set_empty(make_chooser());
    add_port_row();
    sources_ = new SourceView(document_);
    wrong_ = new WrongWaysView(document_);
    cables_ = new CableView(document_);
    taps_ = new TapView(document_);
    add_view({QStringLiteral("pins"), tr("Pins"), Picture::day}, make_pins_view(),
             Rests::ports | Rests::data | Rests::captures | Rests::listen_analysis,
             [this] { refresh_pins(); });
    add_view({QStringLiteral("sources"), tr("Sources")}, sources_, Rests::ports | Rests::data,
             [this] { sources_->show_port(port_); });
    add_view({QStringLiteral("wrong-ways"), tr("Wrong ways"), Picture::day}, wrong_,
             Rests::ports | Rests::cables | Rests::data | Rests::port_analysis,
             [this] { wrong_->show_port(port_); });
    add_view({QStringLiteral("cables"), tr("Cables")}, cables_,
             Rests::ports | Rests::cables | Rests::data | Rests::wire_analysis,
             [this] { cables_->refresh(); });
    add_view({QStringLiteral("taps"), tr("Tap plan")}, taps_, Rests::ports | Rests::data,
             [this] { taps_->show_port(port_); });
    connect(sources_, &SourceView::load_wanted, this, [this] { load_table(true); });
    connect(sources_, &SourceView::paste_wanted, this, [this] {
        take_table(QGuiApplication::clipboard()->text().toStdString(), tr("the clipboard"), true);
    });

    viewpoint_ =
        make_combo(tr("Viewpoint"), tr("From where the connector is seen; the drawing mirrors with it"));
    for (const auto v : all_viewpoints) viewpoint_->addItem(to_q(label(v)), to_q(word(v)));
    connect(viewpoint_, &QComboBox::activated, this, [this] {
        change_port(
            tr("viewpoint"),
            [&](Port& p) { p.viewpoint = viewpoint_->currentData().toString().toStdString(); },
            QStringLiteral("viewpoint"));
    });
    ask_open = [this](const QString& title, const QString& kinds) {
        return QFileDialog::getOpenFileName(this, title, {}, kinds);
    };
    ask_save = [this](const QString& title, const QString& kinds) {
        return QFileDialog::getSaveFileName(this, title, QStringLiteral("pins.csv"), kinds);
    };
    add_keys();
    refresh_page();
}

/// Instead of the views while there is no port, and for a port to come.
QWidget* PortPage::make_chooser() {
    empty_ = new Sheet(tr("No port is described yet"));
    empty_->set_about(
        tr("Bring the old connector first: its kind, and for each pin its name and who drives it."), true);
    chooser_ = new ConnectorChooser(document_.data());
    empty_->body()->addWidget(chooser_, 1);
    auto* buttons = new QHBoxLayout;
    describe_ = new QPushButton(tr("Describe this port"));
    connect(describe_, &QPushButton::clicked, this, [this] { add_port(chooser_->chosen()); });
    connect(chooser_, &ConnectorChooser::accepted, this, &PortPage::add_port);
    use_ = new QPushButton;
    connect(use_, &QPushButton::clicked, this, [this] {
        choosing_ = false;
        change_port(tr("another connector"), [&](Port& p) {
            p.connector = chooser_->chosen().toStdString();
            p.numbering.clear();
        });
        refresh_all();
    });
    keep_ = new QPushButton(tr("Back"));
    connect(keep_, &QPushButton::clicked, this, [this] {
        choosing_ = false;
        refresh_all();
    });
    buttons->addWidget(describe_);
    buttons->addWidget(use_);
    buttons->addWidget(keep_);
    buttons->addWidget(make_example_button());
    buttons->addStretch(1);
    empty_->body()->addLayout(buttons);
    return empty_;
}

void PortPage::add_port_row() {
    which_ = new ItemChooser({tr("Port"), tr("New port")});
    which_->on_add([this] { begin_port(); });
    renames_items<Port>(*which_, document_);
    removes_items<Port>(*which_, document_);
    connect(which_, &ItemChooser::chosen_changed, this, &PortPage::show_port);
    add_beside_tabs(which_);
}

const Port* PortPage::port() const {
    const auto& ports = *document_.dossier().ports;
    if (const auto* found = document_.dossier().find_port(port_.toStdString())) return found;
    return ports.empty() ? nullptr : &ports.front();
}

void PortPage::change_port(const QString& what, const std::function<void(Port&)>& edit,
                           const QString& merge) {
    if (port() == nullptr) return;
    Port changed = *port();
    edit(changed);
    document_.apply(what, put(document_.dossier(), std::move(changed)), merge);
}

void PortPage::begin_port() {
    choosing_ = true;
    refresh_all();
    chooser_->filter().setFocus();
}

void PortPage::add_port(const QString& id) {
    const auto connector = document_.data().connectors.find(id.toStdString());
    if (!connector || !document_.is_open()) return;
    Port p;
    p.id = free_port_id(document_.dossier());
    p.name = document_.dossier().ports->empty() ? tr("Control port").toStdString() : connector->name;
    p.connector = connector->id;
    for (const auto& number : connector->numberings.front().numbers) {
        Pin pin;
        pin.number = number;
        p.pins.push_back(std::move(pin));
    }
    std::stable_sort(p.pins.begin(), p.pins.end(), [](const Pin& a, const Pin& b) {
        return a.number.size() != b.number.size() ? a.number.size() < b.number.size() : a.number < b.number;
    });
    choosing_ = false;
    port_ = to_q(p.id);
    pin_ = to_q(p.pins.front().number);
    document_.apply(tr("describe a port"), put(document_.dossier(), std::move(p)));
    show_view(QStringLiteral("pins"));
    connector_->setFocus();
}

void PortPage::show_port(const QString& id) {
    port_ = id;
    pin_.clear();
    tell({});
    refresh_all();
}

void PortPage::refresh_all() {
    refresh_page();
    view_shown();
    Q_EMIT header_changed();
}

void PortPage::refresh_page() {
    const auto* p = port();
    const bool chooses = p == nullptr || choosing_;
    show_empty(chooses);
    empty_->set_title(p == nullptr ? tr("No port is described yet") : tr("A new port"));
    describe_->setEnabled(document_.is_open());
    keep_->setVisible(p != nullptr);
    use_->setVisible(p != nullptr);
    if (p != nullptr) use_->setText(tr("Use it for %1").arg(to_q(p->id)));
    auto items = items_of<Port>(document_.dossier());
    for (auto& i : items) i.label = tr("%1 %2").arg(i.id, i.name);
    which_->show_items(items, p == nullptr ? QString() : to_q(p->id));
    if (p == nullptr) return;
    port_ = to_q(p->id);
    viewpoint_->setCurrentIndex(static_cast<int>(viewpoint_named(p->viewpoint)));
}

void PortPage::refresh_pins() {
    const auto* p = port();
    if (p == nullptr) return;
    auto connector = document_.data().connectors.find(p->connector);
    const auto problem = connector ? QString() : to_q(connector.error().message());
    {
        const QSignalBlocker block_numbering(numbering_), block_side(side_);
        numbering_->clear();
        if (connector)
            for (const auto& n : connector->numberings) numbering_->addItem(to_q(n.name), to_q(n.id));
        numbering_->setCurrentIndex(std::max(0, numbering_->findData(to_q(p->numbering))));
        side_->setCurrentIndex(p->side == Side::relic ? 0 : 1);
    }
    connector_->show_port(*p, connector ? std::optional(std::move(*connector)) : std::nullopt, problem);
    face_->set_title(to_q(p->name));
    face_->set_about(tr("seen looking %1 · relic-driven in umber, bridge-driven in blue")
                         .arg(to_q(label(viewpoint_named(p->viewpoint)))),
                     true);
    photos_->show_photos(p->photos, document_.folder());
    if (pin_.isEmpty() && !p->pins.empty()) {
        pin_ = to_q(p->pins.front().number);
        // Better one that the captures say something about.
        for (const auto& pin : p->pins)
            if (pin.driver.value == Driver::bridge) pin_ = to_q(pin.number);
    }
    select_pin(pin_);
}

void PortPage::select_pin(const QString& number) {
    pin_ = number;
    const auto* p = port();
    if (p == nullptr) return;
    connector_->select(number);
    list_->show_pins(p->pins, number);
    editor_->show_pin(to_q(p->id), number);
    traffic_->show_pin(document_.analysis(), document_.dossier(), p->id, number.toStdString());
    const auto* pin = p->find_pin(number.toStdString());
    facts_->set_title(tr("Pin %1 %2").arg(number, pin == nullptr ? QString() : to_q(pin->name.value)));
    facts_->set_about(pin == nullptr
                          ? tr("Nothing is recorded yet. What you enter here starts the record.")
                          : tr("first how new facts are known; then each value, evidence, source"));
}

QString PortPage::sentence() const {
    return port() == nullptr ? tr("Port") : tr("%1 · %2").arg(to_q(port()->id), to_q(port()->name));
}

QString PortPage::detail() const {
    const auto* p = port();
    return p == nullptr ? QString()
                        : tr("%1 · %2 recorded")
                              .arg(to_q(p->connector),
                                   to_q(plural(static_cast<long long>(p->pins.size()), "pin", "pins")));
}

QString PortPage::rail_line() const {
    long known = 0, all = 0;
    for (const auto& p : *document_.dossier().ports) {
        all += static_cast<long>(p.pins.size());
        known += std::count_if(p.pins.begin(), p.pins.end(), [](const Pin& x) {
            return !x.name.value.empty() && x.driver.value != Driver::unknown;
        });
    }
    return port() == nullptr ? tr("not started") : tr("%1 of %2 pins known").arg(known).arg(all);
}

bool PortPage::has_content() const {
    return grayrelic::has_content(document_.dossier(), Stage::port);
}

QList<QWidget*> PortPage::header_widgets() {
    return {viewpoint_};
}

void PortPage::show_place(const FindingPlace& place) {
    if (choosing_) {
        choosing_ = false;
        refresh_all();
    }
    const auto slash = place.id.find('/');
    const auto id = to_q(place.id.substr(0, slash));
    if (place.kind != "cable" && document_.dossier().find_port(id.toStdString()) != nullptr && id != port_)
        show_port(id);
    if (place.kind == "source") {
        show_view(QStringLiteral("sources"));
        if (slash != std::string::npos) sources_->show_source(to_q(place.id.substr(slash + 1)));
    } else if (place.kind == "wrong-ways") {
        show_view(QStringLiteral("wrong-ways"));
        wrong_->cases().setFocus();
    } else if (place.kind == "taps") {
        show_view(QStringLiteral("taps"));
    } else if (place.kind == "cable") {
        show_view(QStringLiteral("cables"));
        cables_->show_cable(to_q(place.id));
    } else {
        show_view(QStringLiteral("pins"));
        if (place.kind == "pin" && slash != std::string::npos) select_pin(to_q(place.id.substr(slash + 1)));
        connector_->setFocus();
    }
}

void PortPage::begin() {
    if (port() == nullptr)
        chooser_->filter().setFocus();
    else if (view() == QLatin1String("pins"))
        connector_->setFocus();
    else
        TabbedPage::begin();
}

void PortPage::note_mouse(ActionRegistry& actions) const {
    actions.note(tr("Facts"), tr("Evidence measured, documented, deduced, assumed"),
                 tr("M, D, A, or Space for the list"));
}

}  // namespace grayrelic::app
