// SPDX-License-Identifier: GPL-3.0-or-later
// Plan: the job itself. What it is called and joins, its parts and orders, units, dimensions, the person's
// bench, and the cautions of all of it.
#pragma once

#include "app/shell/stage_entry.hpp"
#include "app/shell/tabbed_page.hpp"
#include "app/stages/plan/bench_view.hpp"
#include "app/stages/plan/calendar_view.hpp"
#include "app/stages/plan/cautions_view.hpp"
#include "app/stages/plan/dimensions_view.hpp"
#include "app/stages/plan/drawer_view.hpp"
#include "app/stages/plan/job_view.hpp"
#include "app/stages/plan/next_view.hpp"
#include "app/stages/plan/supply_view.hpp"
#include "app/stages/plan/units_view.hpp"
#include "app/stages/plan/ways_view.hpp"

namespace grayrelic::app {

class PlanPage : public TabbedPage {
    Q_OBJECT
  public:
    explicit PlanPage(const StageContext& context);
    QString sentence() const override;
    QString detail() const override;
    QString rail_line() const override;
    bool has_content() const override;
    void show_place(const FindingPlace& place) override;
    /// Its gates and questions hold them.
    bool wants_findings() const override { return false; }
    QList<FileKind> file_kinds() const override;
    Claim claim(const QFileInfo& file) const override;
    void take(const QString& path) override;

    /// Takes a machine's side from another dossier; a message when that can't be.
    [[nodiscard]] QString take_side_from(const QString& folder, const QString& port);
    [[nodiscard]] NextView& next() { return *next_; }
    [[nodiscard]] JobView& job() { return *job_; }
    [[nodiscard]] CalendarView& calendar() { return *calendar_; }
    [[nodiscard]] WaysView& ways() { return *ways_; }
    [[nodiscard]] DrawerView& drawer() { return *drawer_; }
    [[nodiscard]] JobOutlook& outlook() { return outlook_; }
    [[nodiscard]] SupplyView& supply() { return *supply_; }
    [[nodiscard]] UnitsView& units() { return *units_; }
    [[nodiscard]] DimensionsView& dimensions() { return *dimensions_; }
    [[nodiscard]] BenchView& bench() { return *bench_; }
    [[nodiscard]] CautionsView& cautions() { return *cautions_; }
    [[nodiscard]] Field* job_field(const QString& name) const;

    /// Replaced by tests; empty when the person changed their mind.
    std::function<QString(const QString& title)> ask_open;
    std::function<QString(const QString& title, const QString& name)> ask_save;
    std::function<QString()> ask_dossier;
    std::function<QString(const QStringList& ports)> ask_port;

  protected:
    void refresh_page() override;

  private:
    QWidget* make_job();
    void begin_kind(const QString& id);
    [[nodiscard]] bool is_planned() const;
    void add_views();
    void connect_files();
    void take_side_with_dialog();
    [[nodiscard]] Result<Dossier> load_other(const QString& folder);
    void write(const QString& path, const std::string& text);
    Document& document_;
    FileFlow& files_;
    mutable JobOutlook outlook_;  // worked out when it is first asked for
    JobSchedule* schedule_;
    QPushButton* example_;
    NextView* next_;
    JobView* job_;
    CalendarView* calendar_;
    WaysView* ways_;
    DrawerView* drawer_;
    Field *name_, *purpose_, *revision_, *relic_, *modern_, *boards_;
    SupplyView* supply_;
    UnitsView* units_;
    DimensionsView* dimensions_;
    BenchView* bench_;
    CautionsView* cautions_;
};

}  // namespace grayrelic::app
