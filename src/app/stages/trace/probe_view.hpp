// SPDX-License-Identifier: GPL-3.0-or-later
// At the bench: the pair to probe next in letters that are read from a metre away, one key for each answer,
// the ledger below, and what contradicts.
#pragma once

#include <QCheckBox>
#include <QComboBox>
#include <QLabel>
#include <QProcess>
#include <QPushButton>
#include <QWidget>

#include "app/shell/document.hpp"
#include "app/shell/latest.hpp"
#include "app/shell/unit_box.hpp"
#include "app/widgets/caution_box.hpp"
#include "app/widgets/fact_table.hpp"
#include "app/widgets/field.hpp"
#include "app/widgets/meter_link.hpp"
#include "app/widgets/sheet.hpp"

namespace grayrelic::app {

class ProbeView : public QWidget {
    Q_OBJECT
  public:
    explicit ProbeView(Document& document, QWidget* parent = nullptr);
    void refresh();
    /// Enters a reading for the pair that is shown.
    void answer(MeterReadingKind kind);
    void skip();
    /// A chosen point becomes the first, then the second of the next entry.
    void pick_point(const QString& name);
    void show_reading(int row);
    /// One line, as typed: "J1.3 U2.14 beep".
    std::optional<QString> enter(const QString& line);

    [[nodiscard]] QString pair() const { return pair_->text(); }
    [[nodiscard]] QString why() const { return why_->text(); }
    [[nodiscard]] FactTable& ledger() { return *ledger_; }
    [[nodiscard]] Field& entry() { return *entry_; }
    [[nodiscard]] QComboBox& strategy() { return *strategy_; }
    [[nodiscard]] MeterLink& meter() { return *meter_; }
    [[nodiscard]] UnitBox& unit() { return *unit_; }
    [[nodiscard]] CautionLine& care() { return *care_; }
    [[nodiscard]] QPushButton& taken_on() { return *taken_on_; }
    [[nodiscard]] QString trouble() const { return trouble_->text(); }
    [[nodiscard]] QString progress() const { return progress_->text(); }

  Q_SIGNALS:
    void ledger_in_wanted();
    void ledger_out_wanted();

  private:
    QWidget* make_question();
    void make_answers();
    QWidget* make_trouble();
    QWidget* make_ledger();
    void replan();
    void show_plan(const TraceAnalysis& t, const ProbePlan& plan);
    void fill_ledger();
    void fill_trouble();
    void speak(const QString& text);
    void set_aside_chosen();
    void add(MeterReading reading);
    void name_unit(const std::string& unit);
    void fill_unit_menu();
    Document& document_;
    Sheet *next_, *ledger_sheet_, *trouble_sheet_;
    QLabel *pair_, *why_, *progress_, *trouble_, *meter_state_;
    QComboBox* strategy_;
    QCheckBox* spoken_;
    UnitBox* unit_;
    CautionLine* care_;
    QPushButton* taken_on_;
    Field *entry_, *meter_address_;
    FactTable* ledger_;
    QPushButton *aside_, *probe_slip_;
    MeterLink* meter_;
    QProcess* voice_ = nullptr;
    Latest<ProbePlan> planning_{this};
    QList<std::pair<QString, QString>> skipped_;
    QString a_, b_;
    QString picked_;
};

}  // namespace grayrelic::app
