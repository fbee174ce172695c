// SPDX-License-Identifier: GPL-3.0-or-later
// A sheet: the paper that drawings and figures stand on, with a title and a line of evidence below it.
#pragma once

#include <QLabel>
#include <QVBoxLayout>
#include <QWidget>

namespace grayrelic::app {

class Sheet : public QWidget {
    Q_OBJECT
  public:
    explicit Sheet(const QString& title, QWidget* parent = nullptr);
    void set_title(const QString& title);
    /// One line, its end cut where it does not fit (the whole stands in the tooltip); with `wrapped`, several
    /// lines.
    void set_about(const QString& text, bool wrapped = false);
    [[nodiscard]] QString about() const { return about_->text(); }
    [[nodiscard]] QVBoxLayout* body() { return body_; }
    /// Puts a widget at the right end of the title's line.
    void add_to_title(QWidget* widget);

  protected:
    void paintEvent(QPaintEvent* event) override;

  private:
    QLabel* title_;
    QLabel* about_;
    QHBoxLayout* head_;
    QVBoxLayout* body_;
};

/// A label in the secondary colour, 11 px.
[[nodiscard]] QLabel* secondary_label(const QString& text, QWidget* parent = nullptr);
/// The same for one line: what is longer than the room ends in "…", and the whole stands in the tooltip that
/// its owner sets.
[[nodiscard]] QLabel* cut_label(QWidget* parent = nullptr);

}  // namespace grayrelic::app
