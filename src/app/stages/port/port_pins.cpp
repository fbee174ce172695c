// SPDX-License-Identifier: GPL-3.0-or-later
// The view of a port's pins, and its keys.
#include "app/stages/port/port_page.hpp"

#include <QClipboard>
#include <QDesktopServices>
#include <QGuiApplication>
#include <QHBoxLayout>
#include <QPushButton>
#include <QScrollArea>
#include <QUrl>

#include "app/paint/marks.hpp"
#include "app/paint/theme.hpp"
#include "app/stages/port/photo_strip.hpp"
#include "app/stages/port/pin_list.hpp"
#include "app/stages/port/pin_traffic.hpp"
#include "app/widgets/choice_box.hpp"
#include "app/widgets/view_keys.hpp"
#include "core/port/pin_table.hpp"

namespace grayrelic::app {

QComboBox* PortPage::make_combo(const QString& name, const QString& tip) {
    auto* c = new ChoiceBox(name, tip);
    c->setMinimumContentsLength(12);
    return c;
}

QWidget* PortPage::make_pins_view() {
    auto* view = new QWidget;
    auto* row = new QHBoxLayout(view);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(12);
    auto* left = new QVBoxLayout;
    left->setSpacing(12);
    face_ = new Sheet(QString());
    connector_ = new ConnectorView;
    connector_->enter = [this](const QString& number, const QString& line) {
        return enter_pin(number, line);
    };
    face_->body()->addWidget(connector_, 1);
    auto* kinds = new QHBoxLayout;
    numbering_ = make_combo(tr("Numbering"), tr("How the contacts are numbered"));
    side_ = make_combo(tr("Side"), tr("Whose port it is"));
    side_->addItems({tr("the relic's port"), tr("the modern side's port")});
    kinds->addWidget(numbering_, 1);
    kinds->addWidget(side_);
    face_->body()->addLayout(kinds);
    connect(numbering_, &QComboBox::activated, this, [this] {
        change_port(tr("numbering"),
                    [&](Port& p) { p.numbering = numbering_->currentData().toString().toStdString(); });
    });
    connect(side_, &QComboBox::activated, this, [this] {
        change_port(tr("side"),
                    [&](Port& p) { p.side = side_->currentIndex() == 0 ? Side::relic : Side::modern; });
    });
    left->addWidget(face_, 3);
    list_sheet_ = new Sheet(tr("All pins"));
    auto* in = new QPushButton(tr("Table in…"));
    auto* out = new QPushButton(tr("Table out…"));
    in->setToolTip(tr("Read a pin table; Ctrl+V pastes one from a spreadsheet"));
    connect(in, &QPushButton::clicked, this, [this] { load_table(false); });
    connect(out, &QPushButton::clicked, this, [this] {
        const auto path = ask_save(tr("Write the pin table"), tr("Tables (*.csv)"));
        if (!path.isEmpty()) (void)write_table_to(path);
    });
    list_sheet_->add_to_title(in);
    list_sheet_->add_to_title(out);
    list_ = new PinList;
    auto* area = new QScrollArea;
    area->setWidgetResizable(true);
    area->setWidget(list_);
    area->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    list_sheet_->body()->addWidget(area);
    left->addWidget(list_sheet_, 2);
    row->addLayout(left, 5);
    facts_ = new Sheet(QString());
    editor_ = new PinEditor(document_);
    facts_->body()->addWidget(editor_, 1);
    auto* right = new QVBoxLayout;
    right->setSpacing(12);
    right->addWidget(facts_, 1);
    traffic_ = new PinTraffic;
    right->addWidget(traffic_);
    row->addLayout(right, 8);
    auto* photo = new QPushButton(tr("Add photo…"));
    connect(photo, &QPushButton::clicked, this, [this] {
        const auto path = ask_open(tr("Add a photo"), dialog_filter(picture_files()));
        if (!path.isEmpty()) add_photo(path);
    });
    traffic_->add_to_title(photo);
    photos_ = new PhotoStrip;
    connect(photos_, &PhotoStrip::opened, this,
            [](const QString& path) { QDesktopServices::openUrl(QUrl::fromLocalFile(path)); });
    traffic_->body()->addWidget(photos_);
    connect(connector_, &ConnectorView::picked, this, &PortPage::select_pin);
    connect(list_, &PinList::picked, this, &PortPage::select_pin);
    return view;
}

void PortPage::add_keys() {
    const auto group = tr("Port");
    const auto key = [&](const QString& text, const char* sequence, std::function<void()> run) {
        add_view_key(this, group, text, {sequence}, std::move(run))->setShortcutContext(Qt::WindowShortcut);
    };
    key(tr("New port"), "Alt+N", [this] { begin_port(); });
    add_view_key(connector_, tr("Connector"), tr("Paste a pin table from a spreadsheet"), {"Ctrl+V"}, [this] {
        take_table(QGuiApplication::clipboard()->text().toStdString(), tr("the clipboard"), false);
    });
    add_view_key(connector_, tr("Connector"), tr("Copy the pin table"), {"Ctrl+C"}, [this] {
        if (port() != nullptr)
            QGuiApplication::clipboard()->setText(to_q(write_pin_table(port()->pins, '\t')));
    });
}

}  // namespace grayrelic::app
