// SPDX-License-Identifier: GPL-3.0-or-later
// The old device drawn, walked through, assigned.
#pragma once

#include <QPushButton>
#include <QWidget>

#include <functional>

#include "app/stages/map/device_canvas.hpp"
#include "app/stages/map/key_panel.hpp"

namespace grayrelic::app {

class DeviceView : public QWidget {
    Q_OBJECT
  public:
    explicit DeviceView(Document& document, QWidget* parent = nullptr);
    void refresh();
    void select(const QString& key);
    void begin();
    [[nodiscard]] DeviceCanvas& canvas() { return *canvas_; }
    [[nodiscard]] KeyPanel& panel() { return *panel_; }
    [[nodiscard]] Field& walk() { return *walk_; }
    [[nodiscard]] QPushButton& pressing() { return *pressing_; }
    [[nodiscard]] QPushButton& recording() { return *recording_; }
    [[nodiscard]] QPushButton& proposals() { return *proposals_; }
    [[nodiscard]] QString about() const { return sheet_->about(); }
    /// A table of keys; a message when it can't be taken.
    [[nodiscard]] QString take_table(const std::string& text, const QString& name);
    std::function<QString()> ask_out;  ///< where the table is written; replaced by tests

  private:
    void make_head();
    std::optional<QString> add_walked(const QString& text);
    void assign_pressed(QKeyEvent* event);
    void take_proposals();
    void next_key();
    void write_table();
    void fill_recordings();
    Document& document_;
    Sheet* sheet_;
    DeviceCanvas* canvas_;
    KeyPanel* panel_;
    Field* walk_;
    ChoiceBox* way_;
    QPushButton *pressing_, *proposals_, *remove_, *write_, *recording_;
    std::string chosen_;
    QString problem_;
};

}  // namespace grayrelic::app
