// SPDX-License-Identifier: GPL-3.0-or-later
// Map: what does each old code become, and the other way round?
#pragma once

#include "app/shell/stage_entry.hpp"
#include "app/shell/tabbed_page.hpp"
#include "app/stages/map/coverage_view.hpp"
#include "app/stages/map/device_view.hpp"
#include "app/stages/map/matrix_view.hpp"
#include "app/stages/map/movement_view.hpp"
#include "app/stages/map/reports_view.hpp"
#include "app/stages/map/tables_view.hpp"

namespace grayrelic::app {

class MapPage : public TabbedPage {
    Q_OBJECT
  public:
    explicit MapPage(const StageContext& context);
    QString sentence() const override;
    QString detail() const override;
    QString rail_line() const override;
    bool has_content() const override;
    void show_place(const FindingPlace& place) override;
    QList<FileKind> file_kinds() const override;
    Claim claim(const QFileInfo& file) const override;
    void take(const QString& path) override;
    [[nodiscard]] DeviceView& device_view() { return *device_; }
    [[nodiscard]] CoverageView& coverage_view() { return *coverage_; }
    [[nodiscard]] ReportsView& reports_view() { return *reports_; }
    [[nodiscard]] MatrixView& matrix_view() { return *matrix_; }
    [[nodiscard]] MovementView& movement_view() { return *movement_; }
    [[nodiscard]] TablesView& tables_view() { return *tables_; }

  protected:
    void refresh_page() override;

  private:
    void show_key(const QString& id);
    void start();
    Document& document_;
    FileFlow& files_;
    Sheet* empty_;
    std::shared_ptr<const void> started_;  ///< the dossier in which the person began without a key yet
    DeviceView* device_;
    CoverageView* coverage_;
    ReportsView* reports_;
    MatrixView* matrix_;
    MovementView* movement_;
    TablesView* tables_;
};

}  // namespace grayrelic::app
