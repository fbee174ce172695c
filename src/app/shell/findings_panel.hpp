// SPDX-License-Identifier: GPL-3.0-or-later
// The findings on the right: those of the stage in view, or all, the worst first. Each leads to its place.
// Three and more of one kind and weight stand behind one card until it is unfolded. Cards stay as long as
// what they say does, so that whoever walks them by keys keeps the place.
#pragma once

#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>
#include <QWidget>

#include <map>
#include <optional>
#include <set>
#include <tuple>

#include "app/shell/finding_card.hpp"

class QScrollArea;

namespace grayrelic::app {

class FindingsPanel : public QWidget {
    Q_OBJECT
  public:
    explicit FindingsPanel(QWidget* parent = nullptr);
    /// `more_to_come`: the checks are not all made yet.
    void show_findings(const Findings& findings, Stage stage, bool more_to_come);
    void toggle_all();
    void step(int direction);  ///< next or previous finding, around the end; unfolds what it comes to
    [[nodiscard]] const QList<FindingCard*>& cards() const { return cards_; }  ///< that are seen
    [[nodiscard]] QString summary() const { return counts_->text(); }

  Q_SIGNALS:
    void opened(const Finding& finding);

  protected:
    void paintEvent(QPaintEvent* event) override;

  private:
    using Kind = std::tuple<Severity, Stage, std::string>;
    [[nodiscard]] static Kind kind_of(const Finding& f) { return {f.severity, f.stage, f.id}; }
    void show_cards();
    void say_counts();
    void open(const Finding& finding);
    void fold(const Kind& kind, bool fold);
    void mark_current();
    [[nodiscard]] std::vector<FindingCard::Shown> rows() const;
    Findings findings_;
    Stage stage_ = Stage::port;
    bool more_to_come_ = false;
    QLabel* counts_;
    QPushButton* all_;
    QScrollArea* area_;
    QWidget* list_;
    QVBoxLayout* list_layout_;
    QList<FindingCard*> cards_;
    std::map<std::string, FindingCard*> by_key_;
    std::set<Kind> unfolded_;
    std::optional<Finding> current_;  ///< opened last: it stays marked
};

}  // namespace grayrelic::app
