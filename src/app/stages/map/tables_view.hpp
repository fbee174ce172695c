// SPDX-License-Identifier: GPL-3.0-or-later
// The map as tables for firmware: C, JSON, CSV and a text of one's own; an edited copy held against the
// dossier.
#pragma once

#include <QPlainTextEdit>
#include <QPushButton>
#include <QTimer>
#include <QWidget>

#include <functional>

#include "app/shell/document.hpp"
#include "app/widgets/choice_box.hpp"
#include "app/widgets/fact_table.hpp"
#include "app/widgets/sheet.hpp"
#include "core/input/map_table.hpp"

namespace grayrelic::app {

class TablesView : public QWidget {
    Q_OBJECT
  public:
    explicit TablesView(Document& document, QWidget* parent = nullptr);
    void refresh();
    /// Holds an edited table against the dossier; a message.
    [[nodiscard]] QString take_file(const std::string& content, const QString& name);
    [[nodiscard]] QString write_to(const QString& path);
    [[nodiscard]] ChoiceBox& kind() { return *kind_; }
    [[nodiscard]] QPlainTextEdit& text() { return *text_; }
    [[nodiscard]] FactTable& changes() { return *changes_; }
    [[nodiscard]] QPushButton& take() { return *take_; }
    [[nodiscard]] QString says() const { return sheet_->about(); }
    std::function<QString()> ask_file;  ///< where it is written; replaced by tests

  protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

  private:
    [[nodiscard]] QString kind_now() const { return kind_->currentData().toString(); }
    [[nodiscard]] Result<std::string> made() const;
    [[nodiscard]] MapTable table() const;
    void commit_form();
    void fill_text();
    void fill_changes();
    Document& document_;
    Sheet *sheet_, *changes_sheet_;
    ChoiceBox* kind_;
    QPushButton *write_, *take_;
    QPlainTextEdit* text_;
    FactTable* changes_;
    QTimer pause_;
    QString shown_, edited_name_, told_;
    std::vector<MapEntry> edited_;
};

}  // namespace grayrelic::app
