// SPDX-License-Identifier: GPL-3.0-or-later
// Measured rates: which clock and dividers of the era explain them, what a modern clock makes of them, and
// whether a receiver would still sample inside each bit; beside them a software loop's cycles.
#pragma once

#include <QComboBox>
#include <QLabel>
#include <QPushButton>
#include <QWidget>

#include "app/shell/document.hpp"
#include "app/stages/timing/margin_bars.hpp"
#include "app/widgets/fact_row.hpp"
#include "app/widgets/fact_table.hpp"
#include "app/widgets/item_chooser.hpp"
#include "app/widgets/sheet.hpp"
#include "core/timing/clock_explain.hpp"

namespace grayrelic::app {

class ClockView : public QWidget {
    Q_OBJECT
  public:
    explicit ClockView(Document& document, QWidget* parent = nullptr);
    void refresh();
    void select(const QString& clock);
    void add_clock();
    [[nodiscard]] ItemChooser& rates() { return *studies_; }
    [[nodiscard]] FactRow& rate() { return *rate_; }
    [[nodiscard]] FactRow& modern() { return *clock_; }
    [[nodiscard]] FactTable& candidates() { return *candidates_; }
    [[nodiscard]] Field* field(const QString& key) const { return fields_.value(key); }
    [[nodiscard]] QString serial_text() const { return serial_text_->text(); }
    [[nodiscard]] Field& loop_clock() { return *loop_clock_; }
    [[nodiscard]] Field& loop_cycles_field() { return *loop_cycles_; }
    [[nodiscard]] QString loop_text() const { return loop_text_->text(); }

  private:
    void make_chooser();
    void make_facts();
    void make_fields();
    QWidget* make_candidates();
    QWidget* make_serial();
    QWidget* make_loop();
    void decide();
    void fill_candidates(const ClockExplanation& explanation);
    [[nodiscard]] const ClockStudy* study() const;
    void apply(ClockStudy changed);
    std::optional<QString> change(const QString& key, const QString& text);
    void compute_loop();
    Document& document_;
    std::string selected_;
    ItemChooser* studies_;
    QComboBox* divider_;
    QPushButton* believe_;
    Sheet *study_sheet_, *candidates_sheet_, *serial_sheet_;
    FactRow *rate_, *clock_;
    QMap<QString, Field*> fields_;
    FactTable* candidates_;
    QLabel *advice_, *serial_text_, *loop_text_;
    MarginBars* bars_;
    Field *loop_clock_, *loop_cycles_, *loop_rate_;
};

}  // namespace grayrelic::app
