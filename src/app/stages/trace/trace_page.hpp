// SPDX-License-Identifier: GPL-3.0-or-later
// Trace: what is on the old board? Five views: probing with the ledger, the board in its scans, the netlist
// it is held against, the circuit that follows, and the parts.
#pragma once

#include "app/shell/stage_entry.hpp"
#include "app/shell/tabbed_page.hpp"
#include "app/stages/trace/board_view.hpp"
#include "app/stages/trace/circuit_view.hpp"
#include "app/stages/trace/netlist_view.hpp"
#include "app/stages/trace/parts_view.hpp"
#include "app/stages/trace/probe_view.hpp"

namespace grayrelic::app {

class TracePage : public TabbedPage {
    Q_OBJECT
  public:
    explicit TracePage(const StageContext& context);
    QString sentence() const override;
    QString detail() const override;
    QString rail_line() const override;
    bool has_content() const override;
    void show_place(const FindingPlace& place) override;
    void begin() override;
    QList<FileKind> file_kinds() const override;
    Claim claim(const QFileInfo& file) const override;
    void take(const QString& path) override;

    void add_scan(const QString& path);
    /// A ledger or a netlist, told apart by its headings.
    void take_table(const std::string& text, const QString& name);
    [[nodiscard]] ProbeView& probe_view() { return *probe_; }
    [[nodiscard]] BoardView& board_view() { return *board_; }
    [[nodiscard]] NetlistView& netlist_view() { return *netlist_; }
    [[nodiscard]] CircuitView& circuit_view() { return *circuit_; }
    [[nodiscard]] PartsView& parts_view() { return *parts_; }

    /// Replaced by tests; empty when the person changed their mind.
    std::function<QString(const QString& title, const QString& kinds)> ask_open;
    std::function<QString(const QString& title, const QString& name, const QString& kinds)> ask_save;

  protected:
    void refresh_page() override;
    void view_changed() override;
    void note_mouse(ActionRegistry& actions) const override;

  private:
    void add_views();
    void connect_files();
    void load(const QString& title);
    void read_table(const QString& path);
    void write(const QString& title, const QString& name, const QString& kinds,
               const std::function<QString(const QString&)>& how);
    Document& document_;
    QPushButton* example_;
    ProbeView* probe_;
    BoardView* board_;
    NetlistView* netlist_;
    CircuitView* circuit_;
    PartsView* parts_;
};

}  // namespace grayrelic::app
