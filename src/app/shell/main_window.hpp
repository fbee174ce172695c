// SPDX-License-Identifier: GPL-3.0-or-later
// The shell: rail on the left, the stage's page under its header, findings on the right. It connects; it
// computes nothing, touches no file, and knows no stage but those it is given.
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
#include "app/shell/stage_entry.hpp"
#include "core/base/long_work.hpp"

class QHBoxLayout;
class QMenu;
class QTimer;

namespace grayrelic::app {

class MainWindow : public QMainWindow {
    Q_OBJECT
  public:
    /// `demo_folder` holds the shipped dossiers; the empty window offers the first.
    MainWindow(const QString& demo_folder, const std::vector<StageEntry>& stages, QWidget* parent = nullptr);
    ~MainWindow() override;

    [[nodiscard]] Document& document() { return document_; }
    [[nodiscard]] FileFlow& files() { return *files_; }
    [[nodiscard]] ActionRegistry& actions() { return actions_; }
    [[nodiscard]] Rail& rail() { return *rail_; }
    [[nodiscard]] FindingsPanel& findings() { return *findings_; }
    [[nodiscard]] const QList<StagePage*>& pages() const { return pages_; }
    /// Null for a stage that is not there.
    [[nodiscard]] StagePage* page(Stage stage) const;
    /// The page of this type; there must be one.
    template <class Page>
    [[nodiscard]] Page& page() const {
        for (auto* p : pages_)
            if (auto* found = dynamic_cast<Page*>(p)) return *found;
        qFatal("no such page");
    }
    void show_stage(Stage stage);
    [[nodiscard]] Stage stage() const;
    void set_dark(bool dark);
    [[nodiscard]] QString demo_path(const QString& name = {}) const;
    void restore_place();  ///< size and stage as the person left them

  protected:
    void closeEvent(QCloseEvent* event) override;
    void dragEnterEvent(QDragEnterEvent* event) override;
    void dropEvent(QDropEvent* event) override;
    void changeEvent(QEvent* e) override;
    void resizeEvent(QResizeEvent* event) override;

  private:
    [[nodiscard]] QWidget* make_header();
    void add_pages(const std::vector<StageEntry>& stages);
    void add_progress();
    void connect_document();
    void build_actions();
    void build_menus();
    void refresh();
    void refresh_header();
    void refresh_notice();
    void open_place(Stage stage, const FindingPlace& place);
    void give_file(const QString& path);
    [[nodiscard]] StagePage& current() const;

    const PaintingThread painting_;  ///< here nothing may take long
    QString demo_folder_;
    Document document_;
    ActionRegistry actions_;
    FileFlow* files_;
    Rail* rail_;
    QStackedWidget* stack_;
    FindingsPanel* findings_;
    QList<StagePage*> pages_;  ///< in the stages' order
    QLabel* sentence_;
    QLabel* detail_;
    QLabel* notice_;
    QString journal_trouble_;
    QHBoxLayout* head_;
    QHBoxLayout* header_widgets_;
    QWidget* busy_;
    QProgressBar* progress_;
    QMenu* recent_menu_ = nullptr;
    QTimer* soon_;  ///< a refresh that several reasons ask for is made once
};

}  // namespace grayrelic::app
