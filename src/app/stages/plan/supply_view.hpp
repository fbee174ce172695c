// SPDX-License-Identifier: GPL-3.0-or-later
// Parts and orders: what the chosen way to build needs, what of it is in the drawer, on its way or still to
// be ordered, and what must not be ordered yet.
#pragma once

#include <QDate>
#include <QPushButton>
#include <QStackedWidget>

#include <memory>

#include "app/shell/document.hpp"
#include "app/widgets/bar_list.hpp"
#include "app/widgets/card_fields.hpp"
#include "app/widgets/choice_box.hpp"
#include "core/plan/plan_analysis.hpp"

namespace grayrelic::app {

class SupplyView : public QWidget {
    Q_OBJECT
  public:
    explicit SupplyView(Document& document, QWidget* parent = nullptr);
    void refresh();
    void show_part(const QString& part);
    void show_order(const QString& id);
    /// Parts as a person lists them: "2 × resistor 4k7, socket".
    std::optional<QString> enter(const QString& text);
    /// CSV of parts, or of a drawer where it has the column count; a message when it can't be taken.
    [[nodiscard]] QString take_table(const std::string& text, const QString& name);
    void add_files(const QStringList& paths);
    [[nodiscard]] BarList& parts() { return *parts_; }
    [[nodiscard]] BarList& orders() { return *orders_; }
    [[nodiscard]] Field& entry() { return *entry_; }
    [[nodiscard]] Field* field(const QString& label) const;
    [[nodiscard]] QString about() const { return parts_sheet_->about(); }

    /// Replaced by tests.
    std::function<QStringList()> ask_files;
    std::function<QDate()> today;
    std::function<void(const QString&)> tell;

  Q_SIGNALS:
    void table_in_wanted();
    void parts_out_wanted();
    void drawer_out_wanted();

  private:
    QWidget* make_parts();
    QWidget* make_card();
    QWidget* make_orders();
    void make_part_fields();
    void make_order_fields();
    void fill_parts();
    void fill_orders();
    void fill_card();
    void change_line(const QString& what, PartLine line);
    void order_missing();
    void arrived_today();
    void remove_picked();
    void take_old_drawer();
    [[nodiscard]] const PartsRow* picked_row() const;
    [[nodiscard]] const PartsList& list() const;
    Document& document_;
    Sheet *parts_sheet_, *card_sheet_, *orders_sheet_;
    BarList *parts_, *orders_;
    Field *entry_, *in_drawer_;
    ChoiceBox* kind_;
    QStackedWidget* cards_;
    QPushButton *order_, *arrived_, *sent_, *remove_, *words_, *old_drawer_;
    std::unique_ptr<CardFields<PartLine>> part_fields_;
    std::unique_ptr<CardFields<Order>> order_fields_;
    bool order_card_ = false;
};

}  // namespace grayrelic::app
