// SPDX-License-Identifier: GPL-3.0-or-later
// How a port is going to be recorded: each line's way to the analyser, what is wanted of the recording, and
// what to do in which order.
#pragma once

#include <QComboBox>
#include <QLabel>
#include <QPushButton>
#include <QWidget>

#include <functional>

#include "app/shell/document.hpp"
#include "app/widgets/caution_box.hpp"
#include "app/widgets/choice_box.hpp"
#include "app/widgets/drawing_view.hpp"
#include "app/widgets/fact_table.hpp"
#include "app/widgets/field.hpp"
#include "app/widgets/sheet.hpp"
#include "core/port/tap_plan.hpp"

namespace grayrelic::app {

class TapView : public QWidget {
    Q_OBJECT
  public:
    explicit TapView(Document& document, QWidget* parent = nullptr);
    void show_port(const QString& id);
    [[nodiscard]] DrawingView& drawing() { return *drawing_; }
    [[nodiscard]] FactTable& wishes() { return *wishes_; }
    [[nodiscard]] FactTable& lines() { return *lines_; }
    [[nodiscard]] QComboBox& analyser() { return *analyser_; }
    [[nodiscard]] Field& shortest() { return *shortest_; }
    [[nodiscard]] QString said() const { return steps_->text(); }
    [[nodiscard]] const TapStudy& study() const { return study_; }
    bool write_card_to(const QString& path);
    std::function<QString()> ask_card;  ///< replaced by tests

  private:
    QWidget* make_drawing();
    QWidget* make_wanted();
    void change(const QString& what, const std::function<void(TapPlan&)>& edit);
    void edit_wish(int row, int column, const QString& text);
    void fill_wishes(const Port& port);
    void fill_lines();
    void choose(const std::string& id);
    void say();
    Document& document_;
    Sheet *drawing_sheet_, *wanted_sheet_, *steps_sheet_;
    DrawingView* drawing_;
    QComboBox* analyser_;
    QPushButton *card_, *remove_;
    Field* shortest_;
    FactTable *wishes_, *lines_;
    QLabel *line_, *steps_;
    CautionBox* cautions_;
    QString port_;
    TapStudy study_;
    std::string chosen_;
};

}  // namespace grayrelic::app
