// SPDX-License-Identifier: GPL-3.0-or-later
// Wire: what goes between, and will it survive?
#pragma once

#include "app/shell/stage_entry.hpp"
#include "app/shell/tabbed_page.hpp"
#include "app/stages/wire/lines_view.hpp"
#include "app/stages/wire/netlist_text_view.hpp"
#include "app/stages/wire/packages_view.hpp"
#include "app/stages/wire/pins_view.hpp"
#include "app/stages/wire/rails_view.hpp"
#include "app/stages/wire/schools_view.hpp"
#include "app/stages/wire/settings_view.hpp"
#include "app/stages/wire/values_view.hpp"

namespace grayrelic::app {

class WirePage : public TabbedPage {
    Q_OBJECT
  public:
    explicit WirePage(const StageContext& context);
    QString sentence() const override;
    QString detail() const override;
    QString rail_line() const override;
    bool has_content() const override;
    void show_place(const FindingPlace& place) override;
    [[nodiscard]] LinesView& lines_view() { return *lines_; }
    [[nodiscard]] NetlistTextView& netlist_view() { return *netlist_; }
    [[nodiscard]] ValuesView& values_view() { return *values_; }
    [[nodiscard]] PackagesView& packages_view() { return *packages_; }
    [[nodiscard]] RailsView& rails_view() { return *rails_; }
    [[nodiscard]] SettingsView& settings_view() { return *settings_; }
    [[nodiscard]] PinsView& pins_view() { return *pins_; }
    [[nodiscard]] SchoolsView& schools_view() { return *schools_; }

  protected:
    void refresh_page() override;

  private:
    Document& document_;
    Sheet* empty_;
    QPushButton *begin_, *begin_rails_;
    LinesView* lines_;
    NetlistTextView* netlist_;
    ValuesView* values_;
    PackagesView* packages_;
    RailsView* rails_;
    SettingsView* settings_;
    PinsView* pins_;
    SchoolsView* schools_;
};

}  // namespace grayrelic::app
