// SPDX-License-Identifier: GPL-3.0-or-later
// One sentence over a capture that is not read yet: what it could be, as found in the background, with the
// button that reads it so and the one that shows why.
#pragma once

#include <QLabel>
#include <QPushButton>

#include "app/shell/document.hpp"
#include "core/listen/listen_analysis.hpp"

namespace grayrelic::app {

class FoundLine : public QWidget {
    Q_OBJECT
  public:
    explicit FoundLine(Document& document, QWidget* parent = nullptr);
    void show_capture(const std::shared_ptr<const CaptureAnalysis>& capture);
    [[nodiscard]] QString text() const { return text_->text(); }
    [[nodiscard]] QPushButton& read_button() { return *read_; }
    [[nodiscard]] QPushButton& why_button() { return *why_; }

  Q_SIGNALS:
    void read();
    void why_wanted();

  protected:
    void paintEvent(QPaintEvent* event) override;

  private:
    [[nodiscard]] std::vector<Candidate> links() const;
    [[nodiscard]] QString sentence(const std::vector<Candidate>& together) const;
    Document& document_;
    std::shared_ptr<const CaptureAnalysis> capture_;
    QLabel* text_;
    QPushButton *read_, *why_;
};

}  // namespace grayrelic::app
