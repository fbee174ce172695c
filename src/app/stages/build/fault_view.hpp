// SPDX-License-Identifier: GPL-3.0-or-later
// What a unit shows that it should not, which fault explains it, and what to measure next.
#pragma once

#include <QLabel>
#include <QPushButton>
#include <QWidget>

#include "app/shell/latest.hpp"
#include "app/stages/build/assembly_view.hpp"
#include "core/diagnose/diagnosis.hpp"

namespace grayrelic::app {

class FaultView : public QWidget {
    Q_OBJECT
  public:
    explicit FaultView(Document& document, QWidget* parent = nullptr);
    /// `unit` without an id: nothing is kept.
    void show_unit(const UnitBuild& unit);
    [[nodiscard]] FactTable& lines() { return *lines_; }
    [[nodiscard]] FactTable& suspects() { return *suspects_; }
    [[nodiscard]] Field& entry() { return *entry_; }
    [[nodiscard]] QString next_says() const { return next_->text(); }
    [[nodiscard]] QString says() const { return suspects_sheet_->about(); }
    /// Answers what is asked next, as the field takes it.
    [[nodiscard]] std::optional<QString> answer(const QString& text);
    /// The lines that nothing was said of follow as they should.
    void rest_is_well();
    /// The chosen suspect, or the likeliest, was the cause.
    void found();
    /// Today as YYYY-MM-DD; replaced by tests.
    std::function<QString()> today;

  private:
    struct Made {
        std::shared_ptr<const FaultBook> book;
    };
    void made(const Made& now);
    void think();
    void fill();
    void fill_lines();
    void fill_suspects();
    [[nodiscard]] bool is_sure() const;
    [[nodiscard]] QString verdict_words() const;
    [[nodiscard]] std::optional<QString> take(const QString& text);
    void keep(const QString& what, std::vector<std::string> seen);
    void forget();

    Document& document_;
    UnitBuild unit_;
    std::shared_ptr<const FaultBook> book_;
    Versions made_from_;
    std::string made_for_, problem_;
    Diagnosis diagnosis_;
    bool filling_ = false, working_ = false;
    Sheet *lines_sheet_, *suspects_sheet_;
    FactTable *lines_, *suspects_;
    QLabel *next_, *why_;
    Field* entry_;
    Latest<Made> latest_{this};
    Latest<Diagnosis> thinking_{this};
};

}  // namespace grayrelic::app
