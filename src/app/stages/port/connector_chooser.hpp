// SPDX-License-Identifier: GPL-3.0-or-later
// Choosing a connector: a list that is narrowed by typing, size and pitch where they are free, and the face
// as it will be drawn.
#pragma once

#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QPushButton>
#include <QSpinBox>
#include <QWidget>

#include "app/stages/port/connector_view.hpp"
#include "core/library/data_library.hpp"

namespace grayrelic {
struct MeasuredFace;
}

namespace grayrelic::app {

class ConnectorChooser : public QWidget {
    Q_OBJECT
  public:
    explicit ConnectorChooser(const DataLibrary& library, QWidget* parent = nullptr);
    [[nodiscard]] QString chosen() const;  ///< the connector's id; empty for none
    void choose(const QString& file_id);
    [[nodiscard]] QLineEdit& filter() { return *filter_; }
    [[nodiscard]] QListWidget& list() { return *list_; }
    [[nodiscard]] QSpinBox& columns() { return *columns_; }

  Q_SIGNALS:
    void accepted(const QString& id);

  private:
    void fill();
    void fill_measured(const MeasuredFace& face, const QString& before);
    void show_chosen();
    [[nodiscard]] const ConnectorFile* file() const;
    const DataLibrary& library_;
    QLineEdit* filter_;
    QListWidget* list_;
    QSpinBox *rows_, *columns_, *key_;
    QComboBox* pitch_;
    QWidget* sizes_;
    QLabel* about_;
    ConnectorView* preview_;
};

}  // namespace grayrelic::app
