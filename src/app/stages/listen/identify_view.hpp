// SPDX-License-Identifier: GPL-3.0-or-later
// What is this? The capture's signals held against every protocol family, best first, with what each explains
// and what can't be told apart; one button adopts one.
#pragma once

#include <QLabel>
#include <QPushButton>

#include "app/shell/document.hpp"
#include "app/shell/latest.hpp"
#include "app/widgets/fact_table.hpp"
#include "app/widgets/sheet.hpp"
#include "core/decode/identify.hpp"
#include "core/listen/listen_analysis.hpp"

namespace grayrelic::app {

class WaveView;

class IdentifyView : public QWidget {
    Q_OBJECT
  public:
    explicit IdentifyView(Document& document, QWidget* parent = nullptr);
    /// Starts identifying when it is another capture than before.
    void show_capture(std::shared_ptr<const CaptureAnalysis> capture);
    [[nodiscard]] FactTable& table() { return *table_; }
    [[nodiscard]] QPushButton& adopt_button() { return *adopt_; }
    /// Reads all links that hold together; shown while there are several.
    [[nodiscard]] QPushButton& adopt_all_button() { return *adopt_all_; }
    [[nodiscard]] QString verdict() const { return verdict_->text(); }
    [[nodiscard]] const std::vector<Candidate>& candidates() const { return candidates_; }

  Q_SIGNALS:
    void adopted();

  protected:
    void changeEvent(QEvent* event) override;

    [[nodiscard]] WaveView& waves() { return *waves_; }

  private:
    void fill(const std::vector<Candidate>& list);
    void describe(int row);
    void try_words(const Candidate& candidate);
    void show_words(const std::shared_ptr<const CaptureAnalysis>& read);
    void adopt();
    void adopt_all();
    [[nodiscard]] std::vector<std::size_t> links() const;
    [[nodiscard]] QString names_of(const std::vector<std::size_t>& list) const;
    Document& document_;
    std::shared_ptr<const CaptureAnalysis> capture_;
    std::shared_ptr<const Capture> identified_;
    std::vector<Candidate> candidates_;
    Sheet* sheet_;
    QLabel* verdict_;
    FactTable* table_;
    QLabel* about_;
    QPushButton *adopt_, *adopt_all_;
    QLabel* reads_;
    WaveView* waves_;
    Latest<std::shared_ptr<const Decoding>> trying_{this};
    Latest<std::vector<Candidate>> working_{this};
};

}  // namespace grayrelic::app
