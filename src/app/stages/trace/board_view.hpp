// SPDX-License-Identifier: GPL-3.0-or-later
// The board: its scans to scale, corrections by strokes, dimensions, and what the copper shows.
#pragma once

#include <QAction>
#include <QCheckBox>
#include <QComboBox>
#include <QLabel>
#include <QPushButton>
#include <QWidget>

#include "app/shell/document.hpp"
#include "app/shell/latest.hpp"
#include "app/stages/trace/board_canvas.hpp"
#include "app/widgets/field.hpp"
#include "app/widgets/sheet.hpp"

namespace grayrelic::app {

class BoardView : public QWidget {
    Q_OBJECT
  public:
    explicit BoardView(Document& document, QWidget* parent = nullptr);
    void refresh();
    void add_scan(const QString& path, BoardSide side);
    [[nodiscard]] BoardCanvas& canvas() { return *canvas_; }
    [[nodiscard]] QComboBox& side() { return *side_; }
    [[nodiscard]] QComboBox& tool() { return *tool_; }
    [[nodiscard]] QString figures() const { return figures_->text(); }
    [[nodiscard]] Field& reference_field() { return *reference_; }
    [[nodiscard]] Field& measure_field() { return *keep_; }
    [[nodiscard]] QPushButton& merge_button() { return *merge_; }
    bool write_to(const QString& path);

  Q_SIGNALS:
    void scan_wanted(BoardSide side);
    void export_wanted();

  private:
    QWidget* make_board();
    QWidget* make_facts();
    std::optional<QString> place_reference(const QString& text);
    std::optional<QString> keep_measure(const QString& name);
    void tell_what_can_be_taken_back();
    void take_line(QPointF from, QPointF to);
    void take_reference(QPointF pixel);
    void take_click(ClickKind kind, QPointF at);
    [[nodiscard]] std::pair<std::size_t, std::vector<ScanClick>> unread_clicks() const;
    void answer_at_once();
    [[nodiscard]] QStringList seen_in_scans() const;
    [[nodiscard]] QStringList to_probe() const;
    void merge();
    void change_scan(const QString& what, const std::function<void(Scan&)>& change);
    [[nodiscard]] BoardSide shown_side() const;
    Document& document_;
    Sheet *sheet_, *facts_;
    BoardCanvas* canvas_;
    QComboBox *side_, *tool_;
    QCheckBox* found_;
    QLabel *figures_, *hint_;
    Field *reference_, *keep_;
    QPushButton* merge_;
    QAction *undo_stroke_, *clear_references_, *clear_clicks_;
    QPointF pixel_;
    QString measured_, answer_;
    double measured_mm_ = 0;
    Latest<std::optional<ScanSight>> sight_{this};
    std::pair<BoardSide, std::vector<ScanClick>> asked_;  ///< what the part in sight was asked last
};

}  // namespace grayrelic::app
