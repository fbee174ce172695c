// SPDX-License-Identifier: GPL-3.0-or-later
// The ribbons from the old connector to the modern side; below them the chosen line: each driver against each
// reader, what is wrong, and what would mend it, done with one click.
#pragma once

#include <QLabel>
#include <QPushButton>
#include <QScrollArea>
#include <QVBoxLayout>
#include <QWidget>

#include "app/shell/document.hpp"
#include "app/shell/latest.hpp"
#include "app/widgets/drawing_view.hpp"
#include "app/widgets/fact_table.hpp"
#include "app/widgets/field.hpp"
#include "app/widgets/sheet.hpp"
#include "core/wire/fixes.hpp"

namespace grayrelic::app {

class LinesView : public QWidget {
    Q_OBJECT
  public:
    explicit LinesView(Document& document, QWidget* parent = nullptr);
    void refresh();
    /// By a line's name.
    void select(const QString& line);
    void select_row(std::size_t row);
    [[nodiscard]] DrawingView& ribbons() { return *ribbons_; }
    [[nodiscard]] FactTable& links() { return *links_; }
    [[nodiscard]] QList<QPushButton*> fixes() const { return fix_buttons_; }
    [[nodiscard]] Field& way() { return *way_; }
    [[nodiscard]] QString says() const { return line_sheet_->about(); }
    [[nodiscard]] QString faults() const { return faults_->text(); }

  Q_SIGNALS:
    void begin_wanted();
    void example_wanted();

  protected:
    void keyPressEvent(QKeyEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;

  private:
    struct Offered {
        std::vector<WireFix> fixes;
    };
    QWidget* make_line();
    void draw();
    void fill_line();
    void ask_fixes();
    void show_fixes(const std::vector<WireFix>& fixes);
    void apply(const WireFix& fix);
    void cut_fixes();
    std::optional<QString> enter_way(const QString& text);
    Document& document_;
    Sheet *ribbon_sheet_, *line_sheet_;
    DrawingView* ribbons_;
    FactTable* links_;
    Field* way_;
    QLabel *faults_, *fix_note_;
    QScrollArea* fix_area_;
    QVBoxLayout* fix_column_;
    QList<QPushButton*> fix_buttons_;
    std::optional<std::size_t> row_;  ///< of the ribbons
    std::string line_;                ///< its name
    Latest<Offered> latest_{this};
};

}  // namespace grayrelic::app
