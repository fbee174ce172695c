// SPDX-License-Identifier: GPL-3.0-or-later
// The contract as a whole: one timing figure, the interval that is picked with its facts, its figures capture
// by capture, and what the captures hold that the contract does not allow.
#pragma once

#include <QCheckBox>
#include <QComboBox>
#include <QLabel>
#include <QPushButton>
#include <QWidget>

#include "app/shell/document.hpp"
#include "app/widgets/drawing_view.hpp"
#include "app/widgets/fact_row.hpp"
#include "app/widgets/fact_table.hpp"
#include "app/widgets/histogram_view.hpp"
#include "app/widgets/sheet.hpp"

namespace grayrelic::app {

class ContractEditor : public QWidget {
    Q_OBJECT
  public:
    explicit ContractEditor(Document& document, QWidget* parent = nullptr);
    void refresh();
    void select(const QString& interval);
    /// A line over the figure.
    void say(const QString& text) { figure_sheet_->set_about(text, true); }
    [[nodiscard]] QString selected() const;
    /// From the first capture that is decoded, or the one the question is asked of: one action.
    void derive();
    void add_interval();
    [[nodiscard]] DrawingView& figure() { return *figure_; }
    [[nodiscard]] Field* field(const QString& key) const { return fields_.value(key); }
    [[nodiscard]] QComboBox& kind() { return *kind_; }
    [[nodiscard]] FactTable& breaches() { return *breaches_; }
    [[nodiscard]] QPushButton& derive_button() { return *derive_; }

  Q_SIGNALS:
    void place_wanted(const FindingPlace& place);

  private:
    QWidget* make_figure();
    QWidget* make_facts();
    void make_fields();
    void make_captures();
    QLayout* make_right();
    void fill_facts();
    void fill_breaches();
    [[nodiscard]] const ContractInterval* interval() const;
    std::optional<QString> change(const QString& key, const QString& text);
    void change_capture(const QString& id, bool on);
    Document& document_;
    std::string selected_;
    DrawingView* figure_;
    Sheet *figure_sheet_, *facts_sheet_, *breach_sheet_;
    QPushButton *derive_, *add_, *remove_, *captures_;
    QMap<QString, Field*> fields_;
    QComboBox* kind_;
    EvidenceButton* evidence_;
    HistogramView* histogram_;
    QLabel* specimens_;
    FactTable* breaches_;
    std::vector<FindingPlace> breach_places_;
};

}  // namespace grayrelic::app
