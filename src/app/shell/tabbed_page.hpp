// SPDX-License-Identifier: GPL-3.0-or-later
// A page of several views, one in front: tabs with Alt+1, Alt+2 and so on, room for widgets beside the tabs,
// a line of message below them, and instead of all that an empty sheet while there is nothing to show.
#pragma once

#include <QHBoxLayout>
#include <QLabel>
#include <QStackedWidget>
#include <QTabBar>

#include <functional>

#include "app/shell/stage_page.hpp"

namespace grayrelic::app {

class TabbedPage : public StagePage {
    Q_OBJECT
  public:
    QList<StageView> views() const override;
    QString view() const override;
    void show_view(const QString& id) override;
    void begin() override { tabs_->setFocus(); }
    [[nodiscard]] QString message() const { return message_->text(); }
    [[nodiscard]] QTabBar& tabs() { return *tabs_; }

  protected:
    TabbedPage(Stage stage, Document& document, unsigned rests, QWidget* parent = nullptr);
    /// `refresh` shows the view anew; it is called only while the view is seen, when what it `rests` on (a
    /// set of Rests) has changed. `scrolls`: the view is at least that high, and scrolls in a lower window.
    void add_view(StageView says, QWidget* widget, unsigned rests, std::function<void()> refresh,
                  int scrolls_under = 0);
    void add_beside_tabs(QWidget* widget);
    void add_above_tabs(QWidget* widget);
    /// Stands in the place of the views while `show_empty(true)`.
    void set_empty(QWidget* sheet);
    void show_empty(bool empty);
    void tell(const QString& text);  ///< a line of message; empty takes it away
    void refresh_view() override;
    unsigned view_rests() const override;
    virtual void view_changed() {}  ///< another view has come to the front

  private:
    struct View {
        StageView says;
        unsigned rests;
        std::function<void()> refresh;
    };
    QList<View> list_;
    QWidget* filled_;
    QWidget* empty_ = nullptr;
    QTabBar* tabs_;
    QHBoxLayout* beside_;
    QLabel* message_;
    QStackedWidget* stack_;
};

}  // namespace grayrelic::app
