// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/port/port_page.hpp"

#include <QHBoxLayout>
#include <QPushButton>
#include <QScrollArea>

#include "app/paint/marks.hpp"
#include "app/paint/theme.hpp"
#include "app/stages/port/pin_list.hpp"
#include "app/stages/port/pin_traffic.hpp"
#include "core/base/text.hpp"
#include "core/dossier/edits.hpp"

namespace grayrelic::app {

PortPage::PortPage(Document& document, QWidget* parent) : StagePage(parent), document_(document) {
    auto* whole = new QVBoxLayout(this);
    whole->setContentsMargins(16, 12, 16, 16);

    empty_ = new Sheet(tr("No port is described yet"));
    auto* empty = static_cast<Sheet*>(empty_);
    empty->set_about(
        tr("Bring the old connector first: its kind, and for each pin its name and who drives it."), true);
    auto* add = new QPushButton(tr("Describe a 9-contact mini-DIN port"));
    connect(add, &QPushButton::clicked, this, &PortPage::add_port);
    empty->body()->addWidget(add, 0, Qt::AlignLeft);
    empty->body()->addWidget(make_example_button(), 0, Qt::AlignLeft);
    describe_ = add;
    empty->body()->addStretch(1);
    whole->addWidget(empty_, 1);

    filled_ = new QWidget;
    auto* row = new QHBoxLayout(filled_);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(12);
    auto* left = new QVBoxLayout;
    left->setSpacing(12);
    face_ = new Sheet(QString());
    connector_ = new ConnectorView;
    face_->body()->addWidget(connector_, 1);
    left->addWidget(face_, 3);
    list_sheet_ = new Sheet(tr("All pins"));
    list_ = new PinList;
    auto* area = new QScrollArea;
    area->setWidgetResizable(true);
    area->setWidget(list_);
    area->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    list_sheet_->body()->addWidget(area);
    left->addWidget(list_sheet_, 2);
    row->addLayout(left, 4);
    facts_ = new Sheet(QString());
    editor_ = new PinEditor(document_);
    facts_->body()->addWidget(editor_, 1);
    auto* right = new QVBoxLayout;
    right->setSpacing(12);
    right->addWidget(facts_, 3);
    traffic_ = new PinTraffic;
    right->addWidget(traffic_, 2);
    row->addLayout(right, 5);
    whole->addWidget(filled_, 1);

    viewpoint_ = new QComboBox;
    viewpoint_->setAccessibleName(tr("Viewpoint"));
    viewpoint_->setToolTip(tr("From where the connector is seen; the drawing mirrors with it"));
    for (const auto v : all_viewpoints)
        viewpoint_->addItem(to_q(label(v)), to_q(word(v)));
    connect(viewpoint_, &QComboBox::activated, this, [this] {
        if (const auto* p = port()) {
            auto changed = *p;
            changed.viewpoint = viewpoint_->currentData().toString().toStdString();
            document_.apply(tr("viewpoint"), with_port(document_.dossier(), std::move(changed)),
                            QStringLiteral("viewpoint"));
        }
    });
    connect(connector_, &ConnectorView::picked, this, &PortPage::select_pin);
    connect(list_, &PinList::picked, this, &PortPage::select_pin);
    connect(&document_, &Document::changed, this, &PortPage::refresh);
    connect(&document_, &Document::analysed, this, &PortPage::refresh);
    refresh();
}

const Port* PortPage::port() const {
    return document_.dossier().ports->empty() ? nullptr : &document_.dossier().ports->front();
}

void PortPage::add_port() {
    Port p;
    p.id = "J1";
    p.name = tr("Control port").toStdString();
    p.connector = "mini-din-9";
    for (int i = 1; i <= 9; ++i) {
        Pin pin;
        pin.number = std::to_string(i);
        p.pins.push_back(pin);
    }
    document_.apply(tr("describe a port"), with_port(document_.dossier(), std::move(p)));
}

void PortPage::refresh() {
    const auto* p = port();
    empty_->setVisible(p == nullptr);
    describe_->setEnabled(document_.is_open());
    filled_->setVisible(p != nullptr);
    if (p == nullptr) {
        Q_EMIT header_changed();
        return;
    }
    auto connector = load_connector(p->connector, data_folder());
    const auto problem = connector ? QString() : to_q(connector.error().message());
    connector_->show_port(*p, connector ? std::optional(std::move(*connector)) : std::nullopt, problem);
    const auto seen = viewpoint_named(p->viewpoint);
    viewpoint_->setCurrentIndex(static_cast<int>(seen));
    face_->set_title(to_q(p->name));
    face_->set_about(
        tr("seen looking %1 · relic-driven in umber, bridge-driven in blue").arg(to_q(label(seen))), true);
    if (pin_.isEmpty() && !p->pins.empty()) {
        pin_ = to_q(p->pins.front().number);
        // Better one that the captures say something about.
        for (const auto& pin : p->pins)
            if (pin.driver.value == Driver::bridge) pin_ = to_q(pin.number);
    }
    select_pin(pin_);
    Q_EMIT header_changed();
}

void PortPage::select_pin(const QString& number) {
    pin_ = number;
    const auto* p = port();
    if (p == nullptr) return;
    connector_->select(number);
    list_->show_pins(p->pins, number);
    editor_->show_pin(to_q(p->id), number);
    traffic_->show_pin(document_.analysis(), p->id, number.toStdString());
    const auto* pin = p->find_pin(number.toStdString());
    facts_->set_title(tr("Pin %1 %2").arg(number, pin == nullptr ? QString() : to_q(pin->name.value)));
    facts_->set_about(pin == nullptr ? tr("Nothing is recorded yet. What you enter here starts the record.")
                                     : tr("value, evidence (click the steps to change it), source"));
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
    const auto* p = port();
    if (p == nullptr) return tr("not started");
    const auto known = std::count_if(p->pins.begin(), p->pins.end(), [](const Pin& x) {
        return !x.name.value.empty() && x.driver.value != Driver::unknown;
    });
    return tr("%1 of %2 pins known").arg(known).arg(p->pins.size());
}

bool PortPage::has_content() const {
    return port() != nullptr;
}
QList<QWidget*> PortPage::header_widgets() {
    return {viewpoint_};
}

void PortPage::show_place(const FindingPlace& place) {
    const auto slash = place.id.rfind('/');
    if (place.kind == "pin" && slash != std::string::npos) select_pin(to_q(place.id.substr(slash + 1)));
    connector_->setFocus();
}

void PortPage::describe_keys(ActionRegistry& actions) const {
    actions.collect(*connector_);
    actions.note(tr("Facts"), tr("Evidence measured, documented, deduced, assumed"),
                 tr("M, D, A, or Space for the list"));
}

}  // namespace grayrelic::app
