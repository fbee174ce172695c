// SPDX-License-Identifier: GPL-3.0-or-later
// The joint sheet of a unit, line by line with the meter: B for a beep, O for none, M for what a
// connected meter says, into the unit's readings.
#pragma once

#include <QLabel>
#include <QWidget>

#include "app/stages/build/assembly_view.hpp"
#include "app/widgets/meter_link.hpp"

namespace grayrelic::app {

class JointsView : public QWidget {
    Q_OBJECT
  public:
    explicit JointsView(Document& document, QWidget* parent = nullptr);
    void show_bench(const Bench_ptr& bench, const std::string& unit);
    void select(const QString& joint);
    [[nodiscard]] FactTable& lines() { return *lines_; }
    [[nodiscard]] QString says() const { return sheet_->about(); }
    [[nodiscard]] QString question() const { return question_->text(); }
    /// What the meter said of the chosen line, or of the first that was not taken; then on to the next.
    void answer(bool beeped);
    /// Asks the connected meter for the line.
    void measure();
    [[nodiscard]] MeterLink& meter() { return *meter_; }
    [[nodiscard]] Field& meter_address() { return *address_; }
    std::function<QString()> today;

  private:
    void fill();
    void ask();
    [[nodiscard]] std::optional<std::size_t> chosen() const;
    Document& document_;
    Bench_ptr bench_;
    std::string unit_;
    bool filling_ = false;
    Sheet *sheet_, *ask_sheet_;
    FactTable* lines_;
    QLabel *question_, *why_;
    Field* address_;
    MeterLink* meter_;
    QString tool_;  ///< what said the answer that is being taken
};

}  // namespace grayrelic::app
