// SPDX-License-Identifier: GPL-3.0-or-later
// The card of a picked thing: a label and a line of text for each of its properties, edited in place.
#pragma once

#include <QGridLayout>
#include <QLabel>
#include <QWidget>

#include <functional>
#include <optional>
#include <vector>

#include "app/paint/theme.hpp"
#include "app/widgets/field.hpp"
#include "app/widgets/sheet.hpp"

namespace grayrelic::app {

/// A property of T as text, and back: a message when the text can't be taken.
template <class T>
struct CardLine {
    QString label, tip;
    std::function<QString(const T&)> show;
    std::function<std::optional<QString>(T&, const QString&)> take;
};

template <class T>
class CardFields {
  public:
    /// `change` is given the changed thing and what was changed.
    CardFields(QWidget* parent, std::vector<CardLine<T>> lines,
               std::function<void(const QString& what, T changed)> change)
        : lines_(std::move(lines)), change_(std::move(change)), box_(new QWidget(parent)) {
        auto* grid = new QGridLayout(box_);
        grid->setContentsMargins(0, 0, 0, 0);
        grid->setHorizontalSpacing(8);
        grid->setVerticalSpacing(4);
        for (std::size_t i = 0; i < lines_.size(); ++i) {
            auto* field = new Field;
            field->setAccessibleName(lines_[i].label);
            field->setToolTip(lines_[i].tip);
            field->commit = [this, i](const QString& text) -> std::optional<QString> {
                if (!shown_) return std::nullopt;
                T next = *shown_;
                if (auto problem = lines_[i].take(next, text.trimmed())) return problem;
                if (!(next == *shown_)) change_(lines_[i].label.toLower(), std::move(next));
                return std::nullopt;
            };
            auto* label = secondary_label(lines_[i].label);
            label->setToolTip(lines_[i].tip);
            label->setBuddy(field);
            grid->addWidget(label, static_cast<int>(i), 0);
            grid->addWidget(field, static_cast<int>(i), 1);
            fields_.push_back(field);
        }
        grid->setColumnStretch(1, 1);
    }
    void show(std::optional<T> thing) {
        shown_ = std::move(thing);
        box_->setEnabled(shown_.has_value());
        for (std::size_t i = 0; i < lines_.size(); ++i)
            fields_[i]->show_value(shown_ ? lines_[i].show(*shown_) : QString());
    }
    [[nodiscard]] QWidget* box() const { return box_; }
    [[nodiscard]] Field* field(const QString& label) const {
        for (std::size_t i = 0; i < lines_.size(); ++i)
            if (lines_[i].label == label) return fields_[i];
        return nullptr;
    }
    [[nodiscard]] const std::optional<T>& shown() const { return shown_; }

  private:
    std::vector<CardLine<T>> lines_;
    std::function<void(const QString&, T)> change_;
    QWidget* box_;
    std::vector<Field*> fields_;
    std::optional<T> shown_;
};

}  // namespace grayrelic::app
