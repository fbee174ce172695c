// SPDX-License-Identifier: GPL-3.0-or-later
// A line of text edited in place. Enter or leaving it commits, Escape takes the typing back. While there is
// typing to undo, Ctrl+Z undoes the typing; otherwise it undoes the dossier's last edit. A value that can't
// be read is framed, a note beside it says why, and both stay until it is mended or taken back. What is
// longer than the field ends in "…" while nobody types in it, and stands in the tooltip.
#pragma once

#include <QLabel>
#include <QLineEdit>
#include <QPointer>

#include <functional>
#include <optional>

namespace grayrelic::app {

class Field : public QLineEdit {
    Q_OBJECT
  public:
    explicit Field(QWidget* parent = nullptr);
    ~Field() override;
    /// Shows a value without committing it; typing in progress is kept.
    void show_value(const QString& text);
    /// Gives a message when the text can't be taken, nothing when it was.
    std::function<std::optional<QString>(const QString&)> commit;
    [[nodiscard]] QString problem() const { return problem_; }
    /// The note beside the field that says the problem; null while there is none.
    [[nodiscard]] QLabel* note() const { return note_; }
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
    void moveEvent(QMoveEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;
    void hideEvent(QHideEvent* event) override;
    void showEvent(QShowEvent* event) override;
    void paintEvent(QPaintEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

  private:
    void finish();
    void set_problem(const QString& text);
    void place_note();
    bool computed_ = false, fixed_ = false;
    QString shown_;
    QString problem_;
    QString hint_;
    QString own_tip_, shown_tip_;
    bool tip_known_ = false;
    QPointer<QLabel> note_;  ///< of the window, over what lies beside the field
};

}  // namespace grayrelic::app
