// SPDX-License-Identifier: GPL-3.0-or-later
// The button hunt: which capture was recorded while what was pressed; the difference names the bit, and one
// button gives the bits those names in every capture.
#pragma once

#include <QLabel>
#include <QPushButton>

#include <functional>

#include "app/shell/document.hpp"
#include "app/shell/latest.hpp"
#include "app/widgets/fact_table.hpp"
#include "app/widgets/field.hpp"
#include "app/widgets/sheet.hpp"
#include "core/listen/hunt_captures.hpp"

namespace grayrelic::app {

/// The bits of a word as cells: level at rest, who moves it, what it is called.
class BitRow : public QWidget {
    Q_OBJECT
  public:
    explicit BitRow(QWidget* parent = nullptr);
    void show_bits(const HuntResult& result, const std::vector<std::string>& names);
    [[nodiscard]] QSize sizeHint() const override { return {480, 96}; }

  protected:
    void paintEvent(QPaintEvent* event) override;

  private:
    HuntResult result_;
    std::vector<std::string> names_;
};

class HuntView : public QWidget {
    Q_OBJECT
  public:
    explicit HuntView(Document& document, QWidget* parent = nullptr);
    void refresh();
    [[nodiscard]] FactTable& takes() { return *takes_; }
    [[nodiscard]] QPushButton& name_button() { return *name_; }
    [[nodiscard]] Field& bit_names() { return *names_; }
    [[nodiscard]] QString verdict() const { return verdict_->text(); }
    [[nodiscard]] const HuntResult& result() const { return result_; }

  private:
    void fill_takes();
    void name_moment(const std::string& capture, std::size_t moment, const QString& text);
    void compute();
    void show_hunt(const CaptureHunt& found);
    void name_bits();
    void set_bit_names(
        const QString& what,
        const std::function<std::vector<std::string>(const std::vector<std::string>&)>& change);
    Document& document_;
    FactTable* takes_;
    QLabel* verdict_;
    QLabel* answers_;
    BitRow* bits_;
    Field* names_;
    QPushButton* name_;
    HuntResult result_;
    Pressed pressed_;
    std::set<std::string> said_;  ///< recordings that the person has spoken of
    Latest<CaptureHunt> hunting_{this};
};

}  // namespace grayrelic::app
