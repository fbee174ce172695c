// SPDX-License-Identifier: GPL-3.0-or-later
// How many boards, of which tier, and what each working one costs; can the person solder them?
#pragma once

#include <QWidget>

#include "app/shell/document.hpp"
#include "app/widgets/fact_table.hpp"
#include "app/widgets/field.hpp"
#include "app/widgets/sheet.hpp"
#include "core/fit/order_advice.hpp"

class QPushButton;

namespace grayrelic::app {

class OrderView : public QWidget {
    Q_OBJECT
  public:
    explicit OrderView(Document& document, QWidget* parent = nullptr);
    void show_board(const std::string& id);
    [[nodiscard]] FactTable& tiers() { return *tiers_; }
    [[nodiscard]] FactTable& extras() { return *extras_; }
    [[nodiscard]] FactTable& parts() { return *parts_; }
    void select(const QString& thing);
    void remove() { remove_chosen(); }
    [[nodiscard]] Field& entry() { return *entry_; }
    [[nodiscard]] Field& want() { return *want_; }
    [[nodiscard]] Field& yield() { return *yield_; }
    [[nodiscard]] Field& respin() { return *respin_; }
    [[nodiscard]] QPushButton& ordered() { return *ordered_; }
    [[nodiscard]] QString says() const { return sheet_->about(); }
    /// A board to hold tiers where the dossier has none yet; gives its id.
    std::function<std::string()> need_board;
    /// Where the files that are sent lie; empty where there are none.
    std::function<std::optional<QString>()> files_sent;
    /// Today as YYYY-MM-DD; replaced by tests.
    std::function<QString()> today;

  private:
    QWidget* make_tiers();
    QWidget* make_parts();
    void fill();
    void fill_parts();
    void note_order();
    void fill_extras(const OrderAsk& ask);
    void remove_chosen();
    [[nodiscard]] std::optional<QString> add_line(const QString& text);
    [[nodiscard]] std::optional<QString> take_share(const QString& text,
                                                    std::optional<double> OrderAsk::*member, bool zero);
    void change(const QString& what, const std::function<void(OrderAsk&)>& how);
    [[nodiscard]] const Fabrication* board() const;
    Document& document_;
    std::string id_;
    OrderAdvice advice_;
    Sheet *sheet_, *parts_sheet_;
    FactTable *tiers_, *extras_, *parts_;
    FactTable* remove_from_ = nullptr;
    Field *entry_, *want_, *yield_, *respin_;
    QPushButton* ordered_;
};

}  // namespace grayrelic::app
