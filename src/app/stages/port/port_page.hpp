// SPDX-License-Identifier: GPL-3.0-or-later
// Port: what is this connector, who drives each pin, and what happens when something goes in wrong? Four
// views of one port: its pins, what other sources say, the wrong ways to plug it, and its cables.
#pragma once

#include <QComboBox>

#include "app/shell/stage_entry.hpp"
#include "app/shell/tabbed_page.hpp"
#include "app/stages/port/cable_view.hpp"
#include "app/stages/port/connector_chooser.hpp"
#include "app/stages/port/connector_view.hpp"
#include "app/stages/port/pin_editor.hpp"
#include "app/stages/port/source_view.hpp"
#include "app/stages/port/tap_view.hpp"
#include "app/stages/port/wrong_ways_view.hpp"
#include "app/widgets/item_chooser.hpp"
#include "app/widgets/sheet.hpp"

namespace grayrelic::app {

class PinList;
class PinTraffic;
class PhotoStrip;

class PortPage : public TabbedPage {
    Q_OBJECT
  public:
    explicit PortPage(const StageContext& context);
    QString sentence() const override;
    QString detail() const override;
    QString rail_line() const override;
    bool has_content() const override;
    QList<QWidget*> header_widgets() override;
    void show_place(const FindingPlace& place) override;
    void begin() override;
    Claim claim(const QFileInfo& file) const override;
    void take(const QString& path) override;

    void show_port(const QString& id);
    /// The list of connectors, for a port to come.
    void begin_port();
    /// Takes a pin table: into the port where it contradicts nothing, else as a second source. Says what it
    /// did, or why nothing.
    void take_table(const std::string& text, const QString& name, bool as_source);
    bool write_table_to(const QString& path);
    void add_photo(const QString& path);

    [[nodiscard]] ConnectorView& connector() { return *connector_; }
    [[nodiscard]] PinEditor& editor() { return *editor_; }
    [[nodiscard]] PinTraffic& traffic() { return *traffic_; }
    [[nodiscard]] QComboBox& viewpoint() { return *viewpoint_; }
    [[nodiscard]] QComboBox& numbering() { return *numbering_; }
    [[nodiscard]] ItemChooser& ports() { return *which_; }
    [[nodiscard]] ConnectorChooser& chooser() { return *chooser_; }
    [[nodiscard]] SourceView& source_view() { return *sources_; }
    [[nodiscard]] WrongWaysView& wrong_ways_view() { return *wrong_; }
    [[nodiscard]] CableView& cable_view() { return *cables_; }
    [[nodiscard]] TapView& tap_view() { return *taps_; }

    /// Replaced by tests; empty when the person changed their mind.
    std::function<QString(const QString& title, const QString& kinds)> ask_open;
    std::function<QString(const QString& title, const QString& kinds)> ask_save;

  protected:
    void refresh_page() override;
    void note_mouse(ActionRegistry& actions) const override;

  private:
    [[nodiscard]] static QComboBox* make_combo(const QString& name, const QString& tip);
    QWidget* make_pins_view();
    [[nodiscard]] QWidget* make_chooser();
    void add_port_row();
    void refresh_pins();
    void refresh_all();  ///< another port, or the chooser
    void select_pin(const QString& number);
    void add_port(const QString& connector);
    void add_keys();
    void load_table(bool as_source);
    std::optional<QString> enter_pin(const QString& number, const QString& line);
    void change_port(const QString& what, const std::function<void(Port&)>& edit, const QString& merge = {});
    [[nodiscard]] const Port* port() const;

    Document& document_;
    Sheet* empty_;
    ConnectorChooser* chooser_;
    QPushButton *describe_, *use_, *keep_;
    Sheet* face_;
    ConnectorView* connector_;
    ItemChooser* which_;
    QComboBox *viewpoint_, *numbering_, *side_;
    Sheet* facts_;
    PinEditor* editor_;
    Sheet* list_sheet_;
    PinList* list_;
    PinTraffic* traffic_;
    PhotoStrip* photos_;
    SourceView* sources_;
    WrongWaysView* wrong_;
    CableView* cables_;
    TapView* taps_;
    QString pin_;
    QString port_;
    bool choosing_ = false;
};

}  // namespace grayrelic::app
