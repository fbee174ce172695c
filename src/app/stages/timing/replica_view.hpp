// SPDX-License-Identifier: GPL-3.0-or-later
// A replica's capture held against the contract and against the original's capture.
#pragma once

#include <QComboBox>
#include <QLabel>
#include <QPushButton>
#include <QWidget>

#include "app/shell/document.hpp"
#include "app/widgets/fact_table.hpp"
#include "app/widgets/field.hpp"
#include "app/widgets/sheet.hpp"

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
    Document& document_;
    std::string selected_;
    QComboBox *pairs_, *original_, *replica_;
    Field *tolerance_, *align_;
    QPushButton *add_, *remove_;
    Sheet *pair_sheet_, *interval_sheet_, *edge_sheet_;
    QLabel* verdict_;
    FactTable *intervals_, *edges_;
    std::vector<std::optional<Time>> interval_at_, edge_at_;
};

}  // namespace grayrelic::app
