// SPDX-License-Identifier: GPL-3.0-or-later
// The circuit as text: what all options share on the left, the chosen option's circuit on the right; parts
// entered in one line, what is wrong with its line, and the netlist out.
#pragma once

#include <QLabel>
#include <QListWidget>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QTimer>
#include <QWidget>

#include <array>

#include "app/shell/document.hpp"
#include "app/widgets/field.hpp"
#include "app/widgets/sheet.hpp"

namespace grayrelic::app {

class NetlistTextView : public QWidget {
    Q_OBJECT
  public:
    explicit NetlistTextView(Document& document, QWidget* parent = nullptr);
    void refresh();
    /// Puts the caret on a line of the whole circuit.
    void show_line(long line);
    /// Begins the circuit from the ports.
    void begin();
    /// A message when it can't be taken.
    std::optional<QString> enter(const QString& text);
    void commit_texts();
    void give_to_trace();
    [[nodiscard]] QString write_to(const QString& path) const;
    [[nodiscard]] QPlainTextEdit& common() { return *sides_[0].text; }
    [[nodiscard]] QPlainTextEdit& option() { return *sides_[1].text; }
    [[nodiscard]] Field& entry() { return *entry_; }
    [[nodiscard]] QListWidget& problems() { return *problems_; }
    [[nodiscard]] QPushButton& begin_button() { return *begin_; }
    [[nodiscard]] QString advice() const { return advice_->text(); }
    /// Where the netlist goes; empty when the person changed their mind. Replaced by tests.
    std::function<QString()> ask_file;

  protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

  private:
    struct SideText {
        Sheet* sheet = nullptr;
        QPlainTextEdit* text = nullptr;
        std::string network;
        QString shown;
    };
    QWidget* make_side(std::size_t side, const QString& title);
    QWidget* make_entry();
    void show_side(std::size_t side, const std::string& network, const QString& title, const QString& about);
    void fill_problems();
    std::optional<QString> keep_part(const QString& text);
    void say_of_part(const QString& text);
    Document& document_;
    std::array<SideText, 2> sides_;
    Sheet* entry_sheet_;
    Field* entry_;
    QLabel* advice_;
    QListWidget* problems_;
    QPushButton *begin_, *out_, *trace_;
    QTimer pause_;
};

}  // namespace grayrelic::app
