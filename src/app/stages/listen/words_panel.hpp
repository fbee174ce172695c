// SPDX-License-Identifier: GPL-3.0-or-later
// The words of a capture as a list beside its waves: when, value, what it means, errors. Found, copied,
// saved.
#pragma once

#include <QAbstractTableModel>
#include <QComboBox>
#include <QLineEdit>
#include <QPushButton>
#include <QTableView>

#include "app/shell/latest.hpp"
#include "app/widgets/sheet.hpp"
#include "core/decode/word_table.hpp"
#include "core/listen/listen_analysis.hpp"

namespace grayrelic::app {

class WordModel : public QAbstractTableModel {
    Q_OBJECT
  public:
    enum Column { at, value, text, errors, columns };
    explicit WordModel(QObject* parent = nullptr) : QAbstractTableModel(parent) {}
    void show(std::shared_ptr<const WordTable> table);
    [[nodiscard]] const std::shared_ptr<const WordTable>& table() const { return table_; }
    [[nodiscard]] int rowCount(const QModelIndex& parent = {}) const override;
    [[nodiscard]] int columnCount(const QModelIndex&) const override { return columns; }
    [[nodiscard]] QVariant data(const QModelIndex& index, int role) const override;
    [[nodiscard]] QVariant headerData(int section, Qt::Orientation orientation, int role) const override;

  private:
    std::shared_ptr<const WordTable> table_;
};

class WordsPanel : public Sheet {
    Q_OBJECT
  public:
    explicit WordsPanel(QWidget* parent = nullptr);
    void show_capture(const std::shared_ptr<const CaptureAnalysis>& capture);
    /// Brings the words of this time into the list without choosing any.
    void follow(Time t);
    void copy();
    bool save_to(const QString& path);
    std::function<QString()> ask_file;
    [[nodiscard]] QTableView& list() { return *list_; }
    [[nodiscard]] QLineEdit& find_field() { return *find_; }
    [[nodiscard]] QComboBox& lane_box() { return *lane_; }
    [[nodiscard]] QPushButton& save_button() { return *save_; }

  Q_SIGNALS:
    void place_wanted(Span where);

  private:
    void make_foot();
    void show_lane();
    void find(bool forward);
    std::shared_ptr<const CaptureAnalysis> capture_;
    std::shared_ptr<const Decoding> shown_;
    QComboBox* lane_;
    WordModel* model_;
    QTableView* list_;
    QLineEdit* find_;
    QPushButton *copy_, *save_;
    struct Made {
        std::shared_ptr<const WordTable> table;
        long errors = 0;
    };
    Latest<Made> making_{this};
    Latest<std::optional<std::size_t>> finding_{this};
};

}  // namespace grayrelic::app
