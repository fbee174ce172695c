// SPDX-License-Identifier: GPL-3.0-or-later
// How a capture's file was understood, and the place to say it better: for tables their separator, columns
// and units over a preview of the rows; for packed samples their width, rate and order.
#pragma once

#include <QComboBox>
#include <QGridLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>

#include "app/shell/document.hpp"
#include "app/shell/latest.hpp"
#include "app/shell/unit_box.hpp"
#include "app/widgets/fact_table.hpp"
#include "app/widgets/sheet.hpp"
#include "core/capture/csv_preview.hpp"
#include "core/capture/import_options.hpp"
#include "core/listen/listen_analysis.hpp"

namespace grayrelic::app {

class FileView : public QWidget {
    Q_OBJECT
  public:
    explicit FileView(Document& document, QWidget* parent = nullptr);
    void show_capture(std::shared_ptr<const CaptureAnalysis> capture);
    /// The box or field of an import word (capture/import_options.hpp); null for unknown ones.
    [[nodiscard]] FactTable& signals_table() { return *signals_; }
    [[nodiscard]] QComboBox* box(const QString& word) const { return boxes_.value(word); }
    [[nodiscard]] QLineEdit* field(const QString& word) const { return fields_.value(word); }
    [[nodiscard]] QPushButton& read_button() { return *read_; }
    [[nodiscard]] FactTable& rows() { return *rows_; }
    [[nodiscard]] QString state_text() const { return state_->text(); }

    [[nodiscard]] UnitBox& unit() { return *unit_; }

  private:
    QWidget* make_understood();
    QWidget* make_rows();
    QWidget* make_signals();
    void fill_signals();
    static QGridLayout* options_row(QVBoxLayout& options, QWidget*& into);
    static void place(QGridLayout* grid, QWidget* w, const QString& label, const QString& hint);
    void add_box(QGridLayout* grid, const char* word, const QString& label, const QString& hint,
                 const QList<std::pair<QString, QString>>& entries);
    void add_field(QGridLayout* grid, const char* word, const QString& label, const QString& hint,
                   const QString& sample);
    void make_table_options(QGridLayout* table);
    void make_raw_options(QGridLayout* raw);
    [[nodiscard]] ReadAs words() const;  ///< as they stand in the boxes and fields
    void fill_options(const ReadAs& words);
    void preview();
    void show_rows(const CsvPreview& p);
    void apply(const ReadAs& words);
    QStringList columns_;  ///< of the table
    std::filesystem::path columns_of_;
    Latest<Result<CsvPreview>> heading_{this}, reading_{this};
    Document& document_;
    std::shared_ptr<const CaptureAnalysis> capture_;
    std::filesystem::path path_;
    bool table_ = false;
    bool filling_ = false;
    QLabel *facts_, *state_;
    QWidget *options_, *table_options_, *raw_options_;
    QMap<QString, QComboBox*> boxes_;
    QMap<QString, QLineEdit*> fields_;
    UnitBox* unit_;
    QPushButton *read_, *reset_;
    Sheet* rows_sheet_;  ///< only tables have rows to show
    FactTable* rows_;
    Sheet* signals_sheet_;  ///< of what has no rows
    FactTable* signals_;
    QLabel* above_;
};

}  // namespace grayrelic::app
