// SPDX-License-Identifier: GPL-3.0-or-later
// Which of several things of one kind is shown: a box to choose from, beside it what adds one, renames the
// chosen one in place (F2 as well) and removes it. What the owner does not set has no button.
#pragma once

#include <QPushButton>
#include <QStackedLayout>
#include <QWidget>

#include <functional>
#include <optional>

#include "app/widgets/choice_box.hpp"
#include "app/widgets/field.hpp"

namespace grayrelic::app {

class ItemChooser : public QWidget {
    Q_OBJECT
  public:
    struct Item {
        QString id, name;
        QString label;  ///< as the box shows it; the name when empty
    };
    struct Words {
        QString kind;  ///< "Cable"
        QString add;   ///< on the button: "New cable"
    };
    explicit ItemChooser(const Words& words, QWidget* parent = nullptr);

    void on_add(std::function<void()> add, const QString& tip = {});
    /// Gives a message when the name can't be taken.
    void on_rename(std::function<std::optional<QString>(const QString& id, const QString& name)> rename);
    void on_remove(std::function<void(const QString& id)> remove, const QString& tip = {});
    /// A widget of the owner between the box and the buttons, or behind them.
    void add_button(QPushButton* button);

    /// Shows these, and the wanted one or, without it, the first.
    void show_items(const QList<Item>& items, const QString& wanted);
    [[nodiscard]] QString chosen() const;
    [[nodiscard]] QString name() const;  ///< of the chosen one
    [[nodiscard]] int count() const { return box_->count(); }
    void set_usable(bool on);  ///< while false nothing can be added either

    [[nodiscard]] ChoiceBox& box() { return *box_; }
    [[nodiscard]] Field& field() { return *field_; }
    [[nodiscard]] QPushButton& add() { return *add_; }
    [[nodiscard]] QPushButton& rename() { return *rename_; }
    [[nodiscard]] QPushButton& remove() { return *remove_; }

  Q_SIGNALS:
    void chosen_changed(const QString& id);

  protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

  private:
    void begin_rename();
    void end_rename();
    ChoiceBox* box_;
    Field* field_;
    QStackedLayout* place_;
    QPushButton *add_, *rename_, *remove_;
    std::function<std::optional<QString>(const QString&, const QString&)> take_name_;
    QList<Item> items_;
    QString renaming_;  ///< id of the one whose name is being typed
};

}  // namespace grayrelic::app
