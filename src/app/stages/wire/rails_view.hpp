// SPDX-License-Identifier: GPL-3.0-or-later
// Rails: what flows from the sources to the loads, by mode; what follows for each rail and part; what
// plugging in, switching and unplugging does; and the person's own lines.
#pragma once

#include <QComboBox>
#include <QLabel>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QScrollArea>
#include <QTimer>
#include <QWidget>

#include "app/shell/document.hpp"
#include "app/widgets/drawing_view.hpp"
#include "app/widgets/fact_table.hpp"
#include "app/widgets/field.hpp"
#include "app/widgets/sheet.hpp"

namespace grayrelic {
struct RailModeFigures;
struct RailStudy;
}  // namespace grayrelic

namespace grayrelic::app {

class RailsView : public QWidget {
    Q_OBJECT
  public:
    explicit RailsView(Document& document, QWidget* parent = nullptr);
    void refresh();
    /// "rail V5", "part U1", "source USB", "line 3".
    void select(const QString& place);
    /// Takes what is typed, before the pause is over.
    void commit_text();
    /// Begins from the ports' supplies.
    void begin();
    [[nodiscard]] QPlainTextEdit& text() { return *text_; }
    [[nodiscard]] FactTable& figures() { return *figures_; }
    [[nodiscard]] FactTable& events() { return *events_; }
    [[nodiscard]] QComboBox& modes() { return *modes_; }
    [[nodiscard]] DrawingView& drawing() { return *drawing_; }
    [[nodiscard]] QPushButton& begin_button() { return *begin_; }
    [[nodiscard]] QString problem() const { return problem_->text(); }
    /// Reads a file of rails in place of the text; a message when it can't be.
    std::optional<QString> read_file(const QString& path);
    std::function<QString()> ask_file, ask_save;  ///< replaced by tests

  protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

  private:
    QWidget* make_drawing();
    QWidget* make_figures();
    QWidget* make_text();
    void redraw();
    void say_in_full(const QString& text);
    void fill_modes();
    void fill_figures();
    void fill_events();
    void fill_text();
    [[nodiscard]] const RailStudy* study() const;
    [[nodiscard]] const RailModeFigures* mode() const;
    Document& document_;
    Sheet *drawing_sheet_, *figures_sheet_, *text_sheet_;
    DrawingView* drawing_;
    QScrollArea* drawing_area_;
    QComboBox* modes_;
    FactTable *figures_, *events_;
    QPlainTextEdit* text_;
    QLabel *problem_, *detail_;
    QPushButton *begin_, *read_, *write_;
    QTimer pause_;
    QString shown_;
    std::string mode_;
    bool mode_picked_ = false;  ///< by the person
    std::string chosen_;
};

}  // namespace grayrelic::app
