// SPDX-License-Identifier: GPL-3.0-or-later
// A replica's capture held against the contract and against the original's capture.
#pragma once

#include <QComboBox>
#include <QLabel>
#include <QWidget>

#include <functional>

#include "app/shell/document.hpp"
#include "app/widgets/fact_table.hpp"
#include "app/widgets/field.hpp"
#include "app/widgets/item_chooser.hpp"
#include "app/widgets/sheet.hpp"
#include "core/timing/golden.hpp"

namespace grayrelic::app {

class ReplicaView : public QWidget {
    Q_OBJECT
  public:
    explicit ReplicaView(Document& document, QWidget* parent = nullptr);
    void refresh();
    void select(const QString& pair);
    void add_pair();
    [[nodiscard]] QComboBox& original() { return *original_; }
    [[nodiscard]] QComboBox& replica() { return *replica_; }
    [[nodiscard]] Field& tolerance() { return *tolerance_; }
    [[nodiscard]] FactTable& intervals() { return *intervals_; }
    [[nodiscard]] FactTable& edges() { return *edges_; }
    [[nodiscard]] QString verdict() const { return verdict_->text(); }

  Q_SIGNALS:
    void place_wanted(const FindingPlace& place);

  private:
    [[nodiscard]] const GoldenPair* pair() const;
    void apply(GoldenPair changed);
    void change(const std::function<void(GoldenPair&)>& edit);
    void make_question();
    void make_tables();
    void open_rows(FactTable* table, const std::vector<std::optional<Time>>& at);
    void fill_boxes();
    void fill_intervals(const GoldenResult& result);
    void fill_edges(const GoldenResult& result);
    Document& document_;
    std::string selected_;
    ItemChooser* pairs_;
    QComboBox *original_, *replica_;
    Field *tolerance_, *align_;
    Sheet *pair_sheet_, *interval_sheet_, *edge_sheet_;
    QLabel* verdict_;
    FactTable *intervals_, *edges_;
    std::vector<std::optional<Time>> interval_at_, edge_at_;
};

}  // namespace grayrelic::app
