// SPDX-License-Identifier: GPL-3.0-or-later
// Log: trials, what works with what, revisions, units and images, money, what is published, and where
// everything is.
#pragma once

#include "app/shell/stage_entry.hpp"
#include "app/shell/tabbed_page.hpp"
#include "app/stages/log/changes_view.hpp"
#include "app/stages/log/cover_view.hpp"
#include "app/stages/log/find_view.hpp"
#include "app/stages/log/money_view.hpp"
#include "app/stages/log/publish_view.hpp"
#include "app/stages/log/trials_view.hpp"
#include "app/stages/log/units_log_view.hpp"

namespace grayrelic::app {

class LogPage : public TabbedPage {
    Q_OBJECT
  public:
    explicit LogPage(const StageContext& context);
    QString sentence() const override;
    QString detail() const override;
    QString rail_line() const override;
    bool has_content() const override;
    void show_place(const FindingPlace& place) override;
    QList<FileKind> file_kinds() const override;
    Claim claim(const QFileInfo& file) const override;
    void take(const QString& path) override;
    /// The views of an empty log, the field for a trial first.
    void begin_trials();
    [[nodiscard]] TrialsView& trials() { return *trials_; }
    [[nodiscard]] CoverView& cover() { return *cover_; }
    [[nodiscard]] ChangesView& changes() { return *changes_; }
    [[nodiscard]] UnitsLogView& units() { return *units_; }
    [[nodiscard]] MoneyView& money() { return *money_; }
    [[nodiscard]] PublishView& publish() { return *publish_; }
    [[nodiscard]] FindView& find() { return *find_; }

  protected:
    void refresh_page() override;

  private:
    Document& document_;
    TrialsView* trials_;
    CoverView* cover_;
    ChangesView* changes_;
    UnitsLogView* units_;
    MoneyView* money_;
    PublishView* publish_;
    FindView* find_;
    Sheet* empty_;
    std::shared_ptr<const void> started_;  ///< the dossier whose empty log is shown
};

}  // namespace grayrelic::app
