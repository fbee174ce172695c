// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/plan/supply_view.hpp"

#include <QFileDialog>
#include <QHBoxLayout>
#include <QMenu>
#include <QScrollArea>
#include <QVBoxLayout>

#include "app/paint/marks.hpp"
#include "app/widgets/compact_button.hpp"
#include "core/base/text.hpp"
#include "core/dossier/edits.hpp"

namespace grayrelic::app {
SupplyView::SupplyView(Document& document, QWidget* parent) : QWidget(parent), document_(document) {
    today = [] { return QDate::currentDate(); };
    ask_files = [this] {
        return QFileDialog::getOpenFileNames(this, tr("Files that were sent with the order"));
    };
    auto* whole = new QVBoxLayout(this);
    whole->setContentsMargins(0, 0, 0, 0);
    whole->setSpacing(12);
    auto* top = new QHBoxLayout;
    top->setSpacing(12);
    top->addWidget(make_parts(), 5);
    top->addWidget(make_card(), 3);
    whole->addLayout(top, 3);
    whole->addWidget(make_orders(), 1);
}

QWidget* SupplyView::make_parts() {
    parts_sheet_ = new Sheet(tr("What the way to build needs"));
    words_ = compact_button(tr("Take over the bill"),
                            tr("Enters the parts that the chosen option's bill lists in words"));
    connect(words_, &QPushButton::clicked, this, [this] {
        const auto* option = document_.dossier().timing->find_option(document_.dossier().timing->chosen);
        if (option != nullptr) (void)enter(to_q(option->bill.parts));
    });
    old_drawer_ =
        compact_button(tr("Move to your drawer"),
                       tr("This dossier lists packages of its own; your drawer serves all dossiers"));
    connect(old_drawer_, &QPushButton::clicked, this, &SupplyView::take_old_drawer);
    auto* table = compact_button(tr("Table"), tr("Parts and drawer as CSV, in and out"));
    auto* menu = new QMenu(table);
    connect(menu->addAction(tr("Read parts or a drawer…")), &QAction::triggered, this,
            &SupplyView::table_in_wanted);
    connect(menu->addAction(tr("Write this list…")), &QAction::triggered, this,
            &SupplyView::parts_out_wanted);
    connect(menu->addAction(tr("Write the drawer…")), &QAction::triggered, this,
            &SupplyView::drawer_out_wanted);
    table->setMenu(menu);
    table->setProperty("menu", true);
    parts_sheet_->add_to_title(table);
    auto* offers = new QHBoxLayout;
    offers->addWidget(words_);
    offers->addWidget(old_drawer_);
    offers->addStretch(1);
    parts_sheet_->body()->addLayout(offers);
    entry_ = new Field;
    entry_->setPlaceholderText(tr("Add parts: 2 × resistor 4k7, socket"));
    entry_->setAccessibleName(tr("Parts in words"));
    entry_->setToolTip(tr("How many on each board, and what; with commas between"));
    entry_->commit = [this](const QString& text) -> std::optional<QString> {
        if (text.trimmed().isEmpty()) return std::nullopt;
        return enter(text);
    };
    parts_sheet_->body()->addWidget(entry_);
    parts_ = new BarList(tr("Parts"));
    connect(parts_, &BarList::chosen, this, [this] {
        order_card_ = false;
        fill_card();
    });
    parts_sheet_->body()->addWidget(parts_, 1);
    return parts_sheet_;
}

QWidget* SupplyView::make_card() {
    card_sheet_ = new Sheet(tr("Part"));
    card_sheet_->setMinimumWidth(216);
    card_sheet_->setMaximumWidth(268);
    remove_ = compact_button(tr("Remove"), tr("Undo brings it back"));
    connect(remove_, &QPushButton::clicked, this, &SupplyView::remove_picked);
    card_sheet_->add_to_title(remove_);
    cards_ = new QStackedWidget;
    make_part_fields();
    make_order_fields();
    auto* part_card = new QWidget;
    auto* column = new QVBoxLayout(part_card);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(4);
    auto* grid = new QGridLayout;
    grid->setHorizontalSpacing(8);
    kind_ = new ChoiceBox(tr("Kind"));
    for (const auto k : all_of<PartKind>()) kind_->addItem(to_q(word(k)), static_cast<int>(k));
    connect(kind_, &QComboBox::activated, this, [this] {
        if (auto line = part_fields_->shown()) {
            line->kind = static_cast<PartKind>(kind_->currentData().toInt());
            change_line(tr("kind"), *line);
        }
    });
    in_drawer_ = new Field;
    in_drawer_->setAccessibleName(tr("In your drawer"));
    in_drawer_->setToolTip(
        tr("How many you have, over all dossiers; kept beside them, so undo does not reach it"));
    in_drawer_->commit = [this](const QString& text) -> std::optional<QString> {
        const auto* row = picked_row();
        bool fine = false;
        const int count = text.trimmed().toInt(&fine);
        if (row == nullptr) return std::nullopt;
        if (!fine || count < 0 || count > most_in_drawer) return tr("Expected a whole number, 0 or more.");
        const auto part = row->part;
        const auto kind = row->kind;
        const auto problem = document_.change_drawer([&](Drawer& d) { d.set_count(part, kind, count); });
        return problem.isEmpty() ? std::optional<QString>() : problem;
    };
    grid->addWidget(secondary_label(tr("Kind")), 0, 0);
    grid->addWidget(kind_, 0, 1);
    grid->addWidget(secondary_label(tr("In your drawer")), 1, 0);
    grid->addWidget(in_drawer_, 1, 1);
    grid->setColumnStretch(1, 1);
    column->addLayout(grid);
    column->addWidget(part_fields_->box());
    column->addStretch(1);
    cards_->addWidget(part_card);
    auto* order = new QWidget;
    auto* rows = new QVBoxLayout(order);
    rows->setContentsMargins(0, 0, 0, 0);
    rows->addWidget(order_fields_->box());
    rows->addStretch(1);
    cards_->addWidget(order);
    auto* area = new QScrollArea;
    area->setWidgetResizable(true);
    area->setFrameShape(QFrame::NoFrame);
    area->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    area->setFocusPolicy(Qt::NoFocus);
    area->setWidget(cards_);
    card_sheet_->body()->addWidget(area, 1);
    return card_sheet_;
}

QWidget* SupplyView::make_orders() {
    orders_sheet_ = new Sheet(tr("Orders"));
    order_ = compact_button(tr("Ordered today"),
                            tr("Enters what is to be ordered as ordered today, one order a supplier"));
    arrived_ = compact_button(tr("Arrived today"), tr("The picked order is here"));
    sent_ = compact_button(tr("Files sent…"), tr("Keeps the SHA-256 of what was sent with the picked order"));
    connect(order_, &QPushButton::clicked, this, &SupplyView::order_missing);
    connect(arrived_, &QPushButton::clicked, this, &SupplyView::arrived_today);
    connect(sent_, &QPushButton::clicked, this, [this] { add_files(ask_files()); });
    for (auto* b : {order_, arrived_, sent_}) orders_sheet_->add_to_title(b);
    orders_ = new BarList(tr("Orders"));
    orders_->setMinimumHeight(84);
    connect(orders_, &BarList::chosen, this, [this] {
        order_card_ = true;
        fill_card();
    });
    orders_sheet_->body()->addWidget(orders_, 1);
    return orders_sheet_;
}

const PartsList& SupplyView::list() const {
    return document_.analysis().plan->parts;
}

const PartsRow* SupplyView::picked_row() const {
    const auto key = parts_->picked().toStdString();
    for (const auto& r : list().rows)
        if (part_key(r.part) == key) return &r;
    return nullptr;
}

Field* SupplyView::field(const QString& label) const {
    if (label == in_drawer_->accessibleName()) return in_drawer_;
    return order_card_ ? order_fields_->field(label) : part_fields_->field(label);
}

std::optional<QString> SupplyView::enter(const QString& text) {
    const auto parts = parts_in_words(text.toStdString());
    if (parts.empty()) return tr("Expected parts such as 2 × resistor 4k7, socket.");
    document_.apply(tr("parts"),
                    put(document_.dossier(), with_parts(*document_.dossier().supply, parts, false)));
    entry_->clear();
    entry_->show_value({});
    return std::nullopt;
}

void SupplyView::change_line(const QString& what, PartLine line) {
    // What only the network asks for gets a line of its own, which adds none to its number.
    if (line.id.empty()) {
        line.id = free_id<PartLine>(document_.dossier(), line.part);
        if (!line.per_board) line.per_board = 0;
    }
    const auto said = tr("%1 of %2").arg(what, to_q(line.part));
    document_.apply(said, put(document_.dossier(), std::move(line)));
}

void SupplyView::remove_picked() {
    if (order_card_) {
        if (const auto& order = order_fields_->shown())
            document_.apply(tr("remove an order"), drop<Order>(document_.dossier(), order->id));
        return;
    }
    const auto* row = picked_row();
    if (row == nullptr || row->line.empty()) return;
    auto next = document_.dossier();
    for (const auto& line : document_.dossier().supply->parts)
        if (part_key(line.part) == part_key(row->part)) next = drop<PartLine>(next, line.id);
    document_.apply(tr("remove %1").arg(to_q(row->part)), std::move(next));
}

void SupplyView::show_part(const QString& part) {
    parts_->pick(to_q(part_key(part.toStdString())));
    order_card_ = false;
    fill_card();
}

void SupplyView::show_order(const QString& id) {
    orders_->pick(id);
    order_card_ = true;
    fill_card();
}

void SupplyView::take_old_drawer() {
    const auto old = document_.dossier().timing->drawer;
    const auto problem = document_.change_drawer([&](Drawer& d) {
        for (const auto& text : old)
            for (const auto& line : parts_in_words(text))
                if (d.find(line.part) == nullptr)
                    d.entry(line.part, PartKind::logic).count = line.per_board.value_or(1);
    });
    if (!problem.isEmpty()) return tell(problem);
    document_.apply(tr("packages moved to the drawer"),
                    edit(document_.dossier(), &Dossier::timing, [](Timing& t) { t.drawer.clear(); }));
}

void SupplyView::refresh() {
    fill_parts();
    fill_orders();
    fill_card();
    const auto& timing = *document_.dossier().timing;
    const auto* option = timing.find_option(timing.chosen);
    words_->setVisible(option != nullptr && !option->bill.parts.empty() &&
                       document_.dossier().supply->parts.empty());
    old_drawer_->setVisible(!timing.drawer.empty());
}

}  // namespace grayrelic::app
