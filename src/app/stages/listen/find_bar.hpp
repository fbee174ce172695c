// SPDX-License-Identifier: GPL-3.0-or-later
// Find in a capture: pulses, levels, pauses, edges in an order, words, and what the contract does not allow.
// Hits are marked in the waves and walked with next and previous.
#pragma once

#include <QComboBox>
#include <QGridLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QStackedWidget>
#include <QWidget>

#include "app/shell/document.hpp"
#include "app/shell/latest.hpp"
#include "core/decode/find_frames.hpp"
#include "core/listen/listen_analysis.hpp"
#include "core/signal/measure.hpp"

namespace grayrelic::app {

class FindBar : public QWidget {
    Q_OBJECT
  public:
    explicit FindBar(Document& document, QWidget* parent = nullptr);
    enum Kind { pulse, levels, pause, order, words, contract };
    void show_capture(std::shared_ptr<const CaptureAnalysis> capture);
    void begin();  ///< the field to type in gets the focus
    void choose(Kind kind);
    /// Searches when the question is new, then goes on in this direction.
    void step(int direction);

    [[nodiscard]] QComboBox& signal_box() { return *signal_; }
    [[nodiscard]] QComboBox& level_box() { return *level_; }
    [[nodiscard]] QComboBox& length_box() { return *length_; }
    [[nodiscard]] QLineEdit& time_field() { return *time_; }
    [[nodiscard]] QLineEdit& text_field() { return *text_; }
    [[nodiscard]] QLineEdit& while_field() { return *while_; }
    [[nodiscard]] QString answer() const { return answer_->text(); }

  Q_SIGNALS:
    void found(std::vector<Interval> hits, int direction);
    void step_wanted(int direction);

  protected:
    void resizeEvent(QResizeEvent* event) override;

  private:
    void place(bool narrow);
    void fit_rows(int width);
    struct Hits {
        std::vector<Interval> list;
        QString problem;
    };
    [[nodiscard]] Kind kind() const { return static_cast<Kind>(kind_->currentIndex()); }
    void fit_fields();
    [[nodiscard]] FindText typed() const;
    void show_hits(const Hits& hits, int direction);
    void say(const QString& text, bool problem);
    Document& document_;
    std::shared_ptr<const CaptureAnalysis> capture_;
    QComboBox *kind_, *signal_, *level_, *length_;
    QLineEdit *time_, *text_, *while_;
    QPushButton *previous_, *next_;
    QLabel* answer_;
    QGridLayout* grid_;
    QWidget *question_, *tail_;
    bool narrow_ = false;  ///< the conditions and buttons stand in a row of their own
    QString asked_;        ///< the question whose hits are marked
    Latest<Hits> finding_{this};
};

}  // namespace grayrelic::app
