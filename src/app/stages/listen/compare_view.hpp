// SPDX-License-Identifier: GPL-3.0-or-later
// An original against a replica: signal by signal, what is missing, what is extra, how much later, and both
// drawn over each other where they part.
#pragma once

#include <QComboBox>
#include <QLabel>

#include "app/shell/document.hpp"
#include "app/shell/latest.hpp"
#include "app/stages/listen/pair_plot.hpp"
#include "app/widgets/fact_table.hpp"
#include "app/widgets/field.hpp"
#include "app/widgets/sheet.hpp"
#include "core/decode/compare_frames.hpp"
#include "core/decode/decoder.hpp"
#include "core/listen/listen_analysis.hpp"
#include "core/signal/compare_captures.hpp"

namespace grayrelic::app {

class CompareView : public QWidget {
    Q_OBJECT
  public:
    explicit CompareView(Document& document, QWidget* parent = nullptr);
    void refresh();
    [[nodiscard]] QComboBox& original() { return *original_; }
    [[nodiscard]] QComboBox& replica() { return *replica_; }
    [[nodiscard]] FactTable& table() { return *table_; }
    [[nodiscard]] QString verdict() const { return verdict_->text(); }
    [[nodiscard]] PairPlot& plot() const { return *plot_; }
    [[nodiscard]] Field& tolerance() { return *tolerance_; }

  protected:
    void changeEvent(QEvent* event) override;

  private:
    struct Compared : CaptureComparison {
        std::optional<FrameComparison> words;  ///< when both are read by the same family
    };
    using Answer = std::shared_ptr<const Compared>;
    [[nodiscard]] static std::pair<std::shared_ptr<const Decoding>, std::shared_ptr<const Decoding>> words_of(
        const CaptureAnalysis& a, const CaptureAnalysis& b);
    void compare();
    void fill(const Answer& answer);
    void show_at(Time at);
    [[nodiscard]] const CaptureAnalysis* chosen(const QComboBox& box) const;
    Document& document_;
    QComboBox *original_, *replica_, *align_;
    Field* tolerance_;
    QLabel* verdict_;
    FactTable* table_;
    PairPlot* plot_;
    std::optional<Time> tolerance_time_;
    /// What is compared; it holds the captures, so that others can't stand in their place.
    struct Question {
        std::shared_ptr<const Capture> a, b;
        std::shared_ptr<const Decoding> words_a, words_b;
        QString align;
        std::optional<Time> tolerance;
        bool operator==(const Question&) const = default;
    };
    std::optional<Question> asked_;
    Answer answer_;
    Latest<Answer> comparing_{this};
};

}  // namespace grayrelic::app
