// SPDX-License-Identifier: GPL-3.0-or-later
// Board: is this the board I meant, and can it be made?
#pragma once

#include "app/shell/stage_entry.hpp"
#include "app/shell/tabbed_page.hpp"
#include "app/stages/board/against_view.hpp"
#include "app/stages/board/files_view.hpp"
#include "app/stages/board/fit_view.hpp"
#include "app/stages/board/making_view.hpp"
#include "app/stages/board/order_view.hpp"
#include "app/stages/board/stack_view.hpp"

namespace grayrelic::app {

class BoardPage : public TabbedPage {
    Q_OBJECT
  public:
    explicit BoardPage(const StageContext& context);
    QString sentence() const override;
    QString detail() const override;
    QString rail_line() const override;
    bool has_content() const override;
    void show_place(const FindingPlace& place) override;
    QList<FileKind> file_kinds() const override;
    Claim claim(const QFileInfo& file) const override;
    void take(const QString& path) override;
    [[nodiscard]] FabFilesView& files_view() { return *files_view_; }
    [[nodiscard]] FabAgainstView& against_view() { return *against_view_; }
    [[nodiscard]] FabMakingView& making_view() { return *making_view_; }
    [[nodiscard]] FitView& fit_view() { return *fit_view_; }
    [[nodiscard]] OrderView& order_view() { return *order_view_; }
    [[nodiscard]] StackView& stack_view() { return *stack_view_; }
    /// Where a template is written; replaced by tests.
    std::function<QString()> ask_template;
    [[nodiscard]] ChoiceBox& boards() { return *boards_; }
    /// Where a folder is looked for; replaced by tests.
    std::function<QString()> ask_folder, ask_zip;

  protected:
    void refresh_page() override;

  private:
    void bring(const QString& path);
    void take_outline(const QFileInfo& file);
    void take_pads(const QString& path);
    void take_placements(const QString& path, const std::string& text);
    void make_empty();
    void show_chosen();
    void write_template();
    [[nodiscard]] std::string need_board();
    [[nodiscard]] std::string chosen() const;
    Document& document_;
    FileFlow& files_;
    Sheet* empty_;
    ChoiceBox* boards_;
    FabFilesView* files_view_;
    FabAgainstView* against_view_;
    FabMakingView* making_view_;
    FitView* fit_view_;
    OrderView* order_view_;
    StackView* stack_view_;
};

}  // namespace grayrelic::app
