// SPDX-License-Identifier: GPL-3.0-or-later
// Port: what is this connector, and who drives each pin?
#pragma once

#include <QComboBox>

#include "app/shell/action_registry.hpp"
#include "app/shell/document.hpp"
#include "app/shell/stage_page.hpp"
#include "app/stages/port/connector_view.hpp"
#include "app/stages/port/pin_editor.hpp"
#include "app/widgets/sheet.hpp"

namespace grayrelic::app {

class PinList;
class PinTraffic;

class PortPage : public StagePage {
    Q_OBJECT
  public:
    explicit PortPage(Document& document, QWidget* parent = nullptr);
    QString sentence() const override;
    QString detail() const override;
    QString rail_line() const override;
    bool has_content() const override;
    QList<QWidget*> header_widgets() override;
    void show_place(const FindingPlace& place) override;
    void describe_keys(ActionRegistry& actions) const;

    [[nodiscard]] ConnectorView& connector() { return *connector_; }
    [[nodiscard]] PinEditor& editor() { return *editor_; }
    [[nodiscard]] PinTraffic& traffic() { return *traffic_; }
    [[nodiscard]] QComboBox& viewpoint() { return *viewpoint_; }

  private:
    void refresh();
    void select_pin(const QString& number);
    void add_port();
    [[nodiscard]] const Port* port() const;

    Document& document_;
    QWidget* empty_;
    QPushButton* describe_;
    QWidget* filled_;
    Sheet* face_;
    ConnectorView* connector_;
    QComboBox* viewpoint_;
    Sheet* facts_;
    PinEditor* editor_;
    Sheet* list_sheet_;
    PinList* list_;
    PinTraffic* traffic_;
    QString pin_;
};

}  // namespace grayrelic::app
