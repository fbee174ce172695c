// SPDX-License-Identifier: GPL-3.0-or-later
// Cables: both ends from the side they are soldered, the wires with their colours, and the printed card.
#pragma once

#include <QComboBox>
#include <QLabel>
#include <QPushButton>
#include <QWidget>

#include <functional>

#include "app/shell/document.hpp"
#include "app/stages/port/connector_view.hpp"
#include "app/widgets/caution_box.hpp"
#include "app/widgets/fact_table.hpp"
#include "app/widgets/field.hpp"
#include "app/widgets/item_chooser.hpp"
#include "app/widgets/sheet.hpp"
#include "core/port/cable.hpp"

namespace grayrelic {
struct WireAnalysis;
}

namespace grayrelic::app {

class CableView : public QWidget {
    Q_OBJECT
  public:
    explicit CableView(Document& document, QWidget* parent = nullptr);
    void refresh();
    void show_cable(const QString& id);
    /// Where the card is written; empty when the person changed their mind. Replaced by tests.
    std::function<QString()> ask_card;
    bool write_card_to(const QString& path, bool letter);
    [[nodiscard]] ItemChooser& chooser() { return *which_; }
    [[nodiscard]] FactTable& wires() { return *table_; }
    [[nodiscard]] QComboBox& lay() { return *lay_; }
    [[nodiscard]] QString verdict() const { return verdict_->text(); }
    void add_cable();

  private:
    QWidget* make_end(bool first);
    void make_head();
    [[nodiscard]] const Cable* cable() const;
    void change(const QString& what, const std::function<void(Cable&)>& edit);
    void commit_table();
    [[nodiscard]] std::vector<CableWire> typed_wires() const;  ///< those with both ends
    void lay_wires();
    void fill_ends();
    void say_faults(const Cable& cable, const grayrelic::CableView& view, CableLay lay,
                    std::vector<Verdict>& verdicts);
    Document& document_;
    ItemChooser* which_;
    QComboBox *lay_, *port_a_, *port_b_, *half_a_, *half_b_;
    Field* stripe_;
    Sheet *sheet_a_, *sheet_b_, *sheet_;
    ConnectorView *face_a_, *face_b_;
    QLabel* verdict_;
    FactTable* table_;
    QPushButton* card_;
    QString shown_id_ = QStringLiteral("nothing shown yet");
    Section<std::vector<Cable>> shown_cables_;
    Section<std::vector<Port>> shown_ports_;
    std::shared_ptr<const WireAnalysis> shown_wire_;
};

}  // namespace grayrelic::app
