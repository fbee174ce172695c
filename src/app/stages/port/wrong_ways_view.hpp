// SPDX-License-Identifier: GPL-3.0-or-later
// Every wrong way to plug a port: the cases with their verdicts, the two faces laid over each other, what
// meets where, what prevents the worst, and the cautions of plugging.
#pragma once

#include <QComboBox>
#include <QLabel>
#include <QListWidget>
#include <QMenu>
#include <QWidget>

#include "app/shell/document.hpp"
#include "app/shell/latest.hpp"
#include "app/widgets/caution_box.hpp"
#include "app/widgets/sheet.hpp"
#include "core/port/bricks.hpp"
#include "core/port/misinsert.hpp"
#include "core/report/connector_figure.hpp"

namespace grayrelic::app {

class WrongWaysView : public QWidget {
    Q_OBJECT
  public:
    explicit WrongWaysView(Document& document, QWidget* parent = nullptr);
    void show_port(const QString& port);
    [[nodiscard]] QListWidget& cases() { return *list_; }
    [[nodiscard]] QComboBox& against() { return *against_; }
    [[nodiscard]] QString collisions() const { return text_->text(); }
    [[nodiscard]] QString remedy() const { return remedy_->text(); }
    [[nodiscard]] QMenu& nearby() { return *nearby_; }
    [[nodiscard]] CautionBox& cautions() { return *cautions_; }

  private:
    class Overlay;
    struct Tried {
        std::shared_ptr<const void> owner;  ///< of what the cases point into
        std::vector<WrongCase> cases;
        std::vector<Remedy> help;
    };
    void refresh();
    void show_tried(const Tried& tried, int before);
    void show_case();
    void show_bricks(int before);
    void show_brick();
    void set_nearby();
    Document& document_;
    QString port_;
    QComboBox* against_;
    QMenu* nearby_;
    QListWidget* list_;
    Sheet* drawing_;
    Overlay* overlay_;
    QLabel* text_;
    QLabel* remedy_;
    CautionBox* cautions_;
    std::vector<WrongCase> cases_;
    std::vector<BrickCase> bricks_;  // shown instead, when supplies are tried
    int asked_ = 0;
    std::shared_ptr<const void> ways_of_;  // what the cases point into
    Latest<Tried> trying_{this};
    std::optional<Connector> socket_, plug_;  // what is drawn
    Port socket_port_, plug_port_;
};

}  // namespace grayrelic::app
