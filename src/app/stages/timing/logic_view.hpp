// SPDX-License-Identifier: GPL-3.0-or-later
// Networks of parts: the net list on the left, the ladder that follows from it on the right, and the bench
// below.
#pragma once

#include <QLabel>
#include <QListWidget>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QTabBar>
#include <QTimer>
#include <QWidget>

#include "app/shell/document.hpp"
#include "app/stages/timing/logic_bench.hpp"
#include "app/widgets/drawing_view.hpp"
#include "app/widgets/item_chooser.hpp"
#include "app/widgets/sheet.hpp"

namespace grayrelic::app {

class LogicView : public QWidget {
    Q_OBJECT
  public:
    explicit LogicView(Document& document, QWidget* parent = nullptr);
    void refresh();
    void select(const QString& network);
    void add_network(const QString& name, const QString& text);
    [[nodiscard]] QPlainTextEdit& text() { return *text_; }
    [[nodiscard]] QListWidget& problems() { return *problems_; }
    [[nodiscard]] ItemChooser& networks() { return *networks_; }
    [[nodiscard]] DrawingView& ladder() { return *ladder_; }
    [[nodiscard]] LogicBench& bench() { return *bench_; }
    void commit_text();

  protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

  private:
    void make_chooser();
    QWidget* make_list();
    QWidget* make_ladder();
    void write_verilog();
    void show_problems(const Network& network);
    void draw();
    [[nodiscard]] const LogicNetwork* network() const;
    Document& document_;
    std::string selected_;
    ItemChooser* networks_;
    QPushButton* verilog_;
    QPlainTextEdit* text_;
    QListWidget* problems_;
    Sheet *list_sheet_, *ladder_sheet_;
    DrawingView* ladder_;
    LogicBench* bench_;
    QTimer pause_;  ///< after the last key, before the text becomes an edit
    QString shown_;
};

}  // namespace grayrelic::app
