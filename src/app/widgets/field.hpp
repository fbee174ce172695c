// SPDX-License-Identifier: GPL-3.0-or-later
// A line of text edited in place. Enter or leaving it commits, Escape takes the typing back. While there is
// typing to undo, Ctrl+Z undoes the typing; otherwise it undoes the dossier's last edit. A value that can't
// be read is framed and said, and stays until it is mended or taken back.
#pragma once

#include <QLineEdit>

#include <functional>
#include <optional>

namespace grayrelic::app {

class Field : public QLineEdit {
    Q_OBJECT
  public:
    explicit Field(QWidget* parent = nullptr);
    /// Shows a value without committing it; typing in progress is kept.
    void show_value(const QString& text);
    /// Gives a message when the text can't be taken, nothing when it was.
    std::function<std::optional<QString>(const QString&)> commit;
    [[nodiscard]] QString problem() const { return problem_; }
    /// Two reasons why nothing can be typed here, each of its own: what it shows is computed, or the whole
    /// dossier can't be changed.
    void set_computed(bool on) {
        computed_ = on;
        setReadOnly(computed_ || fixed_);
    }
    void set_fixed(bool on) {
        fixed_ = on;
        setReadOnly(computed_ || fixed_);
    }

  protected:
    bool event(QEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

  private:
    void finish();
    void set_problem(const QString& text);
    bool computed_ = false, fixed_ = false;
    QString shown_;
    QString problem_;
    QString hint_;
};

}  // namespace grayrelic::app
