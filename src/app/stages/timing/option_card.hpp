// SPDX-License-Identifier: GPL-3.0-or-later
// One way to build the reply: its numbers, edited in place with their evidence, and what follows from them.
#pragma once

#include <QComboBox>
#include <QGridLayout>
#include <QLabel>
#include <QPushButton>
#include <QWidget>

#include "app/shell/document.hpp"
#include "app/widgets/fact_row.hpp"

#include "core/timing/timing_analysis.hpp"

class QGridLayout;

namespace grayrelic::app {

class OptionCard : public QWidget {
    Q_OBJECT
  public:
    OptionCard(Document& document, const BuildOption& option, QWidget* parent = nullptr);
    void show_option(const BuildOption& option, const OptionAnalysis* result, bool chosen, bool selected);
    [[nodiscard]] const std::string& id() const { return id_; }
    [[nodiscard]] OptionKind kind() const { return kind_; }
    /// Which rows an option has: a card is built anew when they change.
    [[nodiscard]] static std::string rows_of(const BuildOption& option);
    [[nodiscard]] const std::string& rows() const { return rows_; }
    /// Adds a number that the kind may have and that is not there yet.
    void add_number(const QString& key);
    [[nodiscard]] Field* field(const QString& key) const { return fields_.value(key); }
    [[nodiscard]] QPushButton* choose_button() const { return choose_; }
    [[nodiscard]] QString verdict_text() const { return verdict_text_->text(); }

  Q_SIGNALS:
    void selected(const QString& id);

  protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void contextMenuEvent(QContextMenuEvent* event) override;

  private:
    void make_head(QVBoxLayout& layout);
    Field* add_row(QGridLayout& grid, int& row, const std::string& key, const std::string& name,
                   const std::string& about, bool evident);
    void add_numbers(QGridLayout& grid, int& row, bool measured);
    std::optional<QString> change(const QString& key, std::optional<Time> value,
                                  std::optional<EvidenceKind> evidence);
    std::optional<QString> change_number(const QString& key, const QString& text,
                                         std::optional<EvidenceKind> evidence);
    std::optional<QString> change_measured(const QString& key, const QString& text);
    void apply(const QString& what, BuildOption changed);
    void add_busy(QGridLayout& grid, int& row);
    void add_network(QGridLayout& grid, int& row);
    Document& document_;
    std::string id_;
    OptionKind kind_;
    std::string rows_;
    QComboBox* network_ = nullptr;
    Field* name_;
    QPushButton* choose_;
    QMap<QString, Field*> fields_;
    QMap<QString, EvidenceButton*> evidence_;
    QComboBox* busy_ = nullptr;
    QLabel* verdict_text_;
    QLabel* figures_;
    Verdict verdict_ = Verdict::unknown;
    bool selected_ = false;
};

}  // namespace grayrelic::app
