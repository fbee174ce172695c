// SPDX-License-Identifier: GPL-3.0-or-later
// Trace: what is on the old board? Five views: probing with the ledger, the board in its scans, the netlist
// it is held against, the circuit that follows, and the parts.
#pragma once

#include <QStackedWidget>
#include <QTabBar>

#include "app/shell/action_registry.hpp"
#include "app/shell/document.hpp"
#include "app/shell/stage_page.hpp"
#include "app/stages/trace/board_view.hpp"
#include "app/stages/trace/circuit_view.hpp"
#include "app/stages/trace/netlist_view.hpp"
#include "app/stages/trace/parts_view.hpp"
#include "app/stages/trace/probe_view.hpp"

namespace grayrelic::app {

class TracePage : public StagePage {
    Q_OBJECT
  public:
    explicit TracePage(Document& document, QWidget* parent = nullptr);
    QString sentence() const override;
    QString detail() const override;
    QString rail_line() const override;
    bool has_content() const override;
    void show_place(const FindingPlace& place) override;
    void describe_keys(ActionRegistry& actions) const;

    enum View { probe, board, netlist, circuit, parts };
    void show_view(View view);
    void add_scan(const QString& path);
    /// A ledger or a netlist, told apart by its headings.
    void take_table(const std::string& text, const QString& name);
    [[nodiscard]] ProbeView& probe_view() { return *probe_; }
    [[nodiscard]] BoardView& board_view() { return *board_; }
    [[nodiscard]] NetlistView& netlist_view() { return *netlist_; }
    [[nodiscard]] CircuitView& circuit_view() { return *circuit_; }
    [[nodiscard]] PartsView& parts_view() { return *parts_; }
    [[nodiscard]] QString message() const { return message_->text(); }

    /// Replaced by tests; empty when the person changed their mind.
    std::function<QString(const QString& title, const QString& kinds)> ask_open;
    std::function<QString(const QString& title, const QString& name, const QString& kinds)> ask_save;

  protected:
    void changeEvent(QEvent* event) override;

  private:
    void refresh();
    void refresh_view();
    void tell(const QString& text);
    void load(const QString& title);
    void write(const QString& title, const QString& name, const QString& kinds,
               const std::function<QString(const QString&)>& how);
    Document& document_;
    QTabBar* views_;
    QStackedWidget* stack_ = nullptr;
    QLabel* message_;
    QPushButton* example_;
    ProbeView* probe_;
    BoardView* board_;
    NetlistView* netlist_;
    CircuitView* circuit_;
    PartsView* parts_;
};

}  // namespace grayrelic::app
