// SPDX-License-Identifier: GPL-3.0-or-later
// What is asked: in which capture, after which event which line has to answer, and when the host looks.
#pragma once

#include <QComboBox>

#include "app/shell/document.hpp"
#include "app/shell/latest.hpp"
#include "app/widgets/fact_row.hpp"
#include "app/widgets/sheet.hpp"
#include "core/timing/derive_contract.hpp"
#include "core/timing/timing_analysis.hpp"

namespace grayrelic::app {

class QuestionBar : public Sheet {
    Q_OBJECT
  public:
    explicit QuestionBar(Document& document, QWidget* parent = nullptr);
    void refresh();
    [[nodiscard]] QComboBox& capture() { return *capture_; }
    [[nodiscard]] QComboBox& trigger() { return *trigger_; }
    [[nodiscard]] QComboBox& answer() { return *answer_; }
    [[nodiscard]] FactRow& look() { return *look_; }
    [[nodiscard]] FactRow& guard() { return *guard_; }

  private:
    void make_facts();
    void fill_edges();
    void ask();
    void say_unsure();
    Document& document_;
    std::shared_ptr<const Decoding> derived_from_;
    DerivedContract derived_;
    Latest<DerivedContract> deriving_{this};
    QComboBox *capture_, *trigger_, *answer_;
    FactRow *look_, *guard_;
};

}  // namespace grayrelic::app
