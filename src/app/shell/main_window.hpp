// SPDX-License-Identifier: GPL-3.0-or-later
// The shell: rail on the left, the stage's page under its header, findings on the right. It connects; it
// computes nothing and touches no file.
#pragma once

#include <QLabel>
#include <QMainWindow>
#include <QProgressBar>
#include <QPushButton>
#include <QStackedWidget>

#include "app/shell/action_registry.hpp"
#include "app/shell/document.hpp"
#include "app/shell/file_flow.hpp"
#include "app/shell/findings_panel.hpp"
#include "app/shell/rail.hpp"
#include "app/shell/stage_page.hpp"

class QHBoxLayout;
class QMenu;

namespace grayrelic::app {

class ListenPage;
class PortPage;
class TimingPage;
class TracePage;

class MainWindow : public QMainWindow {
    Q_OBJECT
  public:
    /// `demo_folder` holds the shipped dossiers; the empty window offers the first.
    explicit MainWindow(const QString& demo_folder, QWidget* parent = nullptr);
    ~MainWindow() override;

    [[nodiscard]] Document& document() { return document_; }
    [[nodiscard]] FileFlow& files() { return *files_; }
    [[nodiscard]] ActionRegistry& actions() { return actions_; }
    [[nodiscard]] Rail& rail() { return *rail_; }
    [[nodiscard]] FindingsPanel& findings() { return *findings_; }
    [[nodiscard]] PortPage& port_page() { return *port_; }
    [[nodiscard]] ListenPage& listen_page() { return *listen_; }
    [[nodiscard]] TimingPage& timing_page() { return *timing_; }
    [[nodiscard]] TracePage& trace_page() { return *trace_; }
    void show_stage(int index);
    [[nodiscard]] int stage() const { return stack_->currentIndex(); }
    void set_dark(bool dark);
    [[nodiscard]] QString demo_path() const;

  protected:
    void closeEvent(QCloseEvent* event) override;
    void dragEnterEvent(QDragEnterEvent* event) override;
    void dropEvent(QDropEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;

  private:
    void build_actions();
    void build_menus();
    void refresh();
    void refresh_header();
    void refresh_notice();
    void open_finding(const Finding& finding);

    QString demo_folder_;
    Document document_;
    ActionRegistry actions_;
    FileFlow* files_;
    Rail* rail_;
    QStackedWidget* stack_;
    FindingsPanel* findings_;
    PortPage* port_;
    ListenPage* listen_;
    TimingPage* timing_;
    TracePage* trace_;
    QList<StagePage*> pages_;
    QLabel* sentence_;
    QLabel* detail_;
    QLabel* notice_;
    QString journal_trouble_;
    QHBoxLayout* header_widgets_;
    QWidget* busy_;
    QProgressBar* progress_;
    QMenu* recent_menu_ = nullptr;
};

}  // namespace grayrelic::app
