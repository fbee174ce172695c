// SPDX-License-Identifier: GPL-3.0-or-later
// Beside the drawn device: the chosen key's facts, and what it could become, searched by words and dragged or
// taken over.
#pragma once

#include <QListWidget>
#include <QPushButton>
#include <QWidget>

#include "app/shell/document.hpp"
#include "app/widgets/choice_box.hpp"
#include "app/widgets/fact_row.hpp"
#include "app/widgets/field.hpp"
#include "app/widgets/sheet.hpp"
#include "core/input/meaning.hpp"

namespace grayrelic::app {

/// The list of meanings, from which one is dragged onto a key.
class MeaningList : public QListWidget {
    Q_OBJECT
  public:
    using QListWidget::QListWidget;

  protected:
    QMimeData* mimeData(const QList<QListWidgetItem*>& items) const override;
    QStringList mimeTypes() const override;
};

class KeyPanel : public QWidget {
    Q_OBJECT
  public:
    explicit KeyPanel(Document& document, QWidget* parent = nullptr);
    void show_key(const std::string& id);
    void begin_search();
    [[nodiscard]] Field& legend() { return *legend_; }
    [[nodiscard]] FactRow& code() { return *code_; }
    [[nodiscard]] Field& shifted() { return *shifted_; }
    [[nodiscard]] Field& meaning() { return *meaning_; }
    [[nodiscard]] Field& search() { return *search_; }
    [[nodiscard]] MeaningList& found() { return *found_; }
    [[nodiscard]] QString says() const { return says_->text(); }
    /// Gives the shown key this meaning; a message when it is none.
    std::optional<QString> assign(const QString& meaning);

  Q_SIGNALS:
    void assigned();

  private:
    void make_facts();
    void make_search();
    bool change(const QString& what, const std::function<void(MapKey&)>& how);
    std::optional<QString> place(const QString& text);
    [[nodiscard]] std::vector<Meaning> unreached() const;
    void fill_found(const QString& typed);
    [[nodiscard]] const MapKey* key() const;
    Document& document_;
    Sheet *facts_, *search_sheet_;
    Field *legend_, *release_, *shifted_, *place_, *meaning_, *search_;
    FactRow* code_;
    ChoiceBox *sends_, *kind_;
    QLabel* says_;
    QPushButton* take_;
    MeaningList* found_;
    std::string id_;
    QString proposal_;
};

}  // namespace grayrelic::app
